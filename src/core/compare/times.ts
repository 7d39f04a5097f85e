/** When lines were printed: the time from each line to the next, on both sides. */
import { alignItems } from "@/core/compare/align";
import type { RunAnswer } from "@/core/compare/answer";
import type { ComparisonState } from "@/core/compare/comparison-state";

/**
 * Compares the intervals before each stdout line that both sides printed, in milliseconds, at `times.LINE`. The first
 * line is skipped: start-up time depends on the language. Times never match exactly, so a `timing` allowance sets the
 * bound.
 */
export function compareTimes(state: ComparisonState, original: RunAnswer, twin: RunAnswer): void {
  const [one, other] = [timedLines(original), timedLines(twin)];
  let [originalAt, twinAt] = [0, 0];
  const hunks = alignItems(one.lines, other.lines);
  const end = { originalFrom: one.lines.length, originalTo: 0, twinFrom: other.lines.length, twinTo: 0 };
  for (const hunk of [...hunks, end]) {
    for (; originalAt < hunk.originalFrom && twinAt < hunk.twinFrom; originalAt++, twinAt++) {
      const [mine, theirs] = [intervalBefore(one.times, originalAt), intervalBefore(other.times, twinAt)];
      if (mine === null || theirs === null || mine === theirs) continue;
      state.report(`times.${originalAt + 1}`, "interval", {
        original: { kind: "float", value: mine },
        twin: { kind: "float", value: theirs },
      });
    }
    [originalAt, twinAt] = [hunk.originalTo, hunk.twinTo];
  }
}

function timedLines({ stdout, times = [] }: RunAnswer): { lines: string[]; times: readonly number[] } {
  return { lines: stdout.split("\n").slice(0, times.length), times };
}

function intervalBefore(times: readonly number[], line: number): number | null {
  const [before, now] = [times[line - 1], times[line]];
  return before === undefined || now === undefined ? null : Math.round((now - before) * 10) / 10;
}
