/**
 * Runs the original by itself: builds it, runs its cases (or plainly without cases), and runs them again in a different
 * environment to find nondeterministic answers early. Its answers are cached for checks of the same code.
 */

import { sectionOf } from "@/core/cases/hand-over";
import type { SideResult } from "@/core/compare/answer";
import { toErrorRecord } from "@/core/errors";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import { type Baseline, cutAround, type SeenRun } from "@/core/progress/baseline";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { DRIVERS } from "@/engine/drivers/index";
import { runPrograms, runText } from "@/engine/runs/program-runs";
import { OriginalAgain, originalFeed, programTerms } from "@/service/check/run-original";
import { SideAnswers } from "@/service/check/side-answers";
import { type Prepared, prepareSide, programOf } from "@/service/check/sides";
import { isSteady } from "@/service/check/steadiness";
import type { OpenPort } from "@/service/port/open-port";

/** Scope and callbacks of a baseline. */
export type BaselineOptions = {
  readonly jobs: number;
  readonly signal: AbortSignal;
  readonly answersFolder: string | null;
  readonly onProgress?: (progress: {
    readonly phase: "prepare" | "run" | "again";
    readonly done: number;
    readonly total: number;
  }) => void;
};

const SHOWN = 50;
const SHOWN_RUNS = 8;
const SHOWN_TEXT = 4000;

/** The program with no argument and no input. */
const PLAIN: RunCase = {
  id: "plain run",
  run: { argv: [], stdin: "", env: {}, files: {} },
  observe: ["exit", "stdout", "stderr"],
};

/** Never rejects: what keeps the original from running is the record's problem. */
export async function runBaseline(
  open: OpenPort,
  all: readonly SharedCase[],
  options: BaselineOptions,
): Promise<Baseline> {
  const isPlain = all.length === 0;
  const round = new Rounds(open, isPlain && open.original.run ? [PLAIN] : all, options);
  try {
    await round.run();
    return { ...round.summary(), isPlain, state: options.signal.aborted ? "stopped" : "complete", problem: null };
  } catch (thrown) {
    return { ...round.summary(), isPlain, state: "failed", problem: toErrorRecord(thrown) };
  } finally {
    round.close();
  }
}

class Rounds {
  private readonly answers: (PoolAnswer | undefined)[] = [];
  private readonly unsteady: { readonly index: number; readonly first: string; readonly second: string }[] = [];
  private readonly seconds = { first: 0, second: 0 };
  private readonly side: SideAnswers;
  private prepared: readonly Prepared[] = [];
  private toolchain: Baseline["toolchain"] = null;
  private again: OriginalAgain | null = null;
  private done = 0;

  constructor(
    private readonly open: OpenPort,
    private readonly cases: readonly SharedCase[],
    private readonly options: BaselineOptions,
  ) {
    const { jobs, signal, answersFolder } = options;
    const isKept = open.port.state === "kept" || cases.some((item) => item.state === "kept");
    this.side = new SideAnswers({
      open,
      side: open.original,
      name: "original",
      jobs: isKept ? 1 : jobs,
      signal,
      answersFolder,
      // Show only what was run now.
      fresh: true,
      resume: null,
      lines: DRIVERS[open.original.language]?.lines === "each",
      onVersion: (version, path) => {
        this.toolchain = { version, path };
      },
    });
  }

  async run(): Promise<void> {
    const { signal, answersFolder } = this.options;
    this.tell("prepare", 0);
    this.prepared = await prepareSide(this.open, this.open.original, "original", {
      signal,
      answersFolder,
      fresh: true,
    });
    if (signal.aborted) return;
    this.seconds.first = await timed(() => this.first());
    if (signal.aborted) return;
    this.seconds.second = await timed(() => this.second());
  }

  private async first(): Promise<void> {
    const { open, cases } = this;
    const arrived = (index: number, answer: PoolAnswer) => {
      this.answers[index] = answer;
      this.tell("run", 1);
    };
    this.tell("run", 0);
    if (cases.some((item) => !isRunCase(item))) await this.side.feed(cases, originalFeed(arrived));
    const runs = cases.filter(isRunCase);
    if (runs.length === 0 || this.options.signal.aborted) return;
    const places = new Map<SharedCase, number>(cases.map((item, index) => [item, index]));
    const command = await programOf(open.original, "original");
    const kept = await this.side.keptForRuns(command);
    await runPrograms(runs, programTerms(open, open.original, command, this.options), (item, answer) => {
      kept?.keep(runText(item), answer);
      arrived(places.get(item) ?? -1, answer);
    });
  }

