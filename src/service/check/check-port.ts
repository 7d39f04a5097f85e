/**
 * A check: the shared cases on both sides, compared as the answers arrive.
 * The original runs once for all twins; afterwards the cases that differ and a sample of the others are run again on the
 * original in a new process, and the lines that agreeing cases ran are put together.
 */

import { orderForTwin, type TwinTerms, twinTerms } from "@/core/cases/hand-over";
import type { Broken } from "@/core/compare/answer";
import { isSideTwinError } from "@/core/errors";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import { isAgreement } from "@/core/progress/done";
import type { PoolAnswer } from "@/engine/bridge/pool";
import type { Lines } from "@/engine/drivers/driver";
import { DRIVERS } from "@/engine/drivers/index";
import { canTrace, type ProgramAnswer, runPrograms, runText } from "@/engine/runs/program-runs";
import { noDriver } from "@/engine/toolchains/toolchains";
import { type ProvenLines, proveLines } from "@/service/check/prove-lines";
import { findRenamed, isMissingSection } from "@/service/check/renamed-sections";
import { originalFeed, programTerms } from "@/service/check/run-original";
import { SecondRuns } from "@/service/check/second-runs";
import { type Feed, SideAnswers } from "@/service/check/side-answers";
import { prepareSide, programOf } from "@/service/check/sides";
import { changedSince, factsOfSources, type SourceFacts } from "@/service/check/source-facts";
import { answerOf, type Judged, type JudgedAnswers, judgeOrWait, type Verdict } from "@/service/check/verdict";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

/** Scope, limits and callbacks of a check. */
export type CheckOptions = {
  readonly jobs?: number;
  readonly signal?: AbortSignal;
  /** The answer cache's folder; without it every case runs. */
  readonly answersFolder?: string;
  /** Names the check, so that it can be taken up again under the same name where it was interrupted. */
  readonly resume?: string;
  /** Runs every case and ignores cached answers. */
  readonly fresh?: boolean;
  /** Runs every case of the original again, in another environment, instead of a sample. */
  readonly steady?: boolean;
  /** Reports verdicts as they come; a case that turns out unsteady is reported again with `isNew` false. */
  readonly onVerdict: (verdict: Verdict, answers: JudgedAnswers, isNew: boolean) => void;
  readonly onPhase?: (phase: "prepare" | "run" | "steady" | "trace" | "part") => void;
};

/** An interpreter that ran in a check. */
export type Toolchain = {
  readonly side: string;
  readonly language: string;
  readonly version: string;
  readonly path: string;
};

/** The result of a check besides its verdicts. */
export type CheckEnd = {
  readonly state: "complete" | "stopped";
  readonly seconds: number;
  readonly toolchains: readonly Toolchain[];
  /** Twin → module → proven lines of the original; none where the language is not traced. */
  readonly proven: ReadonlyMap<string, ReadonlyMap<string, ProvenLines>>;
  /** Twin → the last verdict on each case, at the case's place; none where the check was stopped before. */
  readonly verdicts: ReadonlyMap<string, readonly (Verdict | undefined)[]>;
  /** Side → module → most memory seen, in megabytes; the module of program runs is the empty text. */
  readonly peakMb: ReadonlyMap<string, ReadonlyMap<string, number>>;
  /** Sources that were saved while it ran, relative to the port: its verdicts are of no one text. */
  readonly changed: readonly string[];
};

/** Runs a check over the given cases and twins. Throws SideTwinError when a side cannot be run at all. */
export async function checkPort(
  open: OpenPort,
  cases: readonly SharedCase[],
  twins: readonly OpenPort["twins"][number][],
  options: CheckOptions,
): Promise<CheckEnd> {
  const started = performance.now();
  const check = new Check(open, cases, twins, options);
  try {
    await check.run();
    const stopped = options.signal?.aborted ?? false;
    const proven = stopped ? new Map<string, ReadonlyMap<string, ProvenLines>>() : await check.prove();
    return {
      state: options.signal?.aborted ? "stopped" : "complete",
      seconds: (performance.now() - started) / 1000,
      toolchains: [...check.toolchains.values()],
      proven,
      verdicts: check.latest,
      peakMb: check.peakMb(),
      changed: check.changedSources(),
    };
  } finally {
    check.close();
  }
}

