import type { AllowanceKind } from "@/core/allowances/kinds/kind";
import type { Allow } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import type { Equality } from "@/core/values/equality";
import { fromNotation, type Value } from "@/core/values/value";

export const exactly: AllowanceKind<"exactly"> = {
  key: "exactly",
  title: "Two exact values",
  describe: ({ original, twin }) => `exactly ${short(original)} against ${short(twin)}`,
  excuses: (agreed, difference, { equality }) =>
    difference.kind !== "opaque" && isExactly(difference, agreed, equality) ? {} : null,
  settles: (agreed, whole, { equality }) => (isExactly(whole, agreed, equality) ? "agreed" : null),
  examples: [{ setting: { original: 1, twin: "1" }, excuses: [[1, "1"]], leaves: [[2, "2"]] }],
};

/** Whether both values are exactly the agreed ones; any other value ends the agreement. */
function isExactly(
  values: { readonly original: Value | null; readonly twin: Value | null },
  agreed: NonNullable<Allow["exactly"]>,
  equality: Equality,
): boolean {
  const same = (value: Value | null, wanted: Json) =>
    value === null ? wanted === null : canonicalText(value, equality) === canonicalText(fromNotation(wanted), equality);
  return same(values.original, agreed.original) && same(values.twin, agreed.twin);
}

const MAX_SHOWN = 60;

function short(value: unknown): string {
  const text = JSON.stringify(value);
  return text.length > MAX_SHOWN ? `${text.slice(0, MAX_SHOWN)}…` : text;
}
