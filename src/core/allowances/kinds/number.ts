import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import { roundUp, show, WORTH_TIGHTENING } from "@/core/allowances/kinds/tighter-bound";
import { allowsNumber } from "@/core/allowances/number-tolerance";
import type { NumberTolerance } from "@/core/formats/allowance";
import { isNumber } from "@/core/values/number";

const UNITS = { abs: "", rel: " of the value", ulps: " steps of a double" } as const;
const BOUNDS = ["abs", "rel", "ulps"] as const;

export const number: AllowanceKind<"number"> = {
  key: "number",
  title: "Distance of numbers",
  describe: (bounds) =>
    `numbers may differ by ${BOUNDS.filter((bound) => bounds[bound] !== undefined)
      .map((bound) => `${bounds[bound]}${UNITS[bound]}`)
      .join(" or ")}`,
  // Intervals have their own kind, and so do pictures when their measure is wanted.
  excuses: (bounds, { kind, original, twin, measure }, { allow }) =>
    kind !== "interval" && !(allow.image && measure) && original && twin && isNumber(original) && isNumber(twin)
      ? allowsNumber(original, twin, bounds)
      : null,
  tighten: (bounds, needed) => {
    const tighter: { -readonly [bound in keyof NumberTolerance]: number } = {};
    const advice: string[] = [];
    for (const bound of BOUNDS) {
      const [allowed, most] = [bounds[bound], needed[bound]];
      if (allowed === undefined) continue;
      if (most === undefined) {
        if (allowed > 0) advice.push(`nothing needed ${bound} ${show(allowed)}`);
      } else if (most <= allowed * WORTH_TIGHTENING) {
        tighter[bound] = bound === "ulps" ? most : roundUp(most);
        advice.push(`the largest difference excused is ${show(most)}${UNITS[bound]}; it allows ${show(allowed)}`);
      } else tighter[bound] = allowed;
    }
    // Only other notations of the same numbers were excused: no bound is needed, but the schema wants one.
    if (Object.keys(tighter).length === 0) tighter.abs = 0;
    return advice.length === 0 ? null : { setting: tighter, advice: advice.join("; ") };
  },
  examples: [
    {
      setting: { abs: 0.5 },
      excuses: [[1, 1.5]],
      leaves: [
        [1, 1.6],
        [1, "1"],
      ],
    },
    { setting: { rel: 0.1 }, excuses: [[100, 91]], leaves: [[100, 89]] },
  ],
};