/** Answers at the places of their cases; one is let go as soon as all that need it have it. */
type Column<T> = (T | undefined)[];
type Arrived = { readonly answer: PoolAnswer; readonly reused: boolean };

class Check {
  readonly toolchains = new Map<string, Toolchain>();
  private readonly sides = new Map<string, SideAnswers>();
  private readonly second: SecondRuns;
  private readonly waitingOriginals: Column<Arrived> = [];
  private readonly waitingTwins = new Map<string, Column<Arrived>>();
  readonly latest = new Map<string, Column<Verdict>>();
  private readonly terms: Map<string, TwinTerms>;
  /** The original's answers to cases whose section the twin does not have by its name. */
  private readonly unmet: Column<Arrived> = [];
  private places: ReadonlyMap<SharedCase, number> | null = null;
  private readonly runPeakMb = new Map<string, number>();
  /** The lines that a case ran on the original, until it is known whether it agrees. */
  private readonly linesOf: Column<Lines> = [];
  /** Each twin's answers to the program runs that are run again on the original. */
  private readonly twinAnswers = new Map<string, Column<Arrived>>();
  /** Side → why none of its cases can run. */
  private readonly refusals = new Map<string, Broken>();
  /** Answers found to be nondeterministic, to be removed from the cache. */
  private readonly forgetting: Promise<void>[] = [];
  private sources: SourceFacts = new Map();
  /** Large answers that are compared on another thread. */
  private readonly comparing: Promise<void>[] = [];

  constructor(
    private readonly open: OpenPort,
    private readonly cases: readonly SharedCase[],
    private readonly twins: readonly OpenPort["twins"][number][],
    private readonly options: CheckOptions,
  ) {
    const modules = open.modules.map((module) => module.name);
    this.terms = new Map(twins.map((twin) => [twin.name, twinTerms(open.port, twin.name, modules)]));
    this.second = this.secondRuns();
    this.sides.set("original", this.sideAnswers(open.original, "original"));
    for (const twin of twins) {
      this.sides.set(twin.name, this.sideAnswers(twin, twin.name));
      this.waitingTwins.set(twin.name, []);
      this.latest.set(twin.name, []);
    }
  }

  private get jobs(): number {
    // Kept state runs through the cases in order: they must stay in one process.
    const kept = this.open.port.state === "kept" || this.cases.some((item) => item.state === "kept");
    return kept ? 1 : Math.max(1, this.options.jobs ?? 1);
  }

  private get runTerms() {
    return { jobs: this.jobs, signal: this.options.signal };
  }

  private sideAnswers(side: OpenSide, name: string): SideAnswers {
    const { signal, answersFolder = null, fresh = false, resume = null } = this.options;
    return new SideAnswers({
      open: this.open,
      side,
      name,
      jobs: this.jobs,
      ...(signal ? { signal } : {}),
      answersFolder,
      fresh,
      resume,
      lines: name === "original" && DRIVERS[side.language]?.lines === "each",
      onVersion: (version, path) => this.toolchains.set(name, { side: name, language: side.language, version, path }),
    });
  }

  private secondRuns(): SecondRuns {
    return new SecondRuns({
      open: this.open,
      cases: this.cases,
      all: this.options.steady ?? false,
      latest: this.latest,
      original: () => ({ ...this.side("original").terms, jobs: this.jobs }),
      onStart: () => this.options.onPhase?.("steady"),
      onUnsteady: (index, verdict, first, second) => this.markUnsteady(index, verdict, first, second),
      onOtherUntraced: (index, twin, answer) => {
        const arrived = this.twinAnswers.get(twin)?.[index];
        if (arrived) this.settle(index, { answer, reused: false }, arrived, twin, false);
      },
    });
  }

  private side(name: string): SideAnswers {
    const found = this.sides.get(name);
    if (!found) throw new Error(`no side ${name}`);
    return found;
  }

