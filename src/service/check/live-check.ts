/** A check running in the server: verdicts are saved in batches, then sent to every screen. */
import { randomUUID } from "node:crypto";
import type { PortEvent, VerdictNews } from "@/api/port-event";
import { usesOf } from "@/core/allowances/review";
import { isSideTwinError, SideTwinError, toErrorRecord } from "@/core/errors";
import type { Outcome } from "@/core/formats/report";
import { isAgreement } from "@/core/progress/done";
import type { AnswersOf, PartFamilies, SectionFamily } from "@/service/check/gather-families";
import { runCheck } from "@/service/check/run-check";
import type { JudgedAnswers, Verdict } from "@/service/check/verdict";
import { type PortReading, stampOf } from "@/service/reading/reading";
import { endCheck, saveMeasures, saveProven, startCheck } from "@/store/checks";
import { replaceFamilies } from "@/store/families";
import type { Store } from "@/store/open";
import { formatDetail, type VerdictToSave } from "@/store/verdicts";

const SAVE_EVERY_MS = 250;
const SAVE_AT_MOST = 4000;

/** Where verdicts are saved and sent. */
export type LiveCheckOptions = {
  readonly portId: string;
  readonly reading: PortReading;
  /** Reads the port anew, where its sources changed meanwhile. */
  readonly reread?: () => Promise<PortReading>;
  readonly module?: string;
  readonly twin?: string;
  readonly caseId?: string;
  readonly jobs: number;
  /** The answer cache's folder; without it every case runs. */
  readonly answersFolder?: string;
  readonly fresh?: boolean;
  /** Finds where the cases of families part inside. */
  readonly part?: PartFamilies;
  /** The name of the interrupted check that this one takes up. */
  readonly resume?: string;
  readonly emit: (event: PortEvent) => void;
};

/** A check running in the server. */
export class LiveCheck {
  private readonly stopper = new AbortController();
  private readonly batch: VerdictToSave[] = [];
  private readonly stamps = new Map<string, string>();
  private last: { readonly module: string | null; readonly twin: string; readonly stamp: string } | null = null;
  private saving: Promise<void> = Promise.resolve();
  /** The error that prevented saving verdicts; the check then stops. */
  private failure: { readonly cause: unknown } | null = null;
  private timer: NodeJS.Timeout | null = null;
  private done = 0;
  private total = 0;
  private id = 0;
  private reading: PortReading;
  /** The families of a check that ended, and what they are of. */
  private found: {
    readonly check: Parameters<typeof replaceFamilies>[1];
    readonly families: readonly SectionFamily[];
    readonly answersOf: AnswersOf;
  } | null = null;
  private readonly changes = { mended: 0, worsened: 0 };

  constructor(
    private readonly store: Store,
    private readonly options: LiveCheckOptions,
  ) {
    this.reading = options.reading;
  }

  stop(): void {
    this.stopper.abort();
  }

