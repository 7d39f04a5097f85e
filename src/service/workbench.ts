/**
 * What a person can ask of a running Side Twin: its ports, what is known of them, checks, and news as it happens.
 * One instance a server; route handlers find it through `currentWorkbench`.
 */
import { createHash } from "node:crypto";
import { availableParallelism } from "node:os";
import path from "node:path";
import type { Draft } from "@/core/bring-in/draft";
import { filterCases } from "@/core/cases/filter";
import { SideTwinError, toErrorRecord } from "@/core/errors";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Way } from "@/core/formats/ways";
import type { BaselineView } from "@/core/progress/baseline";
import type {
  BenchFile,
  BenchView,
  CasesView,
  CaseView,
  ChangesView,
  FolderView,
  ModuleDetail,
  OrderView,
  PortCard,
  PortEvent,
  PortListing,
  ShrinkView,
  SurveyView,
  UsesView,
} from "@/core/progress/views";
import { packageRoot } from "@/engine/files/package-root";
import { describeProtections } from "@/engine/sandbox/sandbox";
import { colourSource } from "@/engine/source/parse";
import { type Watcher, watchFolders } from "@/engine/watching/watch";
import { agreeToCase } from "@/service/agree-to-case";
import { removeAllowance, tightenAllowance } from "@/service/allowances";
import { BringIn } from "@/service/bring-in/bring-in";
import { FolderBrowser } from "@/service/browse-folders";
import { type PictureWanted, pictureOf } from "@/service/case-picture";
import { alignedCase, caseListings, casesView, caseView } from "@/service/case-views";
import { type CheckScope, selectCases } from "@/service/check/select-cases";
import { DriftKeeper } from "@/service/drift/drift-keeper";
import { effortOf, moduleSizes } from "@/service/effort";
import { exportCases, importCases, keepCases } from "@/service/keep-cases";
import { leaveOut } from "@/service/leave-out";
import { LiveBaseline } from "@/service/live-baseline";
import { LiveCheck } from "@/service/live-check";
import type { OpenPort } from "@/service/open-port";
import { pinModule } from "@/service/pin-module";
import { benchView, moduleDetail, moduleViews, orderView, type PortFacts, portCard } from "@/service/port-views";
import { PortReader, type PortReading, type ReadModule, stampOf, toStored } from "@/service/reading";
import { answersFolderIn } from "@/service/run-check";
import { type PairWord, sayPair } from "@/service/say-pair";
import { shrinkPortCase } from "@/service/shrink-case";
import type { ReadSource } from "@/service/source-reader";
import { FactsCache, type FolderSurvey } from "@/service/survey-folder";
import { addSnag, decideWay, surveyOriginal, surveyView, usesView } from "@/service/survey-port";
import { findBaseline } from "@/store/baselines";
import { listChecks, listMeasures, listProven } from "@/store/checks";
import { listEffort, listTouches, saveEffort, saveTouches } from "@/store/effort";
import { listFamilies } from "@/store/families";
import { Store } from "@/store/open";
import { deletePort, findPort, findPortByFile, listPorts, type PortRow, savePort, saveReading } from "@/store/ports";

const SHRINK_SECONDS = 15;
/** How long a view waits for a survey before it is shown without. */
const SURVEY_WAIT_MS = 500;

type Listener = (event: PortEvent) => void;

/** What a check is asked for: `fresh` uses no kept answer, `resume` names an interrupted check that is taken up. */
type StartOptions = CheckScope & { readonly fresh?: boolean; readonly resume?: string };

export class Workbench {
  private readonly readers = new Map<string, PortReader>();
  /** The check or baseline that runs, by port: one at a time. */
  private readonly running = new Map<string, LiveCheck | LiveBaseline>();
  private readonly starting = new Set<string>();
  private readonly listeners = new Map<string, Set<Listener>>();
  private readonly watchers = new Map<string, Watcher>();
  private readonly surveys = new Map<string, FactsCache>();
  private readonly surveying = new Map<string, Promise<FolderSurvey>>();
  private readonly shrinking = new Map<string, AbortController>();
  private readonly drift: DriftKeeper;

