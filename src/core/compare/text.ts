/** Two texts, line by line: aligned, so that an inserted line is one divergence and not all that follow. */
import { alignItems } from "@/core/compare/align";
import type { Trial } from "@/core/compare/trial";
import type { Value } from "@/core/values/value";

/** Lines count from 1 in the original where it has the line, else in the twin. */
export function compareText(trial: Trial, at: string, original: string, twin: string): void {
  if (original === twin) return;
  if (
    trial.settle(at, { original: line(original), twin: line(twin) }, () => sortedLines(original) === sortedLines(twin))
  )
    return;
  const [originalLines, twinLines] = [original.split("\n"), twin.split("\n")];
  for (const hunk of alignItems(originalLines, twinLines)) {
    const removed = hunk.originalTo - hunk.originalFrom;
    const added = hunk.twinTo - hunk.twinFrom;
    const paired = Math.min(removed, added);
    for (let step = 0; step < Math.max(removed, added); step++) {
      const [one, other] = [originalLines[hunk.originalFrom + step], twinLines[hunk.twinFrom + step]];
      const number = (step < removed ? hunk.originalFrom : hunk.twinFrom) + step + 1;
      const kind = step < paired ? "text" : step < removed ? "missing" : "extra";
      trial.report(`${at}.${number}`, kind, {
        original: step < removed && one !== undefined ? line(one) : null,
        twin: step < added && other !== undefined ? line(other) : null,
      });
    }
  }
}

const line = (value: string): Value => ({ kind: "text", value });

const sortedLines = (value: string): string => value.split("\n").sort().join("\n");
