import { describeNames } from "@/core/allowances/kinds/describe-names";
import type { AllowanceKind } from "@/core/allowances/kinds/kind";

/** Applied by the comparison of maps before their keys are paired. */
export const keys: AllowanceKind<"keys"> = {
  key: "keys",
  title: "Names of keys",
  describe: (names) => `keys may be ${describeNames(names)}`,
  examples: [
    { setting: { quay: "berth" }, excuses: [[{ quay: 1 }, { berth: 1 }]], leaves: [[{ quay: 1 }, { pier: 1 }]] },
  ],
};