  /** Resolves when the check has ended, in any way, and its verdicts are saved. */
  async run(): Promise<void> {
    const { portId, reading, module, twin, caseId, emit } = this.options;
    const resume = this.options.resume ?? randomUUID();
    const scope = { resume, ...(module ? { module } : {}), ...(twin ? { twin } : {}), ...(caseId ? { caseId } : {}) };
    this.id = await startCheck(this.store, { portId, module: module ?? null, startedAt: new Date(), scope });
    const started = performance.now();
    try {
      const { part: _later, ...options } = this.options;
      const { answersOf, report, end, families } = await runCheck(reading.open, reading.cases, {
        ...options,
        resume,
        withCases: false,
        signal: this.stopper.signal,
        reopen: () => this.reopen(),
        onStart: (total) => {
          this.total = total;
          this.done = 0;
          emit({ type: "started", check: this.id, module: module ?? null, total });
        },
        onPhase: (phase) => emit({ type: "phase", phase }),
        onVerdict: (verdict, answers, isNew) => this.take(verdict, answers, isNew),
      });
      await this.flush();
      if (this.failure) throw this.failure.cause;
      if (report.changed) throw changing(report.changed);
      await this.saveProven(end.proven);
      if (report.state === "complete" && caseId === undefined) {
        await saveMeasures(this.store, this.id, report.modules);
        const twins = twin ? [twin] : reading.open.twins.map(({ name }) => name);
        const check = { portId, checkId: this.id, module: module ?? null, twins };
        await replaceFamilies(this.store, check, families);
        this.found = { check, families, answersOf };
      }
      // With several twins, the first represents the check.
      const first = twin ?? reading.open.twins[0]?.name;
      const measured = report.modules.filter((entry) => entry.twin === first && entry.provenLines !== null);
      const sum = (pick: (entry: (typeof measured)[number]) => number) =>
        measured.reduce((total, entry) => total + pick(entry), 0);
      await endCheck(this.store, this.id, {
        state: report.state,
        endedAt: new Date(),
        seconds: report.seconds,
        totals: report.totals,
        reused: report.reused,
        provenLines: measured.length === 0 ? null : sum((entry) => entry.provenLines ?? 0),
        lines: measured.length === 0 ? null : sum((entry) => entry.lines),
        changes: this.changes,
      });
      const changes = { ...this.changes, module: module ?? null, seconds: report.seconds };
      emit({ type: "ended", check: this.id, state: report.state, problem: null, changes });
    } catch (thrown) {
      await this.flush();
      const problem = toErrorRecord(this.store.explain(this.failure?.cause ?? thrown));
      const seconds = (performance.now() - started) / 1000;
      const end = {
        state: "failed",
        endedAt: new Date(),
        seconds,
        totals: null,
        provenLines: null,
        lines: null,
        problem,
      } as const;
      const write = () => endCheck(this.store, this.id, end);
      // On a full disk even the end cannot be saved: it is, once there is room again.
      await write().catch(() => this.store.saveLater(write));
      emit({ type: "ended", check: this.id, state: "failed", problem, changes: null });
      if (problem.code === "internal") throw thrown;
    }
  }

  /**
   * Finds where the cases of the families part inside, and saves the families so split; to be called after `run`, whose verdicts are shown
   * meanwhile. Nothing is saved once `signal` aborts.
   */
  async part(signal: AbortSignal): Promise<void> {
    const { found, reading, options } = this;
    if (!found || found.families.length === 0 || !options.part || signal.aborted) return;
    try {
      const families = await options.part(reading.open, reading.cases, {
        families: found.families,
        answersOf: found.answersOf,
        signal,
      });
      if (signal.aborted) return;
      await replaceFamilies(this.store, found.check, families);
      options.emit({ type: "files", paths: [] });
    } catch (error) {
      // A side that cannot be traced leaves the families as they are: the verdicts hold without it.
      if (!isSideTwinError(error)) throw error;
    }
  }

  /** Verdicts to come are of the text as it is now. */
  private async reopen(): Promise<{ open: PortReading["open"]; cases: PortReading["cases"] }> {
    this.reading = (await this.options.reread?.()) ?? this.reading;
    this.stamps.clear();
    this.last = null;
    return { open: this.reading.open, cases: this.reading.cases };
  }

  private take(verdict: Verdict, answers: JudgedAnswers, isNew: boolean): void {
    this.batch.push(this.toRow(verdict, answers));
    if (isNew) this.done++;
    if (this.batch.length >= SAVE_AT_MOST) this.save();
    else this.timer ??= setTimeout(() => this.save(), SAVE_EVERY_MS);
  }

  private save(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const verdicts = this.batch.splice(0);
    if (verdicts.length === 0) return;
    const { done } = this;
    this.saving = this.saving
      .then(async () => {
        if (this.failure) return;
        const book = await this.store.verdicts(this.options.portId);
        for (const { row } of verdicts) this.count(book.outcomeOf(row.twin, row.caseId), row.outcome);
        await book.save(this.id, verdicts);
        // Sent only after it was saved: what a screen shows survives a server that is killed.
        this.options.emit({ type: "verdicts", done, total: this.total, list: verdicts.map(toNews) });
      })
      .catch((cause: unknown) => {
        this.failure ??= { cause };
        this.stopper.abort();
      });
  }

