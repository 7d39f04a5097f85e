/** The files of a side: listed without following links, so that loops and ways out of the folder do no harm. */
import path from "node:path";
import { glob } from "tinyglobby";

/** Folders that hold no sources of the person's own. */
export const ALWAYS_IGNORED = ["**/node_modules/**", "**/.git/**", "**/__pycache__/**", "**/.venv/**", "**/venv/**"];

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