  async run(): Promise<void> {
    const { signal, onPhase, answersFolder = null } = this.options;
    onPhase?.("prepare");
    await prepareSide(this.open, this.open.original, "original", { signal, answersFolder });
    for (const twin of this.twins) await this.prepareTwin(twin);
    if (signal?.aborted) return;
    // Sources are read after `prepare`, which may write them.
    this.sources = factsOfSources(this.open, this.twins);
    onPhase?.("run");
    if (this.cases.some((item) => !isRunCase(item))) {
      await this.runCalls(this.cases);
      for (const twin of this.twins) if (!signal?.aborted) await this.callByOtherNames(twin);
    }
    if (this.cases.some(isRunCase) && !signal?.aborted) await this.runRuns(this.cases.filter(isRunCase));
    await Promise.all(this.comparing);
    if (signal?.aborted) return;
    await this.second.run();
    await Promise.all([...this.comparing, ...this.forgetting]);
  }

  /** A twin that cannot be prepared has broken cases; the other twins are checked all the same. */
  private async prepareTwin(twin: OpenPort["twins"][number]): Promise<void> {
    const { signal, answersFolder = null } = this.options;
    try {
      await prepareSide(this.open, twin, twin.name, { signal, answersFolder });
    } catch (thrown) {
      if (!isSideTwinError(thrown) || thrown.code !== "prepare-failed") throw thrown;
      this.refusals.set(twin.name, { kind: "broken", why: "would-not-load", what: thrown.what, lastOutput: "" });
    }
  }

  /** Why a side can answer no calls. */
  private callRefusal(side: OpenSide, name: string): Broken | null {
    const known = this.refusals.get(name);
    if (known) return known;
    if (DRIVERS[side.language]) return null;
    return { kind: "broken", why: "would-not-load", what: noDriver(side.language).what, lastOutput: "" };
  }

  private async runCalls(cases: readonly SharedCase[]): Promise<void> {
    const work: Promise<void>[] = [];
    const refused = this.callRefusal(this.open.original, "original");
    if (refused) this.refuseCalls(cases, (index) => this.originalArrived(index, { result: refused, ms: null }, false));
    else {
      work.push(
        this.side("original").feed(
          cases,
          originalFeed((index, answer, reused) => this.originalArrived(index, answer, reused)),
        ),
      );
    }
    for (const twin of this.twins) {
      const terms = this.terms.get(twin.name);
      if (!terms) continue;
      const refusal = this.callRefusal(twin, twin.name);
      if (refusal) {
        this.refuseCalls(cases, (index) => this.twinArrived(index, twin.name, { result: refusal, ms: null }, false));
        continue;
      }
      work.push(
        this.side(twin.name).feed(cases, {
          ...this.twinFeed(twin, terms),
          arrived: (index, answer, reused) => this.twinArrived(index, twin.name, answer, reused),
        }),
      );
    }
    await Promise.all(work);
  }

  /** Cases whose section is not there by its name are put to the one that pairing takes for it. */
  private async callByOtherNames(twin: OpenPort["twins"][number]): Promise<void> {
    const terms = this.terms.get(twin.name);
    const places = [...this.unmet.keys()].filter((index) => this.unmet[index] !== undefined);
    const waiting = places.filter((index) => isMissingSection({ result: this.resultOf(index, twin.name), ms: null }));
    const items = waiting.flatMap((index) => this.cases[index] ?? []);
    if (!terms || items.length === 0) return;
    const hookups = await findRenamed(this.open, twin.name, new Set(items.flatMap(({ module }) => module ?? [])));
    if (hookups.length === 0) return;
    // The port file takes precedence.
    const known = { ...terms, hookups: [...terms.hookups, ...hookups] };
    this.terms.set(twin.name, known);
    await this.side(twin.name).feed(items, {
      ...this.twinFeed(twin, known),
      arrived: (place, answer, reused) => {
        const index = waiting[place] ?? -1;
        const original = this.unmet[index];
        if (original && !isMissingSection(answer)) this.settle(index, original, { answer, reused }, twin.name, false);
      },
    });
  }