  private constructor(
    private readonly store: Store,
    private readonly browser: FolderBrowser,
    /** Looking at what may become a port. */
    readonly bringIn: BringIn,
  ) {
    this.drift = new DriftKeeper(store);
  }

  /** Opens the data folder. Throws SideTwinError `folder-in-use`. */
  static async open(options: { readonly data: string; readonly browse: string }): Promise<Workbench> {
    const store = await Store.open(options.data, path.join(packageRoot(), "src/store/migrations"));
    const browser = new FolderBrowser(options.browse);
    return new Workbench(store, browser, await BringIn.open(options.data, browser));
  }

  async close(): Promise<void> {
    for (const work of this.running.values()) work.stop();
    await Promise.all([...this.watchers.values()].map((watcher) => watcher.close()));
    await this.store.close();
  }

  // Ports

  async listPorts(): Promise<PortListing[]> {
    const rows = await listPorts(this.store);
    return Promise.all(
      rows.map(async (row): Promise<PortListing> => {
        try {
          return await this.listing(row);
        } catch (thrown) {
          // A port whose folder was moved or whose file is broken stays listed, with the reason.
          return { id: row.id, name: row.name, file: row.file, problem: toErrorRecord(thrown) };
        }
      }),
    );
  }

  private async listing(row: PortRow): Promise<PortListing> {
    const facts = await this.facts(row);
    const [, ...rest] = facts.reading.open.twins;
    const others = await Promise.all(rest.map(({ name }) => this.facts(row, name)));
    const seen = (await findBaseline(this.store, row.id))?.baseline;
    return {
      ...portCard(facts, moduleViews(facts)),
      others: others.map((other) => portCard(other, moduleViews(other))),
      baseline: seen
        ? { state: seen.state, cases: seen.cases, unsteady: seen.unsteadyCount, broken: seen.brokenCount }
        : null,
    };
  }

  /** Brings in a port by its file or folder; one that is there already is found again. Throws SideTwinError. */
  async addPort(file: string): Promise<{ id: string }> {
    const reading = await new PortReader().read(file);
    const known = await findPortByFile(this.store, reading.open.file);
    if (known) return { id: known.id };
    const id = createHash("sha256").update(reading.open.file).digest("hex").slice(0, 10);
    await savePort(this.store, { id, file: reading.open.file, name: reading.open.port.name, addedAt: new Date() });
    await saveReading(this.store, id, toStored(reading));
    await this.remember(id);
    return { id };
  }

  /** Takes a port off the list; its folders stay as they are. */
  async removePort(id: string): Promise<void> {
    this.running.get(id)?.stop();
    await this.watchers.get(id)?.close();
    this.watchers.delete(id);
    this.drift.forget(id);
    await deletePort(this.store, id);
  }

  browseFolder(folder: string | null): Promise<FolderView> {
    return this.browser.list(folder);
  }

  /** Adds the port of a folder that was reached by browsing. */
  async addBrowsed(folder: string): Promise<{ id: string }> {
    return this.addPort(await this.browser.confine(folder));
  }

  /** Keeps a port that was looked at, and lists it. Throws SideTwinError. */
  async keepDraft(token: string, draft: Draft): Promise<{ id: string }> {
    return this.addPort(await this.bringIn.keep(token, draft));
  }

  // Views

  async card(id: string, twin?: string): Promise<PortCard> {
    const facts = await this.facts(await this.row(id), twin);
    return portCard(facts, moduleViews(facts));
  }

  async baseline(id: string): Promise<BaselineView> {
    const row = await this.row(id);
    const [{ open, cases }, last] = await Promise.all([this.read(row), findBaseline(this.store, id)]);
    const { language, run = null } = open.original;
    const stamp = stampOf(await this.read(row), null, "");
    return {
      port: { id, name: open.port.name },
      language,
      run,
      cases: cases.length,
      isRunning: this.running.has(id),
      last: last && {
        ...last.baseline,
        startedAt: last.startedAt.toISOString(),
        total: last.seconds,
        isStale: last.stamp !== stamp,
      },
    };
  }

