import type { AllowanceKind } from "@/core/allowances/kinds/kind";

export const unordered: AllowanceKind<"unordered"> = {
  key: "unordered",
  title: "Order of a list",
  describe: (how) => (how === true ? "the order does not count" : `items belong together by ${how.by}`),
  excuses: (_, { kind, original, twin }) => (kind === "order" && original !== null && twin !== null ? {} : null),
  settles: (how, { sameUnordered }) => (sameUnordered(how) ? "order" : null),
  examples: [
    {
      setting: true,
      excuses: [
        [
          [1, 2, 3],
          [3, 1, 2],
        ],
      ],
      leaves: [
        [
          [1, 2, 3],
          [1, 2, 4],
        ],
      ],
    },
  ],
};
