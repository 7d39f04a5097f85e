/**
 * Finds the interpreters that ported code needs, resolving version managers' shims, with instructions for missing ones.
 */
import { execFile } from "node:child_process";
import { closeSync, openSync, readSync } from "node:fs";
import path from "node:path";
import { promisify } from "node:util";
import { SideTwinError } from "@/core/errors";
import type { Driver } from "@/engine/drivers/driver";
import { ALL_DRIVERS, DRIVERS } from "@/engine/drivers/index";
import { findProgram } from "@/engine/find-program";

const run = promisify(execFile);

const known = new Map<string, Promise<string>>();

/** The error for a language whose sections cannot be called. */
export const noDriver = (language: string): SideTwinError =>
  new SideTwinError({
    code: "toolchain-missing",
    what: `There is no driver that calls ${JSON.stringify(language)} code`,
    next: `Languages with a driver: ${Object.keys(DRIVERS).join(", ")}. Correct "language", or use "run" cases, which work with any language.`,
  });

/**
 * The runtime command of a language, its program resolved to the real interpreter.
 * Throws SideTwinError `toolchain-missing` with how to get it.
 */
export async function findRuntime(language: string, given?: readonly string[]): Promise<string[]> {
  const runtime = DRIVERS[language]?.runtime;
  if (!runtime && !given) throw noDriver(language);
  const [program = runtime?.self ?? runtime?.command ?? "", ...args] = given ?? [];
  return [await resolveInterpreter(program, runtime), ...args];
}

/** Replaces a known shim by the real interpreter; other programs are unchanged. */
export async function resolveProgram(command: readonly string[]): Promise<string[]> {
  const [program = "", ...args] = command;
  const name = path.basename(program);
  const runtime = ALL_DRIVERS.find((driver) => driver.runtime.names.test(name))?.runtime;
  return [runtime ? await resolveInterpreter(program, runtime) : program, ...args];
}

function resolveInterpreter(program: string, runtime: Driver["runtime"] | undefined): Promise<string> {
  const found = findProgram(program);
  if (!found) {
    throw new SideTwinError({
      code: "toolchain-missing",
      what: `"${program}" was not found`,
      next: runtime?.get ?? "Install it, or name another command in the port file.",
    });
  }
  // A shim is a script that looks for the interpreter at every start, which costs several times the start itself.
  if (!runtime?.locate || !isScript(found)) return Promise.resolve(found);
  const before = known.get(found);
  if (before) return before;
  const asked = run(found, [...runtime.locate]).then(
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
