/**
 * Proven lines: executable lines of the original run by an agreeing case. Calls are done if the driver reports lines
 * with each answer; other calls and program runs run once more with counting on.
 */
import { createHash } from "node:crypto";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import type { Lines } from "@/engine/drivers/driver";
import { DRIVERS } from "@/engine/drivers/index";
import { canTrace, type ProgramAnswer, type ProgramOptions, runPrograms } from "@/engine/runs/program-runs";
import { executableLines, type FileFacts } from "@/service/check/executable-lines";
import { probeProgram } from "@/service/check/probed-program";
import type { Feed, SideAnswers } from "@/service/check/side-answers";
import type { OpenPort } from "@/service/port/open-port";

/** Executable and proven lines, by module and file. */
export type ProvenLines = {
  /** File → executable lines, ascending. */
  readonly executable: Readonly<Record<string, readonly number[]>>;
  /** File → those among them that an agreeing case ran through. */
  readonly proven: Readonly<Record<string, readonly number[]>>;
};

type ProveOptions = {
  readonly open: OpenPort;
  /** Agreement on one twin proves nothing for another. */
  readonly twin: string;
  readonly agreeing: readonly SharedCase[];
  /** The original, when nothing else asks it. */
  readonly side: SideAnswers;
  readonly feed: (arrived: Feed["arrived"]) => Feed;
  /** Line sets of agreeing cases, if the driver reports them with each answer. */
  readonly lines: ReadonlySet<Lines>;
  readonly program: ProgramOptions | null;
  /** Agreeing program runs whose lines are not among these. */
  readonly untraced: readonly RunCase[];
  /** Takes the lines of a run, so that it need not be traced again. */
  readonly onTraced: (item: RunCase, lines: Lines) => void;
};

/** Module → its lines. Empty if lines cannot be traced in the original's language. */
export async function proveLines(options: ProveOptions): Promise<ReadonlyMap<string, ProvenLines>> {
  const { open, agreeing } = options;
  const how = DRIVERS[open.original.language]?.lines ?? null;
  if (how === null) return new Map();
  const run = new Map<string, Set<number>>();
  const met = new Set<Lines>();
  const note = (lines: Lines | undefined) => {
    // Most cases run one of few sets of lines, and the same set is the same object.
    if (!lines || met.has(lines)) return;
    met.add(lines);
    for (const [file, numbers] of Object.entries(lines)) {
      const known = run.get(file) ?? new Set();
      for (const number of numbers) known.add(number);
      run.set(file, known);
    }
  };
  const calls = agreeing.filter((item) => !isRunCase(item));
  const facts = how === "each" ? await gatherLines(options, calls, note) : await countLines(options, calls, note);
  for (const lines of options.lines) note(lines);
  await traceRuns(options, note);
  return new Map(
    open.modules.map((module) => {
      // With nothing in its place a line cannot be proven, even if a program ran through it and agreed.
      const ported = (module.twins[options.twin]?.length ?? 0) > 0;
      return [module.name, linesOf(module.original, facts, ported ? run : new Map())];
    }),
  );
}

type Note = (lines: Lines | undefined) => void;

async function gatherLines(
  options: ProveOptions,
  calls: readonly SharedCase[],
  note: Note,
): Promise<ReadonlyMap<string, FileFacts>> {
  const facts = await executableLines(options.side, filesOfOriginal(options.open));
  // To call a section its module is loaded: an agreeing case runs the lines outside functions as well.
  const loaded = new Set(calls.map((item) => item.module));
  for (const module of options.open.modules) {
    if (loaded.has(module.name))
      note(Object.fromEntries(module.original.map((file) => [file, facts.get(file)?.load ?? []])));
  }
  return facts;
}

/** Counting needs a pass to itself, module by module; a module whose code and agreeing cases are the same is not run again. */
async function countLines(
  options: ProveOptions,
  calls: readonly SharedCase[],
  note: Note,
): Promise<ReadonlyMap<string, FileFacts>> {
  const { open, side } = options;
  for (const module of open.modules) {
    const own = calls.filter((item) => item.module === module.name);
    if (own.length > 0) note(await countModule(options, module.original, own));
  }
  return executableLines(side, filesOfOriginal(open));
}

const filesOfOriginal = (open: OpenPort) => new Set(open.modules.flatMap((module) => module.original));

async function countModule(
  { side, feed }: ProveOptions,
  files: readonly string[],
  cases: readonly SharedCase[],
): Promise<Lines | undefined> {
  const kept = await side.keptFor(files);
  const text = createHash("sha256").update(JSON.stringify(cases)).digest("hex");
  const known = kept?.get(text)?.lines;
  if (known) return known;
  const counting = await side.alone();
  const ask = (action: "start" | "take") =>
    new Promise<Lines | undefined>((resolve) => {
      counting.pool.add([{ request: { op: "coverage", action }, tries: 0, done: (answer) => resolve(answer.lines) }]);
      counting.pool.drained().then(() => resolve(undefined));
    });
  await ask("start");
  await counting.side.feed(
    cases,
    feed(() => undefined),
  );
  const lines = await ask("take");
  if (lines && !side.terms.signal?.aborted)
    kept?.keep(text, { result: { kind: "skipped", why: "asked for lines only" }, ms: null, lines });
  return lines;
}

/** Runs not traced the first time: cached without lines, or with observed times. */
async function traceRuns({ open, program, untraced, onTraced }: ProveOptions, note: Note): Promise<void> {
  if (!program || untraced.length === 0) return;
  const probed = canTrace(program) ? null : await probeProgram(open, program);
  if (!probed && !canTrace(program)) return;
  const given = new Map(
    untraced.map((item) => [{ ...item, observe: item.observe.filter((part) => part !== "times") }, item]),
  );
  const arrived = (plain: RunCase, { lines }: ProgramAnswer) => {
    note(lines);
    const item = given.get(plain);
    if (item && lines) onTraced(item, lines);
  };
  await runPrograms([...given.keys()], { ...program, ...probed?.terms }, arrived, true).finally(() => probed?.remove());
}

function linesOf(
  files: readonly string[],
  facts: ReadonlyMap<string, { lines: readonly number[] }>,
  run: ReadonlyMap<string, ReadonlySet<number>>,
): ProvenLines {
  const executable: Record<string, readonly number[]> = {};
  const proven: Record<string, readonly number[]> = {};
  for (const file of files) {
    const lines = facts.get(file)?.lines ?? [];
    executable[file] = lines;
    proven[file] = lines.filter((line) => run.get(file)?.has(line));
  }
  return { executable, proven };
}
