/**
 * Checks and baselines of ports, at most one of them at a time per port, and what is recorded when one ends or files
 * are saved.
 */
import { availableParallelism } from "node:os";
import path from "node:path";
import type { PortEvent } from "@/api/port-event";
import { isSideTwinError, SideTwinError, toErrorRecord } from "@/core/errors";
import { isSomebodyWaiting } from "@/engine/pace";
import { giveMemoryBack } from "@/engine/process/own-memory";
import { LiveBaseline } from "@/service/check/live-baseline";
import { LiveCheck } from "@/service/check/live-check";
import { answersFolderIn } from "@/service/check/run-check";
import { type CheckScope, selectCases } from "@/service/check/select-cases";
import { type PortReading, toStored } from "@/service/reading/reading";
import type { OpenPorts } from "@/service/server/open-ports";
import type { PortNews } from "@/service/server/port-news";
import { partFamilies } from "@/service/tracing/part-families";
import { effortOf, moduleSizes } from "@/service/views/effort";
import { moduleViews, portCard } from "@/service/views/port-views";
import { saveEffort, saveTouches } from "@/store/effort";
import { saveReading } from "@/store/ports";

/** How long an edit waits for a check that runs, and how often it looks. */
const IDLE_WAIT_MS = 5000;
const IDLE_LOOK_MS = 50;
/** The same check asked for twice within this time is one. */
const SAME_CHECK_MS = 1500;
const TIDY_AFTER_MS = 5000;
const LARGE_HEAP = 300 * 1024 * 1024;

/** Options of a check: `fresh` uses no cached answer, `resume` names an interrupted check. */
type StartOptions = CheckScope & { readonly fresh?: boolean; readonly resume?: string; readonly patient?: boolean };

/** Checks and baselines of ports, at most one of them at a time per port, and what is recorded when one ends or files are saved. */
export class PortRuns {
  /** The check or baseline that runs, by port: one at a time. */
  private readonly running = new Map<string, LiveCheck | LiveBaseline>();
  private readonly starting = new Set<string>();
  /** Port → stops finding where its cases part inside. */
  private readonly parting = new Map<string, AbortController>();
  /** Port → the last check that was asked for. */
  private readonly started = new Map<string, { readonly what: string; readonly at: number }>();
  private tidying: NodeJS.Timeout | null = null;
  /** Work that is still running or being recorded. */
  private readonly unfinished = new Set<Promise<void>>();

  constructor(
    private readonly ports: OpenPorts,
    private readonly news: PortNews,
  ) {}

  isRunning(id: string): boolean {
    return this.running.has(id);
  }

  /** Waits a while for a check that runs, such as that of one case; then as `requireIdle`. */
  async becomeIdle(id: string): Promise<void> {
    const until = performance.now() + IDLE_WAIT_MS;
    while ((this.running.has(id) || this.starting.has(id)) && performance.now() < until)
      await new Promise((resolve) => setTimeout(resolve, IDLE_LOOK_MS));
    this.requireIdle(id);
  }

  /** Starts a check and returns at once; the same one that was only just started goes on. Throws SideTwinError `already-running`, or what keeps the port from being read. */
  async startCheck(id: string, { fresh = false, resume, patient = false, ...scope }: StartOptions): Promise<void> {
    const what = JSON.stringify([scope.module, scope.twin, scope.caseId, fresh, resume]);
    const before = this.started.get(id);
    // A save and a key at the same moment want one check, not a refusal.
    const isSame = before?.what === what && performance.now() - before.at < SAME_CHECK_MS;
    if (isSame && (this.running.has(id) || this.starting.has(id))) return;
    // One case, just added or changed, takes its turn.
    if (scope.caseId === undefined && !patient) this.requireIdle(id);
    else await this.becomeIdle(id);
    this.started.set(id, { what, at: performance.now() });
    return this.start(id, (reading) => {
      selectCases(reading.open, reading.cases, scope);
      return new LiveCheck(this.ports.store, {
        portId: id,
        reading,
        reread: () => this.ports.readingOf(id),
        ...scope,
        fresh,
        part: partFamilies,
        ...(resume ? { resume } : {}),
        answersFolder: answersFolderIn(this.ports.store.folder),
        jobs: Math.max(1, Math.floor(availableParallelism() / 2)),
        emit: this.emitter(id),
      });
    });
  }

  /** Runs the original by itself, and returns at once. Throws as `startCheck` does. */
  startBaseline(id: string): Promise<void> {
    return this.start(
      id,
      (reading) => new LiveBaseline(this.ports.store, { portId: id, reading, emit: this.emitter(id) }),
    );
  }

  /** Throws SideTwinError `already-running`, for what ends in a check: nothing is written that then is not checked. */
  requireIdle(id: string): void {
    if (!this.running.has(id) && !this.starting.has(id)) return;
    throw new SideTwinError({
      code: "already-running",
      what: "A check of this port is running",
      next: "Wait for it or stop it.",
    });
  }

