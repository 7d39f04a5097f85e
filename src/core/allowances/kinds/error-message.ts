import type { AllowanceKind } from "@/core/allowances/kinds/kind";

export const errorMessage: AllowanceKind<"errorMessage"> = {
  key: "errorMessage",
  title: "Message of an error",
  describe: () => "the message of an error does not count",
  excuses: (_, { kind }) => (kind === "error-message" ? {} : null),
  examples: [
    {
      setting: true,
      thrown: true,
      excuses: [
        [
          { kind: "E", message: "no boat" },
          { kind: "E", message: "boat missing" },
        ],
      ],
      leaves: [
        [
          { kind: "E", message: "m" },
          { kind: "F", message: "m" },
        ],
      ],
    },
  ],
};
