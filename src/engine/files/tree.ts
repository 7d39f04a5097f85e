/** The files of a side: listed without following links, so that loops and ways out of the folder do no harm. */
import { type Stats, statSync } from "node:fs";
import path from "node:path";
import { glob } from "tinyglobby";
import { ALL_DRIVERS } from "@/engine/drivers/index";

/** Folders that hold no sources of the person's own. */
export const ALWAYS_IGNORED = [
  ...ALL_DRIVERS.flatMap((driver) => driver.madeFolders.map((name) => `**/${name}/**`)),
  "**/.git/**",
  "**/.venv/**",
  "**/venv/**",
];

/** Paths below `root`, with `/`, sorted; what `ignore` matches is left out. */
export async function listFiles(
  root: string,
  ignore: readonly string[] = [],
  patterns: readonly string[] = ["**"],
): Promise<string[]> {
  const found = await glob([...patterns], {
    cwd: root,
    ignore: [...ALWAYS_IGNORED, ...ignore],
    dot: true,
    followSymbolicLinks: false,
    onlyFiles: true,
    expandDirectories: false,
  });
  return found.map((file) => file.split(path.sep).join("/")).sort();
}

/** Returns a file's stats, null if it is missing. Synchronous calls are ten times faster here than the thread pool. */
export function statNow(file: string): Stats | null {
  try {
    return statSync(file, { throwIfNoEntry: false }) ?? null;
  } catch {
    // A folder on the way that may not be looked into, or a loop of links: as good as not there.
    return null;
  }
}
