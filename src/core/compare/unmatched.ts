/** Observed file patterns that match no file of either side: the case then agrees on nothing, which is rarely meant. */
import type { Answer } from "@/core/compare/answer";
import { matchesFile } from "@/core/values/file-pattern";

const FILES = "files:";
/** All that was written, which may be nothing. */
const ALL = "**";

/** The patterns of a program run without any file, as they are written in `observe`. */
export function unmatchedPatterns(
  observe: readonly string[],
  { original, twin }: { readonly original: Answer | null; readonly twin: Answer | null },
): string[] {
  if (original?.kind !== "run" || twin?.kind !== "run") return [];
  const names = [...Object.keys(original.files), ...Object.keys(twin.files)];
  return observe.filter((what) => {
    if (!what.startsWith(FILES)) return false;
    const pattern = what.slice(FILES.length);
    return pattern !== ALL && !names.some((name) => matchesFile(name, pattern));
  });
}
