/** Finds the interpreters that ported code needs, past the shims of version managers, and says how to get a missing one. */
import { execFile } from "node:child_process";
import { accessSync, closeSync, constants, openSync, readSync, statSync } from "node:fs";
import path from "node:path";
import { promisify } from "node:util";
import { SideTwinError } from "@/core/errors";

const run = promisify(execFile);

/** Languages that can be run, with the usual command and how to get it. One line a language. */
const RUNTIMES: Readonly<Record<string, { command: string; self?: string; get: string; tell: readonly string[] }>> = {
  python: {
    command: "python3",
    get: "Install Python 3 (Debian: apt-get install python3), or name it in original.call.runtime.",
    tell: ["-c", "import sys; print(sys.executable)"],
  },
  javascript: { command: "node", self: process.execPath, get: "Install Node.js 20.", tell: ["-p", "process.execPath"] },
  typescript: { command: "node", self: process.execPath, get: "Install Node.js 20.", tell: ["-p", "process.execPath"] },
};

const known = new Map<string, Promise<string>>();

/** Looks a program up on the PATH (or as a path); null when it is not there. */
export function findProgram(program: string, searchPath = process.env.PATH ?? ""): string | null {
  const candidates = program.includes("/")
    ? [path.resolve(program)]
    : searchPath.split(path.delimiter).map((folder) => path.join(folder, program));
  return candidates.find(isExecutable) ?? null;
}

function isExecutable(file: string): boolean {
  try {
    accessSync(file, constants.X_OK);
    return statSync(file).isFile();
  } catch {
    // Not there or not ours to run: the next folder on the path is asked.
    return false;
  }
}

/**
 * The runtime command of a language, its program resolved to the real interpreter.
 * Throws SideTwinError `toolchain-missing` with how to get it.
 */
export async function findRuntime(language: string, given?: readonly string[]): Promise<string[]> {
  const runtime = RUNTIMES[language];
  if (!runtime && !given) {
    throw new SideTwinError({
      code: "toolchain-missing",
      what: `Side Twin has no driver to call ${language} code`,
      next: `Calls work for ${Object.keys(RUNTIMES).join(", ")}; use "run" cases for other languages.`,
    });
  }
  const [program = runtime?.self ?? runtime?.command ?? "", ...args] = given ?? [];
  return [await resolveInterpreter(program, runtime), ...args];
}

/** The program of a command as the real interpreter where it is a shim of a known one; other programs as they stand. */
export async function resolveProgram(command: readonly string[]): Promise<string[]> {
  const [program = "", ...args] = command;
  const name = path.basename(program);
  const runtime =
    Object.values(RUNTIMES).find((entry) => entry.command === name) ??
    (/^python\d?(\.\d+)?$/.test(name) ? RUNTIMES.python : undefined);
  return [runtime ? await resolveInterpreter(program, runtime) : program, ...args];
}

function resolveInterpreter(program: string, runtime: (typeof RUNTIMES)[string] | undefined): Promise<string> {
  const found = findProgram(program);
  if (!found) {
    throw new SideTwinError({
      code: "toolchain-missing",
      what: `"${program}" was not found`,
      next: runtime?.get ?? "Install it, or name another command in the port file.",
    });
  }
  // A shim is a script that looks for the interpreter at every start, which costs several times the start itself.
  if (!runtime || !isScript(found)) return Promise.resolve(found);
  const before = known.get(found);
  if (before) return before;
  const asked = run(found, [...runtime.tell]).then(
    ({ stdout }) => stdout.trim().split("\n").at(-1) ?? found,
    () => found,
  );
  known.set(found, asked);
  return asked;
}

function isScript(file: string): boolean {
  const head = Buffer.alloc(2);
  const descriptor = openSync(file, "r");
  try {
    readSync(descriptor, head, 0, 2, 0);
  } finally {
    closeSync(descriptor);
  }
  return head.toString("latin1") === "#!";
}