  private async second(): Promise<void> {
    const { open, cases } = this;
    const places = new Map(cases.map((item, index) => [item.id, index]));
    this.again = new OriginalAgain(this.side.terms);
    this.done = 0;
    this.tell("again", 0);
    await this.again.run(cases, true, (item, second) => {
      const index = places.get(item.id) ?? -1;
      const first = this.answers[index];
      this.tell("again", 1);
      if (!first) return;
      const module = isRunCase(item) ? null : (item.module ?? null);
      const terms = { item, module, section: sectionOf(item), twin: "" };
      if (isSteady(terms, first, second, open.port)) return;
      this.unsteady.push({ index, ...cutAround(JSON.stringify(first.result), JSON.stringify(second.result)) });
    });
  }

  private tell(phase: "prepare" | "run" | "again", step: number): void {
    this.done += step;
    this.options.onProgress?.({ phase, done: this.done, total: this.cases.length });
  }

  summary(): Omit<Baseline, "state" | "problem" | "isPlain"> {
    const seen = this.cases.flatMap((item, index) => {
      const answer = this.answers[index];
      return answer ? [{ item, answer }] : [];
    });
    const broken = seen.flatMap(({ item, answer: { result } }) =>
      result.kind === "broken"
        ? [{ id: item.id, why: result.why, what: result.what, lastOutput: result.lastOutput }]
        : [],
    );
    const threw = seen.filter(({ answer }) => hasThrown(answer)).length;
    const slowest = seen
      .flatMap(({ item, answer: { ms } }) => (ms === null ? [] : [{ id: item.id, ms }]))
      .sort((one, other) => other.ms - one.ms)
      .slice(0, 5);
    const printed = seen.flatMap(({ item, answer: { result } }) =>
      (result.kind === "call" || result.kind === "steps") && result.printed !== ""
        ? [{ id: item.id, text: result.printed.slice(0, SHOWN_TEXT) }]
        : [],
    );
    return {
      prepared: this.prepared,
      toolchain: this.toolchain,
      cases: this.cases.length,
      answered: seen.filter(({ answer: { result } }) => result.kind !== "broken" && result.kind !== "skipped").length,
      threw,
      broken: broken.slice(0, SHOWN),
      brokenCount: broken.length,
      unsteady: this.unsteady.slice(0, SHOWN).flatMap(({ index, first, second }) => {
        const item = this.cases[index];
        return item ? [{ id: item.id, module: isRunCase(item) ? null : (item.module ?? null), first, second }] : [];
      }),
      unsteadyCount: this.unsteady.length,
      seconds: this.seconds,
      slowest,
      runs: seen.flatMap(({ item, answer }) => seenRun(item, answer)).slice(0, SHOWN_RUNS),
      printed: printed.slice(0, SHOWN_RUNS),
    };
  }

  close(): void {
    this.side.close();
    this.again?.close();
  }
}

async function timed(work: () => Promise<void>): Promise<number> {
  const started = performance.now();
  await work();
  return (performance.now() - started) / 1000;
}

function hasThrown({ result }: SideResult): boolean {
  if (result.kind === "call") return result.thrown !== undefined;
  return result.kind === "steps" && result.steps.some((step) => "thrown" in step);
}

function seenRun(item: SharedCase, { result, ms }: SideResult): SeenRun[] {
  if (!isRunCase(item)) return [];
  const about = { id: item.id, argv: item.run.argv, ms };
  if (result.kind === "run") {
    const { exit, stdout, stderr, files } = result;
    const cut = (text: string) => text.slice(0, SHOWN_TEXT);
    return [{ ...about, exit, stdout: cut(stdout), stderr: cut(stderr), files: Object.keys(files) }];
  }
  if (result.kind === "broken")
    return [{ ...about, exit: null, stdout: "", stderr: `${result.what}\n${result.lastOutput}`.trim(), files: [] }];
  return [];
}
