/** Program runs of one side: each in a scratch copy of its folder, at most `jobs` at a time. */
import path from "node:path";
import type { SideResult } from "@/core/compare/answer";
import { toErrorRecord } from "@/core/errors";
import type { RunCase } from "@/core/formats/case-line";
import type { Limits } from "@/core/formats/port-file";
import type { Driver, Lines } from "@/engine/drivers/driver";
import { DRIVERS, driversFolder, fromAllDrivers } from "@/engine/drivers/index";
import { environmentFor } from "@/engine/process/environment";
import { killStrays, newMark } from "@/engine/process/group";
import { describeEnd, type RunRecord, runToEnd } from "@/engine/process/run";
import { fixedEnvironment } from "@/engine/runs/fixed-environment";
import { Scratch } from "@/engine/runs/scratch";

/** How the program of a side is run. */
export type ProgramOptions = {
  /** The command, its program resolved. */
  readonly command: readonly string[];
  readonly root: string;
  /** The program's language: decides how its clock is fixed and its lines traced. */
  readonly language: string;
  readonly env: Readonly<Record<string, string>>;
  /** The fixed clock and the seed of random numbers, if set. */
  readonly now?: string;
  readonly seed?: number;
  readonly limits: Limits;
  readonly jobs: number;
  readonly signal?: AbortSignal;
  /** How lines are traced, where the language's own way does not do: `root` is a copy with probes. */
  readonly tracing?: NonNullable<Driver["tracing"]>;
};

/** The result of a run, with its lines if traced. */
export type ProgramAnswer = SideResult & {
  readonly lines?: Lines;
  /** The most memory that was seen, in megabytes; short programs may end unseen. */
  readonly peakMb?: number;
};

/** Everything that determines the answer of a program run besides code and port. */
export const runText = (item: RunCase): string =>
  JSON.stringify([item.run, item.now, item.seed, ...(isTimed(item) ? ["times"] : [])]);

const isTimed = (item: RunCase): boolean => item.observe.includes("times");

/**
 * Runs the cases and hands over each answer as it comes. `trace` also reports the lines run, but not for
 * a case that observes times, which tracing would change.
 */
export async function runPrograms(
  cases: readonly RunCase[],
  options: ProgramOptions,
  onAnswer: (item: RunCase, answer: ProgramAnswer) => void,
  trace = false,
): Promise<void> {
  let next = 0;
  const mark = newMark();
  const worker = async (): Promise<void> => {
    const scratch = await Scratch.make(options.root);
    try {
      for (let item = cases[next++]; item && !options.signal?.aborted; item = cases[next++]) {
        const answer = await runOne(item, scratch, { ...options, mark }, trace && !isTimed(item));
        if (!options.signal?.aborted) onAnswer(item, answer);
      }
    } finally {
      await scratch.remove();
    }
  };
  await Promise.all(Array.from({ length: Math.min(options.jobs, cases.length) }, worker));
  killStrays(mark);
}

async function runOne(
  item: RunCase,
  scratch: Scratch,
  options: ProgramOptions & { readonly mark: string },
  trace: boolean,
): Promise<ProgramAnswer> {
  try {
    await scratch.lay(item.run.files);
    const tracer = trace ? tracerOf(options) : null;
    const out = `${scratch.folder}.lines`;
    const places = {
      home: driversFolder(),
      out,
      cache: path.join(path.dirname(scratch.folder), "code"),
      root: scratch.folder,
    };
    const { command: base, environment } = tracer?.start(options.command, places) ?? {
      command: options.command,
      environment: {},
    };
    const given = { ...options.env, ...item.run.env };
    const fixed = await fixedEnvironment(
      { ...options, env: given },
      { now: item.now ?? options.now, seed: item.seed ?? options.seed },
    );
    const record = await runToEnd([...base, ...item.run.argv], {
      cwd: scratch.folder,
      env: {
        ...environmentFor(given),
        ...fixed,
        ...environment,
        ...(isTimed(item) ? fromAllDrivers((driver) => driver.unbuffered) : {}),
        TMPDIR: scratch.temporary,
      },
      stdin: item.run.stdin,
      // Its folder's parent too: there the lines it ran are written down.
      writable: [path.dirname(scratch.folder)],
      mark: options.mark,
      limits: options.limits,
      ...(options.signal ? { signal: options.signal } : {}),
    });
    const answer = { ...(await toAnswer(record, scratch, isTimed(item))), peakMb: record.peakMb };
    await scratch.restore();
    return tracer ? { ...answer, lines: await tracer.read(out, scratch.folder) } : answer;
  } catch (error) {
    const what = toErrorRecord(error).what;
    return { result: { kind: "broken", why: "would-not-load", what, lastOutput: "" }, ms: null };
  }
}

async function toAnswer(record: RunRecord, scratch: Scratch, isTimed: boolean): Promise<SideResult> {
  const { end, ms } = record;
  // A folder's own name in the output is the copy's accident, not the program's answer.
  const read = (buffer: Buffer) => buffer.toString("utf8").replaceAll(scratch.folder, ".");
  if (end.kind === "exited") {
    const files = await scratch.written();
    const times = isTimed ? { times: lineTimes(record) } : {};
    return {
      result: {
        kind: "run",
        exit: end.code,
        stdout: read(record.stdout),
        stderr: read(record.stderr),
        files,
        ...times,
      },
      ms,
    };
  }
  const why =
    end.kind === "timed-out" || end.kind === "over-limit"
      ? end.kind
      : end.kind === "failed-to-start"
        ? "would-not-load"
        : "crashed";
  const lastOutput = `${read(record.stdout).slice(-2000)}\n${read(record.stderr).slice(-2000)}`.trim();
  return { result: { kind: "broken", why, what: describeEnd(end), lastOutput }, ms };
}

/** When each line had come, to the tenth of a millisecond. */
function lineTimes({ stdout, arrivals }: RunRecord): number[] {
  const times: number[] = [];
  let piece = 0;
  for (let end = stdout.indexOf(10); end !== -1; end = stdout.indexOf(10, end + 1)) {
    while ((arrivals[piece]?.bytes ?? Number.POSITIVE_INFINITY) <= end) piece++;
    times.push(Math.round((arrivals[piece]?.ms ?? 0) * 10) / 10);
  }
  return times;
}

/** The driver that can trace a program: that of its language, or of the interpreter it names. */
function tracerOf({ command, language, tracing }: ProgramOptions): NonNullable<Driver["tracing"]> | null {
  const own = tracing ?? DRIVERS[language]?.tracing;
  return own?.canTrace(command) ? own : null;
}

/** Whether the lines of a side's program can be traced. */
export const canTrace = (options: ProgramOptions): boolean => tracerOf(options) !== null;
