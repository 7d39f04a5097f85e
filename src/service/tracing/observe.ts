/** Runs cases on one side with the calls of its modules observed. */
import { mkdir, readdir, readFile, rm, writeFile } from "node:fs/promises";
import path from "node:path";
import type { Order } from "@/core/cases/hand-over";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import type { PortModule } from "@/core/pairing/modules";
import { type TracedCall, toCallTree } from "@/core/tracing/call-tree";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { environmentFor } from "@/engine/process/environment";
import { runToEnd } from "@/engine/process/run";
import { fixedEnvironment } from "@/engine/runs/fixed-environment";
import { Scratch } from "@/engine/runs/scratch";
import { noDriver } from "@/engine/toolchains/toolchains";
import { SideAnswers } from "@/service/check/side-answers";
import { prepareSide, programOf, sideEnvironment } from "@/service/check/sides";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

/** A side, with the files whose calls are observed. */
export type Observed = {
  readonly open: OpenPort;
  readonly side: OpenSide;
  /** `original`, or the twin's name. */
  readonly name: string;
  readonly files: readonly string[];
  readonly filesOf: (module: PortModule) => readonly string[];
  readonly order: (item: SharedCase) => Order | null;
  readonly signal?: AbortSignal | undefined;
};

type Recorder = NonNullable<(typeof DRIVERS)[string]["recording"]>;

/**
 * The outermost calls of each case, by its id. The side is built once for all calls and steps, and once for all program runs.
 * Throws SideTwinError where the side cannot be prepared, or its language is not observed.
 */
export async function observeCases(
  items: readonly SharedCase[],
  observed: Observed,
): Promise<Map<string, readonly TracedCall[]>> {
  const recorder = DRIVERS[observed.side.language]?.recording;
  if (!recorder) throw noDriver(observed.side.language);
  const calls = items.filter((item) => !isRunCase(item));
  const runs = items.filter(isRunCase);
  const [ofCalls, ofRuns] = await Promise.all([
    calls.length > 0 ? observeCalls(calls, observed, recorder) : [],
    runs.length > 0 ? observeRuns(runs, observed, recorder) : [],
  ]);
  return new Map([...ofCalls, ...ofRuns]);
}

async function observeCalls(
  items: readonly SharedCase[],
  observed: Observed,
  recorder: Recorder,
): Promise<Map<string, readonly TracedCall[]>> {
  const { open, side, name, files, signal, order, filesOf } = observed;
  await prepareSide(open, side, name, { signal, answersFolder: null });
  const answers = new SideAnswers({
    open,
    side,
    name,
    jobs: 1,
    ...(signal ? { signal } : {}),
    answersFolder: null,
    resume: null,
    fresh: true,
    lines: false,
    observe: (await recorder.sources(side.folder, files)) ?? files,
    onVersion: () => undefined,
  });
  const found = new Map<string, readonly TracedCall[]>();
  try {
    const arrived = (index: number, { trace }: { readonly trace?: unknown }) => {
      const item = items[index];
      if (item) found.set(item.id, toCallTree(Array.isArray(trace) ? trace : []));
    };
    await answers.feed(items, { order, files: filesOf, arrived });
  } finally {
    answers.close();
  }
  return found;
}

/** Programs may be built of their sources: a copy with probes is prepared as the side is, and runs them one after another. */
async function observeRuns(
  items: readonly RunCase[],
  observed: Observed,
  recorder: Recorder,
): Promise<Map<string, readonly TracedCall[]>> {
  const { open, side, name, files, signal } = observed;
  const scratch = await Scratch.make(side.folder);
  try {
    const copy = { ...side, folder: scratch.folder };
    // Read before the files change: the recorder looks for names in them.
    const observed = await recorder.settings(copy.folder, files);
    for (const [file, text] of Object.entries((await recorder.sources(copy.folder, files)) ?? {}))
      await writeFile(path.join(copy.folder, file), text);
    await prepareSide(open, copy, name, { signal, answersFolder: null });
    if (items.length > 1) await scratch.settle();
    const command = await programOf(copy, name);
    const found = new Map<string, readonly TracedCall[]>();
    for (const item of items) {
      if (signal?.aborted) break;
      found.set(item.id, await observeRun(item, { open, side: copy, scratch, recorder, observed, command, signal }));
      if (items.length > 1) await scratch.restore();
    }
    return found;
  } finally {
    await scratch.remove();
  }
}

type Copy = {
  readonly open: OpenPort;
  readonly side: OpenSide;
  readonly scratch: Scratch;
  readonly recorder: Recorder;
  readonly observed: Awaited<ReturnType<Recorder["settings"]>>;
  readonly command: readonly string[];
  readonly signal: AbortSignal | undefined;
};

async function observeRun(
  item: RunCase,
  { open: { port }, side, scratch, recorder, observed, command, signal }: Copy,
): Promise<TracedCall[]> {
  const beside = path.dirname(scratch.folder);
  const out = path.join(beside, "calls");
  const settings = path.join(beside, "settings.json");
  await rm(out, { recursive: true, force: true });
  await mkdir(out);
  await writeFile(settings, JSON.stringify({ ...observed, out, trace: true }));
  await scratch.lay(item.run.files);
  const started = recorder.start([...command, ...item.run.argv], { home: driversFolder(), settings });
  const env = { ...sideEnvironment(port, side), ...item.run.env };
  await runToEnd(started.command, {
    cwd: scratch.folder,
    env: {
      ...environmentFor(env),
      ...joined(
        started.environment,
        await fixedEnvironment(
          { language: side.language, command, root: side.folder, env },
          { now: item.now ?? port.now, seed: item.seed ?? port.seed },
        ),
      ),
      TMPDIR: scratch.temporary,
    },
    stdin: item.run.stdin,
    writable: [beside],
    limits: port.limits,
    ...(signal ? { signal } : {}),
  });
  const events: unknown[] = [];
  for (const file of (await readdir(out)).sort())
    for (const line of (await readFile(path.join(out, file), "utf8")).split("\n")) events.push(parse(line));
  return toCallTree(events);
}

/** Two environments; variables of both that list options or folders have both. */
function joined(
  first: Readonly<Record<string, string>>,
  second: Readonly<Record<string, string>>,
): Record<string, string> {
  const both = Object.keys(second).filter((name) => name in first);
  const separator = (name: string) => (name.endsWith("PATH") ? path.delimiter : " ");
  return {
    ...first,
    ...second,
    ...Object.fromEntries(both.map((name) => [name, `${first[name]}${separator(name)}${second[name]}`])),
  };
}

function parse(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    // A process that was killed leaves half a line.
    return null;
  }
}
