import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import type { Allow } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import type { Equality } from "@/core/values/equality";
import { fromNotation, type Value } from "@/core/values/value";

export const exactly: AllowanceKind<"exactly"> = {
  key: "exactly",
  title: "Two exact values",
  describe: (agreed) => {
    const [first, ...others] = pairsOf(agreed);
    const more = others.length > 0 ? `, and ${others.length} more such ${others.length === 1 ? "pair" : "pairs"}` : "";
    return `exactly ${short(first?.original)} against ${short(first?.twin)}${more}`;
  },
  excuses: (agreed, difference, { equality }) =>
    difference.kind !== "opaque" && isExactly(difference, agreed, equality) ? {} : null,
  settles: (agreed, whole, { equality }) => (isExactly(whole, agreed, equality) ? "agreed" : null),
  examples: [
    { setting: { original: 1, twin: "1" }, excuses: [[1, "1"]], leaves: [[2, "2"]] },
    {
      setting: [
        { original: 1, twin: 2 },
        { original: 3, twin: 4 },
      ],
      excuses: [
        [1, 2],
        [3, 4],
      ],
      leaves: [[1, 4]],
    },
  ],
};

const pairsOf = (agreed: NonNullable<Allow["exactly"]>) => (Array.isArray(agreed) ? agreed : [agreed]);

/** Whether both values are exactly a pair that was agreed to; any other value ends the agreement. */
function isExactly(
  values: { readonly original: Value | null; readonly twin: Value | null },
  agreed: NonNullable<Allow["exactly"]>,
  equality: Equality,
): boolean {
  const same = (value: Value | null, wanted: Json) =>
    value === null ? wanted === null : canonicalText(value, equality) === canonicalText(fromNotation(wanted), equality);
  return pairsOf(agreed).some((pair) => same(values.original, pair.original) && same(values.twin, pair.twin));
}

const MAX_SHOWN = 60;

function short(value: unknown): string {
  const text = JSON.stringify(value);
  return text.length > MAX_SHOWN ? `${text.slice(0, MAX_SHOWN)}…` : text;
}
