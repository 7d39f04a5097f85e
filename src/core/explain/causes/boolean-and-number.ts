import { type Cause, findingFrom } from "@/core/explain/cause";
import { type AnyPair, toNumeric } from "@/core/explain/facets";

export const booleanAndNumber: Cause = {
  name: "boolean-and-number",
  title: "A truth value against a number or a text",
  note: "True counts as 1 in one language and is a kind of its own in the other; `a or b` and `a && b` give an operand, not a truth value. Fix: convert explicitly, Boolean(x) or Number(x).",
  examine: ({ all }) => {
    const isBoolean = (one: AnyPair["original"], other: AnyPair["original"]) =>
      typeof one === "boolean" &&
      ((toNumeric(other) !== null && Boolean(toNumeric(other)?.value) === one) ||
        (typeof other === "string" && (Boolean(other) === one || other.toLowerCase() === String(one))));
    return findingFrom(all, (pair) => isBoolean(pair.original, pair.twin) || isBoolean(pair.twin, pair.original), {
      weight: 0.97,
      evidence: "a truth value on one side only",
    });
  },
  fires: [[{ original: true, twin: 1 }], [{ original: 0, twin: false }]],
  staysQuiet: [[{ original: true, twin: false }], [{ original: 1, twin: 2 }]],
};
