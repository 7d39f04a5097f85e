/** Fixes the clock and the random numbers of a whole program, through environment variables of its run. */
import { open } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { type Driver, type FixedTerms, fixedVariables } from "@/engine/drivers/driver";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { findProgram } from "@/engine/find-program";
import { fixedLibrary } from "@/engine/runs/fixed-library";

/** A program: its language, its command, and the folder that it is started in. */
export type FixedProgram = {
  readonly language: string;
  readonly command: readonly string[];
  readonly root: string;
  /** Variables that the run is given. */
  readonly env: Readonly<Record<string, string>>;
};

/** Whether the clock of a program can be fixed here. */
export async function canFix(program: Omit<FixedProgram, "env">): Promise<boolean> {
  const fix = DRIVERS[program.language]?.fix;
  if (fix?.by !== "library") return fix !== null && fix !== undefined;
  return (await fixedLibrary()).file !== null && !(await isStatic(program));
}

/**
 * Environment variables that fix a program's clock and random numbers; empty when nothing is fixed. Throws SideTwinError where
 * they cannot be fixed: by the language, by the machine, or for a statically linked program.
 */
export async function fixedEnvironment(
  program: FixedProgram,
  terms: FixedTerms,
): Promise<Readonly<Record<string, string>>> {
  if (terms.now === undefined && terms.seed === undefined) return {};
  const { language, command } = program;
  const fix = DRIVERS[language]?.fix;
  if (!fix) throw cannotFix(`The clock and the random numbers of a ${language} program`, "");
  if (fix.by === "runtime") return fix.environment(driversFolder(), terms);
  if (terms.seed !== undefined && !fix.canSeed) throw cannotFix(`The random numbers of a ${language} program`, "");
  const { file, why } = await fixedLibrary();
  if (file === null) throw cannotFix(`The clock and the random numbers of a ${language} program`, `: ${why}`);
  if (await isStatic(program))
    throw cannotFix(`The clock and the random numbers of ${command[0]}`, ": it is linked statically");
  return { ...fixedVariables(terms), LD_PRELOAD: preloading(file, program.env) };
}

/** Environment variables with which a driver can fix the clock of calls by itself. */
export async function callEnvironment(
  { fix }: Driver,
  env: Readonly<Record<string, string>>,
): Promise<Readonly<Record<string, string>>> {
  if (fix?.by !== "library" || !fix.isForCalls) return {};
  const { file } = await fixedLibrary();
  return file === null ? {} : { SIDE_TWIN_CLOCK: "live", LD_PRELOAD: preloading(file, env) };
}

/** The library behind those that the run preloads anyway. */
const preloading = (file: string, env: Readonly<Record<string, string>>): string =>
  [env.LD_PRELOAD ?? process.env.LD_PRELOAD, file].filter(Boolean).join(":");

const cannotFix = (what: string, why: string): SideTwinError =>
  new SideTwinError({
    code: "bad-input",
    what: `${what} cannot be fixed${why}`,
    next: 'Leave "now" and "seed" out for its runs.',
  });

const DYNAMIC_LOADER = 3;

/** Whether a program is an ELF executable (elf(5)) without a dynamic loader, which preloads nothing. */
async function isStatic({ command: [name = ""], root }: Pick<FixedProgram, "command" | "root">): Promise<boolean> {
  const found = findProgram(name.includes("/") ? path.resolve(root, name) : name);
  if (found === null) return false;
  const file = await open(found, "r");
  try {
    const head = Buffer.alloc(64);
    await file.read(head, 0, 64, 0);
    const is64 = head[4] === 2;
    // Every machine that Node.js 20 runs on is little-endian, except s390x.
    if (head.toString("latin1", 0, 4) !== "\x7fELF" || head[5] !== 1) return false;
    const start = is64 ? Number(head.readBigUInt64LE(32)) : head.readUInt32LE(28);
    const size = head.readUInt16LE(is64 ? 54 : 42);
    const headers = Buffer.alloc(size * head.readUInt16LE(is64 ? 56 : 44));
    await file.read(headers, 0, headers.length, start);
    for (let at = 0; at < headers.length; at += size) if (headers.readUInt32LE(at) === DYNAMIC_LOADER) return false;
    return true;
  } finally {
    await file.close();
  }
}
