import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import { roundUp, show, WORTH_TIGHTENING } from "@/core/allowances/kinds/tighter-bound";

/** Needed: the share of pixels that differ by more than `channel`. */
export const image: AllowanceKind<"image"> = {
  key: "image",
  title: "Pixels of a picture",
  describe: ({ channel = 0, share = 0 }) =>
    `${Number((share * 100).toPrecision(3))} % of the pixels may differ by more than ${channel} of 255`,
  excuses: ({ channel = 0, share = 0 }, { measure }) => {
    const over = measure?.shareOver(channel);
    return over === undefined || over > share ? null : { share: over };
  },
  tighten: (setting, { share: needed = 0 }) => {
    const bound = setting.share ?? 0;
    if (needed > bound * WORTH_TIGHTENING || bound === 0) return null;
    return {
      setting: { ...setting, share: roundUp(needed) },
      advice: `at most ${show(needed)} of the pixels differed; it allows ${show(bound)}`,
    };
  },
  // Pictures have examples of their own in `compare/comparers/comparers.test.ts`.
  examples: [{ setting: { share: 1 }, excuses: [], leaves: [[1, 2]] }],
};
