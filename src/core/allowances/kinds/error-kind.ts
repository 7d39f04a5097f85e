import { describeNames } from "@/core/allowances/kinds/describe-names";
import type { AllowanceKind } from "@/core/allowances/kinds/kind";

export const errorKind: AllowanceKind<"errorKind"> = {
  key: "errorKind",
  title: "Kind of an error",
  describe: (names) => `errors may be ${describeNames(names)}`,
  excuses: (names, { kind, original, twin }) =>
    kind === "error-kind" && original?.kind === "text" && twin?.kind === "text" && names[original.value] === twin.value
      ? {}
      : null,
  examples: [
    {
      setting: { KeyError: "RangeError" },
      thrown: true,
      excuses: [
        [
          { kind: "KeyError", message: "m" },
          { kind: "RangeError", message: "m" },
        ],
      ],
      leaves: [
        [
          { kind: "KeyError", message: "m" },
          { kind: "TypeError", message: "m" },
        ],
      ],
    },
  ],
};
