import type { AllowanceKind } from "@/core/allowances/kinds/kind";

export const ignore: AllowanceKind<"ignore"> = {
  key: "ignore",
  title: "Not compared",
  describe: () => "is not compared",
  excuses: () => ({}),
  settles: () => "agreed",
  examples: [{ setting: true, excuses: [[1, "x"]], leaves: [] }],
};