  private resultOf(index: number, twin: string): PoolAnswer["result"] {
    const verdict = this.latest.get(twin)?.[index];
    return { kind: "skipped", why: verdict?.outcome === "skipped" ? (verdict.why ?? "") : "" };
  }

  private twinFeed(twin: OpenPort["twins"][number], terms: TwinTerms): Pick<Feed, "order" | "files"> {
    return {
      order: (item) => (isRunCase(item) ? null : orderForTwin(item, terms)),
      files: (module) => (module.twins[twin.name] ?? []).filter((file) => twin.files.includes(file)),
    };
  }

  private refuseCalls(cases: readonly SharedCase[], refuse: (index: number) => void): void {
    for (const [index, item] of cases.entries()) if (!isRunCase(item)) refuse(index);
  }

  private async runRuns(cases: readonly RunCase[]): Promise<void> {
    const work = [this.runProgram(this.open.original, "original", cases)];
    for (const twin of this.twins) {
      const refusal = this.refusals.get(twin.name);
      if (refusal) {
        for (const item of cases) this.runArrived(item, twin.name, { result: refusal, ms: null }, false);
        continue;
      }
      // A twin whose program is not there yet has nothing to run: its cases wait.
      if (twin.run && twin.files.length > 0) work.push(this.runProgram(twin, twin.name, cases));
      else
        for (const item of cases)
          this.runArrived(item, twin.name, { result: { kind: "skipped", why: "no twin program" }, ms: null }, false);
    }
    await Promise.all(work);
  }

  private async runProgram(side: OpenSide, name: string, cases: readonly RunCase[]): Promise<void> {
    const command = await programOf(side, name);
    const kept = await this.side(name).keptForRuns(command);
    const terms = programTerms(this.open, side, command, this.runTerms);
    const isTraced = name === "original" && canTrace(terms);
    const left = cases.filter((item) => {
      const answer = this.options.fresh ? undefined : kept?.get(runText(item));
      // A cached answer without lines proves nothing.
      const known = isTraced && !answer?.lines ? undefined : answer;
      if (known) this.runArrived(item, name, known, true);
      return !known;
    });
    const arrived = (item: RunCase, answer: ProgramAnswer) => {
      kept?.keep(runText(item), answer);
      this.runPeakMb.set(name, Math.max(this.runPeakMb.get(name) ?? 0, answer.peakMb ?? 0));
      this.runArrived(item, name, answer, false);
    };
    // One run of the original gives its answer and its lines. Where both sides part, it runs again without tracing.
    await runPrograms(left, terms, arrived, isTraced);
  }

  private runArrived(item: RunCase, side: string, answer: PoolAnswer, reused: boolean): void {
    this.places ??= new Map(this.cases.map((one, index) => [one, index]));
    const index = this.places.get(item);
    if (index === undefined) throw new Error(`no case ${item.id}`);
    if (side === "original") this.originalArrived(index, answer, reused);
    else this.twinArrived(index, side, answer, reused);
  }

  private originalArrived(index: number, answer: PoolAnswer, reused: boolean): void {
    const original = { answer, reused };
    this.linesOf[index] = answer.lines;
    let left = 0;
    for (const [twin, waiting] of this.waitingTwins) {
      const arrived = waiting[index];
      if (!arrived) left++;
      else {
        waiting[index] = undefined;
        this.settle(index, original, arrived, twin);
      }
    }
    if (left > 0) this.waitingOriginals[index] = original;
  }

  private twinArrived(index: number, twin: string, answer: PoolAnswer, reused: boolean): void {
    const original = this.waitingOriginals[index];
    const arrived = { answer, reused };
    const waiting = this.waitingTwins.get(twin) ?? [];
    if (!original) {
      waiting[index] = arrived;
      return;
    }
    this.settle(index, original, arrived, twin);
    if ([...this.latest.values()].every((verdicts) => verdicts[index])) this.waitingOriginals[index] = undefined;
  }

