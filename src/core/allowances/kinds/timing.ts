import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import { roundUp, show, WORTH_TIGHTENING } from "@/core/allowances/kinds/tighter-bound";
import { numberDistance } from "@/core/allowances/number-tolerance";
import { isNumber } from "@/core/values/number";

/** Needed: milliseconds. */
export const timing: AllowanceKind<"timing"> = {
  key: "timing",
  title: "Time between lines",
  describe: ({ ms }) => `lines may come ${ms} ms earlier or later`,
  excuses: ({ ms }, { kind, original, twin }) => {
    if (kind !== "interval" || !original || !twin || !isNumber(original) || !isNumber(twin)) return null;
    const distance = numberDistance(original, twin);
    return distance <= ms ? { ms: distance } : null;
  },
  tighten: ({ ms }, { ms: needed = 0 }) =>
    needed > ms * WORTH_TIGHTENING
      ? null
      : {
          setting: { ms: roundUp(needed) },
          advice: `the largest difference excused is ${show(needed)} ms; it allows ${show(ms)} ms`,
        },
  // Intervals have examples of their own in `compare/times.test.ts`.
  examples: [{ setting: { ms: 1000 }, excuses: [], leaves: [[1, 2]] }],
};
