import { type Cause, findingFrom } from "@/core/explain/cause";
import { type AnyPair, toNumeric, toText } from "@/core/explain/facets";

const isNaNOf = (value: AnyPair["original"]): boolean =>
  Number.isNaN(toNumeric(value)?.value ?? 0) || /\bnan\b/i.test(toText(value) ?? "");

export const notANumber: Cause = {
  name: "not-a-number",
  title: "NaN on one side",
  note: "Arithmetic with a missing or unreadable value goes on as NaN in one language and fails or gives another number in the other. Fix: check the value before it is used, as the original does.",
  inCode: {
    original: { any: /int\(|float\(|parse|Number/ },
    twin: { any: /NaN|Number\(|parse(Int|Float)|\+\w|Math\.|charCodeAt/ },
  },
  examine: ({ all }) =>
    findingFrom(all, (pair) => isNaNOf(pair.original) !== isNaNOf(pair.twin), {
      weight: 0.95,
      evidence: "one side is not a number",
    }),
  fires: [
    [{ original: 0, twin: { "~num": "NaN" } }],
    [
      { original: { "~num": "NaN" }, twin: null },
      { original: { "~num": "NaN" }, twin: 1 },
    ],
  ],
  staysQuiet: [[{ original: 0, twin: 1 }], [{ original: "banana", twin: "bandana" }]],
};
