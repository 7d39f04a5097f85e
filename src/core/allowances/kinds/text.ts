import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import { neededLoosening } from "@/core/allowances/text-loosening";
import type { Allow } from "@/core/formats/allowance";

export const text: AllowanceKind<"text"> = {
  key: "text",
  title: "Writing of a text",
  describe: describeText,
  // A kind of error that `errorKind` does not name is not excused by the letters that it has in common with another.
  excuses: (_, { kind, original, twin, measure }, { allow }) =>
    !(kind === "error-kind" && allow.errorKind) &&
    !(allow.image && measure) &&
    kind !== "opaque" &&
    original?.kind === "text" &&
    twin?.kind === "text"
      ? neededLoosening(original.value, twin.value, allow)
      : null,
  examples: [
    {
      setting: true,
      excuses: [["a ", "a"]],
      leaves: [
        ["a", "A"],
        ["a", "b"],
      ],
    },
    { setting: { case: true }, excuses: [["a", "A"]], leaves: [["a ", "a"]] },
  ],
};

function describeText(setting: NonNullable<Allow["text"]>): string {
  if (setting === true) return "blanks, line ends and Unicode form of texts do not count";
  const loose = [
    setting.trim && "blanks at the ends",
    setting.lineEndings && "line ends",
    setting.case && "upper and lower case",
    setting.unicode && "Unicode form",
    ...(setting.replace ?? []).map(({ pattern }) => `what matches ${pattern}`),
  ].filter(Boolean);
  return loose.length > 0 ? `of texts ${loose.join(", ")} do not count` : "texts are compared by the numbers in them";
}