  async order(id: string, twin?: string): Promise<OrderView> {
    const facts = await this.facts(await this.row(id), twin);
    const [survey, touches, history] = await Promise.all([
      this.surveySoon(id, facts.reading.open),
      listTouches(this.store, id, facts.twin),
      listEffort(this.store, id, facts.twin),
    ]);
    const protections = describeProtections(facts.reading.open.port.limits);
    return orderView(facts, { protections, survey, touches, history });
  }

  async module(id: string, module: string, twin?: string): Promise<ModuleDetail> {
    const facts = await this.facts(await this.row(id), twin);
    const measures = await listMeasures(this.store, id, module, facts.twin);
    return moduleDetail(facts, findModule(facts, module), measures);
  }

  async bench(id: string, module: string, twin?: string): Promise<BenchView> {
    const facts = await this.facts(await this.row(id), twin);
    const found = findModule(facts, module);
    const colours: [ReadSource, BenchFile["spans"]][] = [];
    for (const source of [...found.originalSources, ...(found.twinSources[facts.twin] ?? [])])
      colours.push([source, await coloursOf(source)]);
    return benchView(facts, found, new Map(colours));
  }

  async case(id: string, caseId: string, twin?: string): Promise<CaseView> {
    const facts = await this.facts(await this.row(id), twin);
    const item = facts.reading.cases.find((entry) => entry.id === caseId);
    if (!item)
      throw new SideTwinError({
        code: "not-found",
        what: `There is no case "${caseId}"`,
        next: "It may have been removed from its file.",
      });
    const [kept, families] = await Promise.all([
      (await this.store.verdicts(id)).find(facts.twin, caseId),
      listFamilies(this.store, id),
    ]);
    return caseView(facts, item, kept, { families, aligned: await alignedCase(facts, item, kept) });
  }

  async cases(id: string, twin?: string): Promise<CasesView> {
    const facts = await this.facts(await this.row(id), twin);
    return casesView(facts, await listFamilies(this.store, id));
  }

  /** Notes that a module is wanted soon, or no longer. Throws SideTwinError. */
  async pin(id: string, wanted: { module: string; pinned: boolean }): Promise<void> {
    await pinModule((await this.read(await this.row(id))).open, wanted);
  }

  /** Leaves a module out with a reason, or takes it in again. Throws SideTwinError. */
  async leaveOut(id: string, wanted: { module: string; reason: string | null }): Promise<void> {
    await leaveOut((await this.read(await this.row(id))).open, wanted);
  }

  /** Writes a person's word on a pair into the port file. Throws SideTwinError. */
  async sayPair(id: string, said: PairWord): Promise<void> {
    await sayPair((await this.read(await this.row(id))).open, said);
  }

  async survey(id: string, twin?: string): Promise<SurveyView> {
    const facts = await this.facts(await this.row(id), twin);
    return surveyView(facts, await this.surveyOf(id, facts.reading.open));
  }

  /** The places behind a count of the survey. */
  async uses(id: string, name: string): Promise<UsesView> {
    const { open } = await this.read(await this.row(id));
    return usesView(open, await this.surveyOf(id, open), name);
  }

  /** Writes the way round a snag into the port file. Throws SideTwinError. */
  async decideWay(id: string, wanted: { name: string; way: Way | null; note: string }): Promise<void> {
    await decideWay((await this.read(await this.row(id))).open, wanted);
  }

  /** Adds a snag of the person's own to the port file. Throws SideTwinError. */
  async addSnag(id: string, wanted: { name: string; match: string }): Promise<void> {
    await addSnag((await this.read(await this.row(id))).open, wanted);
  }

  private surveyOf(id: string, open: OpenPort): Promise<FolderSurvey> {
    const known = this.surveys.get(id) ?? new FactsCache();
    this.surveys.set(id, known);
    // Two who ask at once share one reading.
    const asked = this.surveying.get(id) ?? surveyOriginal(open, known).finally(() => this.surveying.delete(id));
    this.surveying.set(id, asked);
    return asked;
  }