  private async start(id: string, make: (reading: PortReading) => LiveCheck | LiveBaseline): Promise<void> {
    this.requireIdle(id);
    // Taken before the first wait: two that ask at the same moment must not both get it.
    this.starting.add(id);
    try {
      const reading = await this.ports.readingOf(id);
      this.launch(id, make(reading), reading);
    } finally {
      this.starting.delete(id);
    }
  }

  private emitter(id: string): (event: PortEvent) => void {
    return (event) => {
      // Subscribers may start the next one at once.
      if (event.type === "ended" || event.type === "baseline-ended") this.running.delete(id);
      this.news.emit(id, event);
    };
  }

  private launch(id: string, work: LiveCheck | LiveBaseline, reading: PortReading): void {
    this.parting.get(id)?.abort();
    this.running.set(id, work);
    const ended = (async () => {
      await saveReading(this.ports.store, id, toStored(reading));
      await work.run();
      await this.remember(id);
      if (work instanceof LiveCheck) await this.noteEffort(id);
      this.news.emit(id, { type: "files", paths: [] });
      if (work instanceof LiveCheck) await this.part(id, work);
    })();
    this.keepUp(ended);
    const tidy = () => this.tidySoon();
    ended.then(tidy, tidy);
    ended.catch((thrown: unknown) => {
      const error = this.ports.store.explain(thrown);
      // Screens would wait forever for a check that ended without an event.
      if (this.running.delete(id)) {
        const problem = toErrorRecord(error);
        this.news.emit(
          id,
          work instanceof LiveCheck
            ? { type: "ended", check: 0, state: "failed", problem, changes: null }
            : { type: "baseline-ended" },
        );
      }
      // The port was removed or its folders are gone; the next request reports it.
      if (isSideTwinError(error)) return;
      process.stderr.write(`side-twin: a check failed: ${error instanceof Error ? error.stack : error}\n`);
    });
  }

  /** After a check, until the next one begins. */
  private async part(id: string, work: LiveCheck): Promise<void> {
    if (this.running.has(id)) return;
    const stopper = new AbortController();
    this.parting.set(id, stopper);
    try {
      await work.part(stopper.signal);
    } finally {
      if (this.parting.get(id) === stopper) this.parting.delete(id);
    }
  }

  /** A large check leaves a heap several times its live data; return it when idle. */
  private tidySoon(): void {
    if (this.tidying) clearTimeout(this.tidying);
    this.tidying = setTimeout(() => {
      if (this.running.size > 0 || isSomebodyWaiting()) this.tidySoon();
      else if (process.memoryUsage().heapTotal > LARGE_HEAP) giveMemoryBack();
    }, TIDY_AFTER_MS);
    this.tidying.unref();
  }

  stop(id: string): void {
    this.parting.get(id)?.abort();
    this.running.get(id)?.stop();
  }

  /** Records pairs first seen and work done when files are saved. */
  async filesChanged(id: string, paths: readonly string[]): Promise<void> {
    const noted = Promise.all([this.remember(id), this.noteTouches(id, paths)]).then(() => undefined);
    this.keepUp(noted);
    await noted;
  }

  /** Records sections newly paired, proven or followed, and notifies screens of changes. */
  async remember(id: string): Promise<void> {
    const row = await this.ports.row(id);
    const { open } = await this.ports.read(row);
    const changed: boolean[] = [];
    for (const { name } of open.twins) changed.push(await this.ports.drift.remember(await this.ports.facts(row, name)));
    if (changed.includes(true)) this.news.emit(id, { type: "files", paths: [] });
  }

  /** Records the effort left after a check. */
  private async noteEffort(id: string): Promise<void> {
    const row = await this.ports.row(id);
    const { open } = await this.ports.read(row);
    const survey = await this.ports.surveyOf(id, open);
    for (const { name } of open.twins) {
      const facts = await this.ports.facts(row, name);
      const modules = moduleViews(facts);
      const sizes = moduleSizes(facts, survey);
      const { left, total } = effortOf(modules, { sizes, touches: new Map(), history: [] });
      const { lines, provenLines } = portCard(facts, modules);
      await saveEffort(this.ports.store, id, name, { at: new Date().toISOString(), left, total, lines, provenLines });
    }
  }

  /** Notes which modules are worked on: those whose twin's files were saved. */
  private async noteTouches(id: string, paths: readonly string[]): Promise<void> {
    const { open, modules } = await this.ports.readingOf(id);
    const saved = new Set(paths);
    const touched = open.twins.flatMap(({ name, folder }) =>
      modules
        .filter((module) => (module.twins[name] ?? []).some((file) => saved.has(path.join(folder, file))))
        .map((module) => ({ twin: name, module: module.name })),
    );
    if (touched.length > 0) await saveTouches(this.ports.store, id, { at: new Date(), modules: touched });
  }

  /** Stops all of them; resolves when everything seen so far is recorded. */
  async close(): Promise<void> {
    for (const work of this.running.values()) work.stop();
    for (const stopper of this.parting.values()) stopper.abort();
    await Promise.allSettled([...this.unfinished]);
  }

  private keepUp(work: Promise<void>): void {
    this.unfinished.add(work);
    const forget = () => this.unfinished.delete(work);
    work.then(forget, forget);
  }
}
