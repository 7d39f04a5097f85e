/** Two texts, line by line: aligned, so that an inserted line is one divergence and not all that follow. */
import { alignLines } from "@/core/compare/align-lines";
import type { ComparisonState } from "@/core/compare/comparison-state";
import type { Value } from "@/core/values/value";

/** Lines count from 1 in the original where it has the line, else in the twin. */
export function compareText(state: ComparisonState, at: string, original: string, twin: string): void {
  if (original === twin) return;
  if (
    state.settle(at, { original: line(original), twin: line(twin) }, () => sortedLines(original) === sortedLines(twin))
  )
    return;
  for (const hunk of alignLines(original, twin)) {
    const [removed, added] = [hunk.original.length, hunk.twin.length];
    const paired = Math.min(removed, added);
    for (let step = 0; step < Math.max(removed, added); step++) {
      const [one, other] = [hunk.original[step], hunk.twin[step]];
      const number = (step < removed ? hunk.originalFrom : hunk.twinFrom) + step + 1;
      const kind = step < paired ? "text" : step < removed ? "missing" : "extra";
      state.report(`${at}.${number}`, kind, {
        original: one === undefined ? null : line(one),
        twin: other === undefined ? null : line(other),
      });
    }
  }
}

const line = (value: string): Value => ({ kind: "text", value });

const sortedLines = (value: string): string => value.split("\n").sort().join("\n");