  /** The survey if it is there in a moment; a large one is read on, and told of when it is there. */
  private async surveySoon(id: string, open: OpenPort): Promise<FolderSurvey | null> {
    const reading = this.surveyOf(id, open);
    const soon = await Promise.race([
      reading,
      new Promise<null>((resolve) => setTimeout(resolve, SURVEY_WAIT_MS, null)),
    ]);
    if (soon === null) {
      reading.then(
        () => this.emit(id, { type: "files", paths: [] }),
        // Whoever asks for the survey itself is told what is wrong with it.
        () => undefined,
      );
    }
    return soon;
  }

  /** Notes what is left of a port after a check of it. */
  private async noteEffort(id: string): Promise<void> {
    const row = await this.row(id);
    const { open } = await this.read(row);
    const survey = await this.surveyOf(id, open);
    for (const { name } of open.twins) {
      const facts = await this.facts(row, name);
      const modules = moduleViews(facts);
      const sizes = moduleSizes(facts, survey);
      const { left, total } = effortOf(modules, { sizes, touches: new Map(), history: [] });
      const { lines, provenLines } = portCard(facts, modules);
      await saveEffort(this.store, id, name, { at: new Date().toISOString(), left, total, lines, provenLines });
    }
  }

  /** Notes which modules are worked on: those whose twin's files were saved. */
  private async noteTouches(id: string, paths: readonly string[]): Promise<void> {
    const { open, modules } = await this.read(await this.row(id));
    const saved = new Set(paths);
    const touched = open.twins.flatMap(({ name, folder }) =>
      modules
        .filter((module) => (module.twins[name] ?? []).some((file) => saved.has(path.join(folder, file))))
        .map((module) => ({ twin: name, module: module.name })),
    );
    if (touched.length > 0) await saveTouches(this.store, id, { at: new Date(), modules: touched });
  }

  /** Makes the input of a case smaller; the port's files stay as they are. Throws SideTwinError. */
  async shrink(id: string, wanted: { caseId: string; twin?: string }, signal?: AbortSignal): Promise<ShrinkView> {
    const stopper = new AbortController();
    const stop = () => stopper.abort();
    signal?.addEventListener("abort", stop, { once: true });
    // Before the port is read: a stop that comes meanwhile must not be lost.
    this.shrinking.set(id, stopper);
    try {
      const { open, cases } = await this.read(await this.row(id));
      return await shrinkPortCase(open, cases, { ...wanted, seconds: SHRINK_SECONDS, signal: stopper.signal });
    } finally {
      signal?.removeEventListener("abort", stop);
      if (this.shrinking.get(id) === stopper) this.shrinking.delete(id);
    }
  }

  /** Ends the shrinking that goes on; who asked for it gets the smallest that was found. */
  stopShrinking(id: string): void {
    this.shrinking.get(id)?.abort();
  }

  /** Adds a case to the port's files. Throws SideTwinError. */
  async addCase(id: string, item: SharedCase): Promise<{ file: string }> {
    const { open, cases } = await this.read(await this.row(id));
    return keepCases(open, cases, [item], item.from ?? "hand");
  }

  /** Adds cases from JSON Lines, all or none. Throws SideTwinError with the line. */
  async importCases(id: string, text: string): Promise<{ file: string; count: number }> {
    const { open, cases } = await this.read(await this.row(id));
    return importCases(open, cases, text);
  }

  /** The cases that some words ask for, as JSON Lines. */
  async exportCases(id: string, words: string, twin?: string): Promise<string> {
    const facts = await this.facts(await this.row(id), twin);
    const wanted = new Set(filterCases(caseListings(facts), words).map((item) => item.id));
    return exportCases(facts.reading.cases.filter((item) => wanted.has(item.id)));
  }

  /** Writes the tighter allowance that is proposed into the port file, and checks the port again. Throws SideTwinError. */
  async tighten(id: string, wanted: { allowance: string; twin: string }): Promise<void> {
    const facts = await this.facts(await this.row(id), wanted.twin);
    const view = casesView(facts, []).allowances.find((entry) => entry.id === wanted.allowance);
    if (!view) {
      throw new SideTwinError({
        code: "not-found",
        what: `There is no allowance "${wanted.allowance}"`,
        next: "It may have been taken out of the port file.",
      });
    }
    await tightenAllowance(facts.reading.open, view);
    await this.startCheck(id, { twin: wanted.twin });
  }