  private settle(index: number, original: Arrived, answer: Arrived, twin: string, isNew = true): void {
    const terms = this.terms.get(twin);
    const item = this.cases[index];
    const verdicts = this.latest.get(twin);
    if (!terms || !item || !verdicts) return;
    const reused = { original: original.reused, twin: answer.reused };
    const judged = judgeOrWait(item, original.answer, answer.answer, { port: this.open.port, twin: terms, reused });
    if (isMissingSection(answer.answer)) this.unmet[index] = original;
    const take = ({ verdict, answers }: Judged) => {
      verdicts[index] = verdict;
      if (this.second.isPossible(verdict)) this.keepForAgain(index, original, answer, twin);
      this.options.onVerdict(verdict, answers, isNew);
    };
    if ("verdict" in judged) take(judged);
    else {
      const taken = judged.then(take);
      // Failures are reported when all are awaited at the end; until then they must not end the process.
      taken.catch(() => undefined);
      this.comparing.push(taken);
    }
  }

  private keepForAgain(index: number, original: Arrived, answer: Arrived, twin: string): void {
    this.second.keepFirst(index, original.answer);
    const item = this.cases[index];
    if (!item || !isRunCase(item)) return;
    const column = this.twinAnswers.get(twin) ?? [];
    this.twinAnswers.set(twin, column);
    column[index] = answer;
  }

  private markUnsteady(index: number, verdict: Verdict, first: PoolAnswer, second: PoolAnswer): void {
    const why = "the original answered otherwise when it ran again";
    const unsteady: Verdict = { ...verdict, outcome: "unsteady", why };
    const verdicts = this.latest.get(verdict.twin);
    if (verdicts) verdicts[index] = unsteady;
    this.options.onVerdict(unsteady, { original: answerOf(first.result), twin: answerOf(second.result) }, false);
    this.forgetting.push(
      this.side("original").forget(
        verdict.item,
        originalFeed(() => undefined),
      ),
    );
  }

  /** Twin → module → the lines of the original that its agreeing cases ran through. */
  async prove(): Promise<ReadonlyMap<string, ReadonlyMap<string, ProvenLines>>> {
    this.options.onPhase?.("trace");
    const found = new Map<string, ReadonlyMap<string, ProvenLines>>();
    for (const { name } of this.twins) found.set(name, await this.proveFor(name));
    return found;
  }

  private async proveFor(twin: string): Promise<ReadonlyMap<string, ProvenLines>> {
    const verdicts = this.latest.get(twin) ?? [];
    const places = [...this.cases.keys()].filter((index) => isAgreement(verdicts[index]?.outcome));
    const agreeing = places.flatMap((index) => this.cases[index] ?? []);
    const untraced = places.flatMap((index) => {
      const item = this.cases[index];
      return item && isRunCase(item) && !this.linesOf[index] ? [item] : [];
    });
    const command = untraced.length > 0 ? await programOf(this.open.original, "original") : null;
    const kept = command && (await this.side("original").keptForRuns(command));
    return proveLines({
      open: this.open,
      twin,
      agreeing,
      side: this.side("original"),
      feed: originalFeed,
      lines: new Set(places.map((index) => this.linesOf[index]).filter((lines) => lines !== undefined)),
      untraced,
      program: command && programTerms(this.open, this.open.original, command, this.runTerms),
      onTraced: (item, lines) => {
        this.linesOf[this.places?.get(item) ?? -1] = lines;
        const answer = kept?.get(runText(item));
        if (answer) kept?.keep(runText(item), { ...answer, lines });
      },
    });
  }

  /** Also discards cached answers if any source changed. */
  changedSources(): readonly string[] {
    const changed = changedSince(this.open, this.sources);
    if (changed.length > 0) for (const side of this.sides.values()) side.forgetKept();
    return changed;
  }

  peakMb(): ReadonlyMap<string, ReadonlyMap<string, number>> {
    return new Map(
      [...this.sides].map(([name, side]) => {
        const runs = this.runPeakMb.get(name);
        return [name, new Map([...side.peakMb, ...(runs ? ([["", runs]] as const) : [])])];
      }),
    );
  }

  close(): void {
    for (const side of this.sides.values()) side.close();
    this.second.close();
  }
}
