/**
 * A copy of the original's program with probes, built by the port's own `prepare` commands, to trace the lines of program runs
 * in languages whose runtime reports none.
 */
import { readdir, rm } from "node:fs/promises";
import { toErrorRecord } from "@/core/errors";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { ProbedSources } from "@/engine/runs/probed-sources";
import type { ProgramOptions } from "@/engine/runs/program-runs";
import { Scratch } from "@/engine/runs/scratch";
import { prepareSide } from "@/service/check/sides";
import type { OpenPort } from "@/service/port/open-port";

const MAX_TRIES = 5;

/** The copy's folder and tracing, for program runs; `remove` deletes it. */
export type ProbedProgram = {
  readonly terms: Pick<ProgramOptions, "root" | "tracing">;
  readonly remove: () => Promise<void>;
};

/** Null for a language without probes, and where the copy cannot be built: nothing is proven by its runs then. */
export async function probeProgram(
  open: OpenPort,
  { signal }: { readonly signal?: AbortSignal | undefined } = {},
): Promise<ProbedProgram | null> {
  const { original } = open;
  const probes = DRIVERS[original.language]?.probes;
  if (!probes) return null;
  const scratch = await Scratch.make(original.folder);
  const { folder } = scratch;
  const files = [...new Set(open.modules.flatMap((module) => module.original))];
  try {
    await removeBuildCaches(folder);
    const sources = await ProbedSources.make(folder, { files, language: original.language, probes });
    for (let tries = 0; sources && tries < MAX_TRIES && !signal?.aborted; tries++) {
      await sources.write();
      const printed = await build(open, folder, signal);
      if (printed === null)
        return { terms: { root: folder, tracing: sources.tracing(driversFolder()) }, remove: () => scratch.remove() };
      if (!(await sources.revise(printed))) break;
    }
  } catch (error) {
    await scratch.remove();
    throw error;
  }
  await scratch.remove();
  return null;
}

/** Returns the output of the first command that failed; null if all succeeded. */
async function build(open: OpenPort, folder: string, signal: AbortSignal | undefined): Promise<string | null> {
  try {
    await prepareSide(open, { ...open.original, folder }, "original", { signal, answersFolder: null });
    return null;
  } catch (error) {
    const { code, what } = toErrorRecord(error);
    if (code === "prepare-failed") return what;
    throw error;
  }
}

/** CMake refuses a build folder that was made for another place. */
async function removeBuildCaches(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true, recursive: true }))
    if (entry.isFile() && entry.name === "CMakeCache.txt") await rm(entry.parentPath, { recursive: true, force: true });
}
