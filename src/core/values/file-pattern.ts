/**
 * The one dialect of patterns for files that a person writes, in `modules`, `cases`, `ignore`, and `observe`: that of picomatch,
 * with `*` within a folder, `**` over folders, `?`, `[ab]` and `{a,b}`; names that begin with a dot are files like others.
 */
import picomatch from "picomatch";

const MAX_KEPT = 500;
const kept = new Map<string, (file: string) => boolean>();

/** Whether a path with `/` matches a pattern. A literal name that contains pattern characters matches itself. */
export function matchesFile(file: string, pattern: string): boolean {
  if (file === pattern) return true;
  const known = kept.get(pattern);
  if (known) return known(file);
  // Bounded, because patterns come from case files.
  if (kept.size >= MAX_KEPT) kept.clear();
  const matches = picomatch(pattern, { dot: true });
  kept.set(pattern, matches);
  return matches(file);
}
