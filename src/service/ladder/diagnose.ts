/** Runs the checks of rungs on a side, and reads what they print as diagnostics (formats, section 9). */

import { mkdtemp, realpath, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { diagnostic, linesOf } from "@/core/diagnostics/diagnostic";
import { READERS } from "@/core/diagnostics/readers/index";
import { SideTwinError } from "@/core/errors";
import type { CheckCommand, Rung } from "@/core/formats/port-file";
import type { PlacedDiagnostic } from "@/core/ladder/ladder";
import { languageOf } from "@/core/source/language-of";
import type { Section } from "@/core/source/section";
import { decodeOutput, readText } from "@/engine/files/text";
import { findProgram } from "@/engine/find-program";
import { environmentFor, resolveCommand } from "@/engine/process/environment";
import { describeEnd, type RunRecord } from "@/engine/process/run";
import { parseSource } from "@/engine/source/parse";
import { resolveProgram } from "@/engine/toolchains/toolchains";
import type { WarmTools } from "@/engine/warm/warm-tools";
import { readWithPattern } from "@/engine/within";
import { runInSide, sideEnvironment } from "@/service/check/sides";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

const CHECK_TIME_MS = 10 * 60_000;

/** A check that ran: `rest` are lines that no reader understood. */
export type DiagnoseRun = {
  readonly side: string;
  readonly rung: string;
  readonly command: readonly string[];
  readonly exit: number | null;
  readonly seconds: number;
  readonly diagnostics: readonly PlacedDiagnostic[];
  readonly text: readonly string[];
};

export type DiagnoseOptions = {
  /** `original` or a twin; every twin where it is left out. */
  readonly side?: string | undefined;
  readonly rung?: string | undefined;
  readonly module?: string | undefined;
  readonly signal?: AbortSignal | undefined;
  /** Tools that are kept running between two runs; without them each check is started anew. */
  readonly warm?: WarmTools | undefined;
  readonly onRun?: ((side: string, rung: string) => void) | undefined;
};

/** Runs the wanted checks one after another. Throws SideTwinError for an unknown side, rung or module. */
export async function diagnosePort(open: OpenPort, options: DiagnoseOptions = {}): Promise<DiagnoseRun[]> {
  const rungs = checkedRungs(open, options);
  const runs: DiagnoseRun[] = [];
  for (const side of sidesFor(open, options.side)) {
    for (const rung of rungs) {
      if (rung.twin !== undefined && side.name !== "original" && rung.twin !== side.name) continue;
      options.onRun?.(side.name, rung.name);
      const run = await runCheckCommand(open, side, rung.check, options);
      const wanted = options.module;
      const own = run.diagnostics.filter(({ module }) => wanted === undefined || module === wanted);
      runs.push({ ...run, rung: rung.name, diagnostics: own });
      if (options.signal?.aborted) return runs;
    }
  }
  return runs;
}

type NamedSide = { readonly name: string; readonly side: OpenSide };

/** The sides that are meant. Throws SideTwinError for an unknown one. */
export function sidesFor(open: OpenPort, wanted: string | undefined): NamedSide[] {
  const all = [{ name: "original", side: open.original }, ...open.twins.map((side) => ({ name: side.name, side }))];
  const found = all.filter(({ name }) => (wanted === undefined ? name !== "original" : name === wanted));
  if (found.length > 0) return found;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no side "${wanted}"`,
    next: `Known sides: ${all.map(({ name }) => name).join(", ")}.`,
  });
}

type CheckedRung = Rung & { readonly check: CheckCommand };

function checkedRungs(open: OpenPort, { rung, module, side }: DiagnoseOptions): CheckedRung[] {
  const { ladder } = open.port;
  if (rung !== undefined && !ladder.some(({ name }) => name === rung))
    throw new SideTwinError({
      code: "not-found",
      what: `There is no rung "${rung}" on the ladder`,
      next:
        ladder.length > 0 ? `Rungs: ${ladder.map(({ name }) => name).join(", ")}.` : 'Add a "ladder" to the port file.',
    });
  if (module !== undefined && !open.modules.some(({ name }) => name === module))
    throw new SideTwinError({
      code: "not-found",
      what: `There is no module "${module}" in ${open.port.name}`,
      next: `Modules: ${open.modules
        .map(({ name }) => name)
        .slice(0, 12)
        .join(", ")}.`,
    });
  const wanted = ladder.filter(({ name }) => rung === undefined || name === rung);
  const checked = wanted.flatMap((entry) => (entry.check ? [{ ...entry, check: entry.check }] : []));
  const own = sidesFor(open, side).flatMap((named) => (named.side.check ? [named.side.check] : []));
  if (checked.length > 0 || own.length > 0) return checked;
  throw new SideTwinError({
    code: "bad-input",
    what: rung === undefined ? "No rung of the ladder has a check" : `The rung "${rung}" has no check`,
    where: { file: path.basename(open.file), key: "ladder" },
    next: 'Give a rung "check": { "command": […], "reads": "tsc" }.',
  });
}

/** Runs one check and reads its output. Throws SideTwinError `toolchain-missing` where the command cannot be started. */
export async function runCheckCommand(
  open: OpenPort,
  { name, side }: NamedSide,
  check: CheckCommand,
  { signal, warm }: Pick<DiagnoseOptions, "signal" | "warm"> = {},
): Promise<Omit<DiagnoseRun, "rung">> {
  const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-diagnose-")));
  try {
    const { command } = check;
    const record =
      (await askWarm(warm, open, { side, command, signal })) ??
      (await runInSide(open, side, { command, scratch, signal, timeMs: CHECK_TIME_MS }));
    if (record.end.kind === "failed-to-start")
      throw new SideTwinError({
        code: "toolchain-missing",
        what: `"${command[0]}" of ${name} cannot be started: ${record.end.what}`,
        where: { file: path.basename(open.file), key: "ladder" },
        next: "Install it, or correct the command.",
      });
    const printed = { stdout: decodeOutput(record.stdout), stderr: decodeOutput(record.stderr) };
    const reader = READERS.find((entry) => entry.name === check.reads);
    const read =
      reader &&
      readWithPattern(check.pattern, "ladder", () =>
        reader.read(printed, { root: side.folder, pattern: check.pattern }),
      );
    const found = [...(read?.diagnostics ?? [])];
    const rest = read?.rest ?? linesOf(printed.stdout + printed.stderr);
    const exit = record.end.kind === "exited" ? record.end.code : null;
    // A check that fails without saying where must not look like one that found nothing.
    if (exit !== 0 && !found.some(({ severity }) => severity === "error"))
      found.push(diagnostic({ message: `${command.join(" ")}: ${describeEnd(record.end)}${lastOf(rest)}` }));
    const placed = await placeAll(open, { name, side }, found);
    return { side: name, command, exit, seconds: record.ms / 1000, diagnostics: placed, text: rest };
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

/** The record of a run that a kept tool answered; null where the command has to be started. */
async function askWarm(
  warm: WarmTools | undefined,
  open: OpenPort,
  {
    side,
    command,
    signal,
  }: { readonly side: OpenSide; readonly command: readonly string[]; readonly signal: AbortSignal | undefined },
): Promise<Pick<RunRecord, "end" | "stdout" | "stderr" | "ms"> | null> {
  if (!warm) return null;
  const env = environmentFor(sideEnvironment(open.port, side));
  const [program = "", ...args] = await resolveProgram(resolveCommand(command, side.folder));
  const found = findProgram(program.includes("/") ? path.resolve(side.folder, program) : program, env.PATH);
  if (!found) return null;
  const answer = await warm.ask([found, ...args], {
    folder: side.folder,
    env,
    signal: AbortSignal.any([AbortSignal.timeout(CHECK_TIME_MS), ...(signal ? [signal] : [])]),
  });
  if (!answer) return null;
  const { text, exit, ms } = answer;
  return { end: { kind: "exited", code: exit }, stdout: Buffer.from(text), stderr: Buffer.alloc(0), ms };
}

const MAX_SHOWN_LINES = 5;

const lastOf = (rest: readonly string[]): string =>
  rest.length === 0 ? "" : `\n${rest.slice(-MAX_SHOWN_LINES).join("\n")}`;

/** Files relative to the side's root, with the module and the innermost section of each place. */
async function placeAll(
  open: OpenPort,
  { name, side }: NamedSide,
  found: readonly Omit<PlacedDiagnostic, "module" | "section">[],
): Promise<PlacedDiagnostic[]> {
  const moduleOf = new Map(
    open.modules.flatMap((module) =>
      (name === "original" ? module.original : (module.twins[name] ?? [])).map((file) => [file, module.name] as const),
    ),
  );
  const sections = new Map<string, readonly Section[]>();
  const placed: PlacedDiagnostic[] = [];
  for (const entry of found) {
    const file = relativeTo(side.folder, entry.file);
    let own = sections.get(file);
    if (!own) {
      own = moduleOf.has(file) ? await sectionsOf(path.join(side.folder, file)) : [];
      sections.set(file, own);
    }
    placed.push({
      ...entry,
      file,
      module: moduleOf.get(file) ?? null,
      section: entry.line === null ? null : sectionAt(own, entry.line),
    });
  }
  return placed;
}

async function sectionsOf(file: string): Promise<readonly Section[]> {
  const text = await readText(file).catch(() => null);
  return text === null ? [] : (await parseSource(text, languageOf(file))).sections;
}

/** The innermost section around a line. */
function sectionAt(sections: readonly Section[], line: number): string | null {
  const around = sections.filter(({ from, to }) => from <= line && line <= to);
  return around.sort((a, b) => a.to - a.from - (b.to - b.from))[0]?.name ?? null;
}

/** As formats have it: below the root with `/`; a file elsewhere keeps its path. */
function relativeTo(folder: string, file: string): string {
  if (file === "" || file.startsWith("<")) return file;
  const relative = path.relative(folder, path.resolve(folder, file));
  return relative.startsWith("..") ? file : relative.split(path.sep).join("/");
}
