/** Prepares a side: driver for its sections, run command, and `prepare`. */
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { mkdtemp, realpath, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { PortFile } from "@/core/formats/port-file";
import { Pool } from "@/engine/bridge/pool";
import type { TracedCommand } from "@/engine/drivers/driver";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { listFiles } from "@/engine/files/tree";
import { findProgram } from "@/engine/find-program";
import { environmentFor, resolveCommand } from "@/engine/process/environment";
import { describeEnd, type RunRecord, runToEnd } from "@/engine/process/run";
import { callEnvironment } from "@/engine/runs/fixed-environment";
import { Scratch } from "@/engine/runs/scratch";
import { findSandbox } from "@/engine/sandbox/sandbox";
import { findRuntime, noDriver, resolveProgram } from "@/engine/toolchains/toolchains";
import { buildSide } from "@/service/check/build-side";
import { cachesIn, toolFolder } from "@/service/check/tool-caches";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

const PREPARE_TIME_MS = 10 * 60_000;

/** `original`, or the name of a twin. */
export type SideName = "original" | string;

/** The environment that the port asks for on a side. */
export const sideEnvironment = (port: PortFile, side: OpenSide): Record<string, string> => ({
  ...port.env,
  ...side.env,
});

/** Starts the drivers of a side. Throws SideTwinError `toolchain-missing`. */
export async function startPool(
  open: OpenPort,
  side: OpenSide,
  options: {
    jobs: number;
    signal?: AbortSignal;
    env?: Record<string, string>;
    /** Whether each answer reports the lines it ran, if the driver can. */
    lines?: boolean;
    /** Settings for the drivers on the files whose calls they observe. */
    observe?: unknown;
    onVersion?: (version: string, program: string) => void;
  },
): Promise<Pool> {
  const driver = DRIVERS[side.language];
  if (!driver) throw noDriver(side.language);
  const runtime = await findRuntime(side.language, side.call?.runtime);
  const { limits } = open.port;
  const program = path.join(driversFolder(), driver.program);
  const given = { ...sideEnvironment(open.port, side), ...options.env };
  const scratches = isSmall(side)
    ? await Promise.all(Array.from({ length: options.jobs }, () => Scratch.make(side.folder)))
    : [];
  return new Pool({
    scratch: scratches.map((scratch) => scratch.folder),
    onStop: () => {
      // Folders that the code made inaccessible are left to the system.
      for (const scratch of scratches) scratch.remove().catch(() => undefined);
    },
    command: driver.build
      ? (
          await buildSide(open, side, {
            build: driver.build,
            runtime,
            lines: options.lines ?? false,
            signal: options.signal,
          })
        ).command
      : [...runtime, ...driver.flags(limits.memoryMb), program],
    cwd: side.folder,
    env: { ...environmentFor(given), ...(await callEnvironment(driver, given)) },
    hello: {
      root: side.folder,
      path: side.call?.path ?? ["."],
      outputKb: limits.outputKb,
      ...(options.lines ? { lines: true } : {}),
      ...(options.observe === undefined ? {} : { observe: options.observe }),
    },
    limits,
    jobs: options.jobs,
    ...(options.signal ? { signal: options.signal } : {}),
    onVersion: (version) => options.onVersion?.(version, runtime[0] ?? ""),
  });
}

/** Copying a large tree for its drivers would take longer than most checks; they work in the folder itself, read only. */
const isSmall = (side: OpenSide): boolean => side.files.length <= 3000;

/** The command of a side's program. Throws SideTwinError when the port file gives none or it is not to be found. */
export async function programOf(side: OpenSide, name: SideName): Promise<string[]> {
  if (!side.run) {
    throw new SideTwinError({
      code: "bad-input",
      what: `There are "run" cases, but the port file gives no "run" command for ${name}`,
      where: { file: "side-twin.json", key: name === "original" ? "original.run" : "twins" },
      next: 'Add "run": ["program", "argument", …].',
    });
  }
  return resolveProgram(resolveCommand(side.run, side.folder));
}

/** A `prepare` command that ran: wall time, and the end of its output. */
export type Prepared = { readonly command: readonly string[]; readonly seconds: number; readonly printed: string };

const MAX_PRINTED = 4000;

const commandsToPrepare = (side: OpenSide): readonly (readonly string[])[] => [
  ...(side.prepare ?? []),
  ...(side.call?.prepare ?? []),
];

/**
 * Runs a side's `prepare` commands in its folder, unless they ran before and no file has changed since; `fresh` always
 * runs them. Returns those that ran. Throws SideTwinError `prepare-failed` with their output.
 */
export async function prepareSide(
  open: OpenPort,
  side: OpenSide,
  name: SideName,
  options: {
    readonly signal: AbortSignal | undefined;
    readonly answersFolder: string | null;
    readonly fresh?: boolean;
  },
): Promise<Prepared[]> {
  const { signal, answersFolder, fresh = false } = options;
  const prepared: Prepared[] = [];
  if (commandsToPrepare(side).length === 0) return prepared;
  const place = createHash("sha256").update(`${open.file}\0${name}\0prepared`).digest("hex").slice(0, 24);
  const note = answersFolder === null ? null : path.join(answersFolder, `${place}.prepared`);
  const isDone = note && existsSync(note) && readFileSync(note, "utf8") === (await listingOf(side));
  if (isDone && !fresh) return prepared;
  const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-prepare-")));
  try {
    prepared.push(...(await runPrepare(open, side, { name, scratch, signal })));
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
  if (signal?.aborted || !note) return prepared;
  mkdirSync(path.dirname(note), { recursive: true });
  writeFileSync(note, await listingOf(side));
  return prepared;
}

/**
 * Runs one of a side's own commands in its folder, which it may write to, as it may to `scratch`. Never rejects: see
 * `runToEnd`.
 */
export async function runInSide(
  open: OpenPort,
  side: OpenSide,
  terms: {
    readonly command: readonly string[];
    readonly scratch: string;
    readonly timeMs: number;
    readonly signal: AbortSignal | undefined;
    /** Changes the command once its program is found, and adds to the environment. */
    readonly wrap?: (command: readonly string[]) => TracedCommand;
  },
): Promise<RunRecord> {
  const { command, scratch, timeMs, signal, wrap } = terms;
  const found = await resolveProgram(resolveCommand(command, side.folder));
  const kept = await toolFolder(open.file);
  const wrapped = wrap?.(found) ?? { command: found, environment: {} };
  const env = {
    ...environmentFor({ ...sideEnvironment(open.port, side), ...wrapped.environment }),
    ...cachesIn(scratch, kept),
  };
  const [program = ""] = wrapped.command;
  const place = program.includes("/") ? path.resolve(side.folder, program) : program;
  // The sandbox would end like a program that failed.
  if (!findProgram(place, env.PATH)) return notStarted("it was not found");
  return runToEnd(wrapped.command, {
    cwd: side.folder,
    env,
    writable: [side.folder, scratch, kept],
    network: side.prepareNetwork ?? false,
    isOwn: true,
    limits: { timeMs, outputKb: 64 * 1024 },
    ...(signal ? { signal } : {}),
  });
}

const notStarted = (what: string): RunRecord => ({
  end: { kind: "failed-to-start", what },
  stdout: Buffer.alloc(0),
  stderr: Buffer.alloc(0),
  arrivals: [],
  ms: 0,
  peakMb: 0,
});

async function runPrepare(
  open: OpenPort,
  side: OpenSide,
  {
    name,
    scratch,
    signal,
  }: { readonly name: string; readonly scratch: string; readonly signal: AbortSignal | undefined },
): Promise<Prepared[]> {
  const prepared: Prepared[] = [];
  for (const command of commandsToPrepare(side)) {
    const record = await runInSide(open, side, { command, scratch, signal, timeMs: PREPARE_TIME_MS });
    const printed = `${record.stdout.toString("utf8")}\n${record.stderr.toString("utf8")}`.trim().slice(-MAX_PRINTED);
    prepared.push({ command, seconds: record.ms / 1000, printed });
    if (record.end.kind === "stopped") return prepared;
    if (record.end.kind === "exited" && record.end.code === 0) continue;
    const output = printed.slice(-1500);
    throw new SideTwinError({
      code: "prepare-failed",
      what: `Preparing ${name} with "${command.join(" ")}" failed: ${describeEnd(record.end)}${output ? `\n${output}\n` : ""}`,
      next: findSandbox() === null ? "Fix it and check again." : PREPARE_HINT,
    });
  }
  return prepared;
}

const PREPARE_HINT =
  'Fix it and check again. In the sandbox it can write to its side\'s folder only, and use the network only with "prepareNetwork": true.';

/** Every file of the side with size and time, including build outputs, and the commands. */
async function listingOf(side: OpenSide): Promise<string> {
  const files = await listFiles(side.folder, []);
  const facts = files.map((file) => {
    const found = statSync(path.join(side.folder, file), { throwIfNoEntry: false });
    return `${file}:${found?.size}:${found?.mtimeMs}`;
  });
  return createHash("sha256")
    .update(JSON.stringify([commandsToPrepare(side), side.env, facts.sort()]))
    .digest("hex");
}