  /** A case that was never checked, or is not ported, becomes neither right nor wrong. */
  private count(before: Outcome | undefined, now: Outcome): void {
    const wasWrong = before === "differ" || before === "broken";
    if (wasWrong && isAgreement(now)) this.changes.mended++;
    if (isAgreement(before) && (now === "differ" || now === "broken")) this.changes.worsened++;
  }

  private async flush(): Promise<void> {
    this.save();
    await this.saving;
  }

  private toRow(verdict: Verdict, answers: JudgedAnswers): VerdictToSave {
    const module = "run" in verdict.item ? null : verdict.module;
    const { divergences, lastOutput = null } = verdict;
    return {
      row: {
        twin: verdict.twin,
        caseId: verdict.item.id,
        module: verdict.module,
        section: verdict.section,
        outcome: verdict.outcome,
        side: verdict.side ?? null,
        why: verdict.why ?? null,
        msOriginal: verdict.ms.original,
        msTwin: verdict.ms.twin,
        stamp: this.stampFor(module, verdict.twin),
        divergenceCount: divergences.length,
        excuses: usesOf(verdict.excuses),
        checkId: this.id,
      },
      detail: formatDetail({ ...textsOf(answers), lastOutput, divergences }),
    };
  }

  private stampFor(module: string | null, twin: string): string {
    const { last } = this;
    if (last && last.module === module && last.twin === twin) return last.stamp;
    const stamp = this.findStamp(module, twin);
    this.last = { module, twin, stamp };
    return stamp;
  }

  private findStamp(module: string | null, twin: string): string {
    const key = `${module ?? ""}\0${twin}`;
    const known = this.stamps.get(key);
    if (known !== undefined) return known;
    const stamp = stampOf(this.reading, module, twin);
    this.stamps.set(key, stamp);
    return stamp;
  }

  /** Only a check of whole modules can determine proven lines. */
  private async saveProven(proven: Awaited<ReturnType<typeof runCheck>>["end"]["proven"]): Promise<void> {
    const { module, caseId, portId } = this.options;
    const { reading } = this;
    if (caseId !== undefined || this.stopper.signal.aborted) return;
    const modules = reading.modules.filter((entry) => module === undefined || entry.name === module);
    const rows = [...proven].flatMap(([twin, byModule]) =>
      modules.flatMap((entry) => {
        const lines = byModule.get(entry.name);
        return entry.originalSources.flatMap(({ file, hash }) => {
          const [executable, ran] = [lines?.executable[file], lines?.proven[file]];
          if (!executable || !ran) return [];
          return [{ twin, module: entry.name, file, executable: [...executable], proven: [...ran], stamp: hash }];
        });
      }),
    );
    if (rows.length > 0) await saveProven(this.store, portId, this.id, rows);
  }
}

const changing = (files: readonly string[]): SideTwinError =>
  new SideTwinError({
    code: "bad-input",
    what: `Sources were saved again and again while they were checked: ${files.slice(0, 3).join(", ")}`,
    next: "Check again when nothing writes to them.",
  });

const toNews = ({ row: { caseId, twin, module, outcome } }: VerdictToSave): VerdictNews => ({
  id: caseId,
  twin,
  module,
  outcome,
});

/** Both answers as JSON, as one text if identical. */
function textsOf(answers: JudgedAnswers): { original: string | null; twinAnswer: string | null } {
  if (answers.texts) {
    const { original, twin } = answers.texts;
    return { original: `{"kind":"call",${original}`, twinAnswer: twin === original ? null : `{"kind":"call",${twin}` };
  }
  const original = answers.original ? JSON.stringify(answers.original) : null;
  const twin = answers.twin ? JSON.stringify(answers.twin) : null;
  return { original, twinAnswer: twin === original ? null : twin };
}