  /** Takes an allowance out of the port file, and checks the port again. Throws SideTwinError. */
  async removeAllowance(id: string, allowance: string): Promise<void> {
    const { open } = await this.read(await this.row(id));
    await removeAllowance(open, allowance);
    await this.startCheck(id, {});
  }

  /** The picture of where two pictures that a case wrote differ, or one of both, as PNG. Throws SideTwinError. */
  async picture(id: string, wanted: PictureWanted): Promise<Uint8Array> {
    const kept = await (await this.store.verdicts(id)).find(wanted.twin, wanted.caseId);
    return pictureOf(kept, wanted);
  }

  /** Agrees to all that a case shows now, with a reason, and checks it again. Throws SideTwinError. */
  async agree(id: string, wanted: { caseId: string; twin: string; reason: string }): Promise<{ allowances: string[] }> {
    const { open, cases } = await this.read(await this.row(id));
    const item = cases.find((entry) => entry.id === wanted.caseId);
    const kept = await (await this.store.verdicts(id)).find(wanted.twin, wanted.caseId);
    if (!item || kept?.outcome !== "differ") {
      throw new SideTwinError({
        code: "bad-input",
        what: `The case "${wanted.caseId}" does not differ`,
        next: "Only what differs can be agreed to.",
      });
    }
    const divergences = kept.divergences
      .filter(({ allowance }) => allowance === null)
      .map(({ at, original, twin }) => ({ at, original: (original ?? null) as Json, twin: (twin ?? null) as Json })); // as they were written
    const agreed = await agreeToCase(open, item, { ...wanted, divergences });
    await this.startCheck(id, { caseId: wanted.caseId, twin: wanted.twin });
    return agreed;
  }

  private async row(id: string): Promise<PortRow> {
    const row = await findPort(this.store, id);
    if (!row)
      throw new SideTwinError({
        code: "not-found",
        what: "There is no such port",
        next: "Choose one on the first page.",
      });
    return row;
  }

  private async facts(row: PortRow, twin?: string): Promise<PortFacts> {
    const reading = await this.read(row);
    const name = twin ?? reading.open.twins[0]?.name ?? "";
    if (!reading.open.twins.some((entry) => entry.name === name)) {
      throw new SideTwinError({ code: "not-found", what: `There is no twin "${name}"`, next: "Choose another." });
    }
    const [book, proven, checks] = await Promise.all([
      this.store.verdicts(row.id),
      listProven(this.store, row.id),
      listChecks(this.store, row.id, 1),
    ]);
    const known = { row, reading, twin: name, verdicts: book.list(), proven, checks };
    return { ...known, drift: await this.drift.driftOf(row.id, reading, name) };
  }

  /** Notes what is paired, proven or followed now, and tells the screens when that changes anything. */
  private async remember(id: string): Promise<void> {
    const row = await this.row(id);
    const { open } = await this.read(row);
    const changed: boolean[] = [];
    for (const { name } of open.twins) changed.push(await this.drift.remember(await this.facts(row, name)));
    if (changed.includes(true)) this.emit(id, { type: "files", paths: [] });
  }

  /** A person says that the twin follows a section of the original that changed. Throws SideTwinError. */
  async follow(id: string, wanted: { module: string; section: string; twin: string }): Promise<void> {
    await this.drift.follow(await this.facts(await this.row(id), wanted.twin), wanted);
    this.emit(id, { type: "files", paths: [] });
  }

  /** Who changed a section that drifted. Throws SideTwinError. */
  async changes(id: string, wanted: { module: string; section: string; twin: string }): Promise<ChangesView> {
    return this.drift.changes(await this.facts(await this.row(id), wanted.twin), wanted);
  }

  private read(row: PortRow): Promise<PortReading> {
    const reader = this.readers.get(row.id) ?? new PortReader();
    this.readers.set(row.id, reader);
    return reader.read(row.file);
  }

  // Checks and news

  isRunning(id: string): boolean {
    return this.running.has(id);
  }

