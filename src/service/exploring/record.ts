/** Runs a program of the original, or its tests, and turns the calls into the original's modules into shared cases. */
import { mkdir, mkdtemp, realpath, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { chooseCases } from "@/core/exploring/choose";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { fromNotation } from "@/core/values/value";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { describeEnd, type RunRecord } from "@/engine/process/run";
import { type RecordedCall, type Recording, readRecording } from "@/engine/recording/read-calls";
import { noDriver } from "@/engine/toolchains/toolchains";
import { prepareSide, runInSide } from "@/service/check/sides";
import { keepCases } from "@/service/edits/keep-cases";
import {
  answerText,
  countLines,
  type ExploreEnd,
  LeftOut,
  modulesFor,
  named,
  reachedBefore,
  whyNoCase,
} from "@/service/exploring/explore";
import { type Callable, Original } from "@/service/exploring/original";
import { type OpenPort, openPort, readCases } from "@/service/port/open-port";

const RECORD_TIME_MS = 60 * 60_000;
const DEFAULT_MOST = 200;
/** Replaying takes time; of more calls than this a section's later ones are left out. */
const MAX_REPLAYED = 5000;

export type RecordOptions = {
  /** The program and its arguments, run in the original's folder. */
  readonly command: readonly string[];
  readonly modules?: readonly string[];
  /** The case file to write to, relative to the port file; one named after recording by default. */
  readonly into?: string | undefined;
  readonly most?: number | undefined;
  /** Keeps calls that reach nothing new too. */
  readonly all?: boolean | undefined;
  readonly signal?: AbortSignal | undefined;
  readonly onStep?: (words: string) => void;
};

/** The end of a recording: its figures, how the program ended and what it printed. */
export type RecordEnd = ExploreEnd & { readonly program: { readonly end: string; readonly printed: string } };

/** Throws SideTwinError: `bad-input` where nothing was recorded, `toolchain-missing` for a language that is not recorded. */
export async function recordCases(file: string, options: RecordOptions): Promise<RecordEnd> {
  const open = await openPort(file);
  const all = await readCases(open);
  const modules = modulesFor(open, options.modules ?? []);
  const fileToModule = new Map(modules.flatMap(({ name, original }) => original.map((own) => [own, name] as const)));
  options.onStep?.(`running ${options.command.join(" ")}`);
  const { recording, record } = await runRecorded(open, [...fileToModule.keys()], options);
  const program = {
    end: describeEnd(record.end),
    printed: record.stdout.toString("utf8") + record.stderr.toString("utf8"),
  };
  if (recording.seen === 0 && recording.calls.length === 0) throw nothingSeen(options.command, program);
  const leftOut = new LeftOut();
  for (const [why, count] of recording.lost) leftOut.add(why, count);
  const candidates = recording.calls.slice(0, MAX_REPLAYED).flatMap((call) => {
    const module = fileToModule.get(call.file);
    return module === undefined ? [] : [{ call, item: toCase(call, module) }];
  });
  options.onStep?.(`replaying ${candidates.length} calls`);
  const original = await Original.open(open, modules, { signal: options.signal });
  try {
    const reached = await reachedBefore(original, all, modules);
    const before = countLines(reached, original.executable);
    const sound = await replay(original, candidates, leftOut);
    for (const feature of original.loaded(sound.map(({ item }) => item))) if (sound.length > 0) reached.add(feature);
    const most = options.most ?? DEFAULT_MOST;
    const chosen = options.all ? sound.slice(0, most) : chooseCases(sound, reached, most);
    const items = named(
      chosen.map(({ item }) => item),
      all,
      "recorded",
    );
    const written = recording.calls.reduce((sum, call) => sum + ("steps" in call ? call.steps.length : 1), 0);
    leftOut.add(
      "alike to another call",
      Math.max(0, recording.seen - written - [...recording.lost.values()].reduce((sum, count) => sum + count, 0)),
    );
    leftOut.add("reaches nothing new", sound.length - chosen.length);
    if (items.length > 0 && !options.signal?.aborted) await keepCases(open, all, items, "recorded", options.into);
    const after = countLines([...reached, ...chosen.flatMap(({ features }) => features)], original.executable);
    const lines = { before, after, of: original.executable.size };
    return {
      seen: recording.seen,
      kept: items.length,
      leftOut: leftOut.list(),
      lines,
      cases: items.map(({ id }) => id),
      program,
    };
  } finally {
    original.close();
  }
}

type Candidate = { readonly call: RecordedCall; readonly item: Callable };

/** The candidates that answer from fresh state as they did in the program, and the same each time. */
async function replay(original: Original, candidates: readonly Candidate[], leftOut: LeftOut) {
  const items = candidates.map(({ item }) => item);
  const tried = await original.try(items);
  const again = await original.again(items);
  const third = await original.again(items);
  return tried.flatMap((entry, index) => {
    const why =
      whyNoCase(entry.answer) ??
      (again[index]
        ? whyNotSame([entry.answer, again[index], third[index] ?? again[index]], candidates[index])
        : "it was not run");
    if (why === null) return [entry];
    leftOut.add(why);
    return [];
  });
}

function whyNotSame(answers: readonly [PoolAnswer, ...PoolAnswer[]], candidate: Candidate | undefined): string | null {
  if (new Set(answers.map(answerText)).size > 1) return "its answer is not the same each time";
  const { result } = answers[0];
  const found = result.kind === "call" ? [result] : result.kind === "steps" ? result.steps : [];
  const areSame = (candidate?.call.answers ?? []).every((recorded, index) => {
    const now = found[index];
    if (recorded === undefined || now === undefined) return true;
    const hasThrown = "thrown" in now && now.thrown !== undefined;
    if (recorded === "thrown" || hasThrown) return hasThrown === (recorded === "thrown");
    return "value" in now && isSame(now.value ?? null, recorded);
  });
  return areSame ? null : "its answer rests on state that calls before it left";
}

const isSame = (left: Json, right: Json): boolean =>
  canonicalText(fromNotation(left), DEFAULT_EQUALITY) === canonicalText(fromNotation(right), DEFAULT_EQUALITY);

function toCase(call: RecordedCall, module: string): Callable {
  const shared = { id: "recorded", module };
  if ("steps" in call) return { ...shared, steps: [...call.steps] };
  return { ...shared, call: call.section, args: [...call.args], kwargs: { ...call.kwargs } };
}

async function runRecorded(
  open: OpenPort,
  files: readonly string[],
  { command, signal }: RecordOptions,
): Promise<{ recording: Recording; record: RunRecord }> {
  const side = open.original;
  const recorder = DRIVERS[side.language]?.recording;
  if (!recorder) throw noDriver(side.language);
  await prepareSide(open, side, "original", { signal, answersFolder: null });
  const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-record-")));
  try {
    const out = path.join(scratch, "calls");
    const settings = path.join(scratch, "settings.json");
    await mkdir(out);
    await writeFile(settings, JSON.stringify({ ...(await recorder.settings(side.folder, files)), out }));
    const record = await runInSide(open, side, {
      command,
      scratch,
      signal,
      timeMs: RECORD_TIME_MS,
      wrap: (found) => recorder.start(found, { home: driversFolder(), settings }),
    });
    return { recording: await readRecording(out), record };
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

const MAX_SHOWN = 600;

function nothingSeen(command: readonly string[], { end, printed }: RecordEnd["program"]): SideTwinError {
  const last = printed.trim().slice(-MAX_SHOWN);
  return new SideTwinError({
    code: "bad-input",
    what: `"${command.join(" ")}" made no call into the modules: ${end}${last === "" ? "" : `\n${last}\n`}`,
    next: "Run it in the original's folder to see whether it works, and name modules that it uses.",
  });
}
