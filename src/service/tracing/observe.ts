/** Runs one case on one side with the calls of its modules observed. */
import { mkdir, readdir, readFile, writeFile } from "node:fs/promises";
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

/** The outermost calls. Throws SideTwinError where the side cannot be prepared, or its language is not observed. */
export async function observeCase(item: SharedCase, observed: Observed): Promise<TracedCall[]> {
  const recorder = DRIVERS[observed.side.language]?.recording;
  if (!recorder) throw noDriver(observed.side.language);
  return isRunCase(item) ? observeRun(item, observed, recorder) : observeCall(item, observed, recorder);
}

type Recorder = NonNullable<(typeof DRIVERS)[string]["recording"]>;

async function observeCall(item: SharedCase, observed: Observed, recorder: Recorder): Promise<TracedCall[]> {
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
  let trace: unknown;
  try {
    const arrived = (_index: number, answer: { readonly trace?: unknown }) => {
      trace = answer.trace;
    };
    await answers.feed([item], { order, files: filesOf, arrived });
  } finally {
    answers.close();
  }
  return toCallTree(Array.isArray(trace) ? trace : []);
}

/** Programs may be built of their sources: a copy with probes is prepared as the side is, and run. */
async function observeRun(item: RunCase, observed: Observed, recorder: Recorder): Promise<TracedCall[]> {
  const { open, side, name, files, signal } = observed;
  const scratch = await Scratch.make(side.folder);
  try {
    const copy = { ...side, folder: scratch.folder };
    // Whatever it looks for in the files as they were is read before they change.
    const told = await recorder.settings(copy.folder, files);
    for (const [file, text] of Object.entries((await recorder.sources(copy.folder, files)) ?? {}))
      await writeFile(path.join(copy.folder, file), text);
    await prepareSide(open, copy, name, { signal, answersFolder: null });
    const out = path.join(path.dirname(scratch.folder), "calls");
    const settings = path.join(path.dirname(scratch.folder), "settings.json");
    await mkdir(out);
    await writeFile(settings, JSON.stringify({ ...told, out, trace: true }));
    await scratch.lay(item.run.files);
    const command = [...(await programOf(copy, name)), ...item.run.argv];
    const started = recorder.start(command, { home: driversFolder(), settings });
    const { port } = open;
    await runToEnd(started.command, {
      cwd: copy.folder,
      env: {
        ...environmentFor({ ...sideEnvironment(port, side), ...item.run.env }),
        ...joined(
          started.environment,
          fixedEnvironment(side.language, { now: item.now ?? port.now, seed: item.seed ?? port.seed }),
        ),
        TMPDIR: scratch.temporary,
      },
      stdin: item.run.stdin,
      writable: [path.dirname(scratch.folder)],
      limits: port.limits,
      ...(signal ? { signal } : {}),
    });
    const events: unknown[] = [];
    for (const file of (await readdir(out)).sort())
      for (const line of (await readFile(path.join(out, file), "utf8")).split("\n")) events.push(parse(line));
    return toCallTree(events);
  } finally {
    await scratch.remove();
  }
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