  /** Starts a check and returns at once. Throws SideTwinError `already-running`, or what keeps the port from being read. */
  startCheck(id: string, { fresh = false, resume, ...scope }: StartOptions): Promise<void> {
    return this.start(id, (reading) => {
      selectCases(reading.open, reading.cases, scope);
      return new LiveCheck(this.store, {
        portId: id,
        reading,
        ...scope,
        fresh,
        ...(resume ? { resume } : {}),
        answersFolder: answersFolderIn(this.store.folder),
        jobs: Math.max(1, Math.floor(availableParallelism() / 2)),
        emit: this.emitter(id),
      });
    });
  }

  /** Runs the original by itself, and returns at once. Throws as `startCheck` does. */
  startBaseline(id: string): Promise<void> {
    return this.start(id, (reading) => new LiveBaseline(this.store, { portId: id, reading, emit: this.emitter(id) }));
  }

  private async start(id: string, make: (reading: PortReading) => LiveCheck | LiveBaseline): Promise<void> {
    if (this.running.has(id) || this.starting.has(id)) {
      throw new SideTwinError({
        code: "already-running",
        what: "A check of this port is running",
        next: "Wait for it or stop it.",
      });
    }
    // Taken before the first wait: two that ask at the same moment must not both get it.
    this.starting.add(id);
    try {
      const reading = await this.read(await this.row(id));
      this.launch(id, make(reading), reading);
    } finally {
      this.starting.delete(id);
    }
  }

  private emitter(id: string): (event: PortEvent) => void {
    return (event) => {
      // Whoever hears of the end may start the next one.
      if (event.type === "ended" || event.type === "baseline-ended") this.running.delete(id);
      this.emit(id, event);
    };
  }

  private launch(id: string, work: LiveCheck | LiveBaseline, reading: PortReading): void {
    this.running.set(id, work);
    const ended = (async () => {
      await saveReading(this.store, id, toStored(reading));
      await work.run();
      await this.remember(id);
      if (work instanceof LiveCheck) await this.noteEffort(id);
      this.emit(id, { type: "files", paths: [] });
    })();
    ended.catch((error: unknown) => {
      this.running.delete(id);
      process.stderr.write(`side-twin: a check failed: ${error instanceof Error ? error.stack : error}\n`);
    });
  }

  stopCheck(id: string): void {
    this.running.get(id)?.stop();
  }

  /** News of a port until the returned function is called; the first listener starts the watching of its folders. */
  subscribe(id: string, listener: Listener): () => void {
    const group = this.listeners.get(id) ?? new Set();
    group.add(listener);
    this.listeners.set(id, group);
    if (!this.watchers.has(id)) void this.watch(id);
    return () => group.delete(listener);
  }

  private async watch(id: string): Promise<void> {
    try {
      const { open } = await this.read(await this.row(id));
      if (this.watchers.has(id)) return;
      const ignore = [...(open.original.ignore ?? []), ...open.twins.flatMap((twin) => twin.ignore ?? [])];
      this.watchers.set(
        id,
        watchFolders([open.folder, open.original.folder, ...open.twins.map((twin) => twin.folder)], ignore, (paths) =>
          this.filesChanged(id, paths),
        ),
      );
    } catch (thrown) {
      process.stderr.write(`side-twin: the folders of a port can not be watched: ${toErrorRecord(thrown).what}\n`);
    }
  }

  private filesChanged(id: string, paths: readonly string[]): void {
    this.emit(id, { type: "files", paths });
    // What is being written may not be readable yet; the next save or check remembers then.
    Promise.all([this.remember(id), this.noteTouches(id, paths)]).catch(() => undefined);
  }

  private emit(id: string, event: PortEvent): void {
    for (const listener of this.listeners.get(id) ?? []) listener(event);
  }
}

const coloured = new WeakMap<ReadSource, Promise<BenchFile["spans"]>>();

/** Worked out when somebody looks at a source, and once. */
function coloursOf(source: ReadSource): Promise<BenchFile["spans"]> {
  const known = coloured.get(source) ?? colourSource(source.lines, source.language);
  coloured.set(source, known);
  return known;
}

function findModule(facts: PortFacts, module: string): ReadModule {
  const found = facts.reading.modules.find((entry) => entry.name === module);
  if (found) return found;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no module "${module}" in ${facts.reading.open.port.name}`,
    next: "Choose one in Order.",
  });
}
