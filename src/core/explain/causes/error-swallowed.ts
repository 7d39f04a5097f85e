import { type Cause, findingFrom } from "@/core/explain/cause";
import { throwsOnly } from "@/core/explain/values";

export const errorSwallowed: Cause = {
  name: "error-swallowed",
  title: "The twin answers where the original fails",
  note: "A missing key, an index out of range, a division by zero or an invalid number is an error in one language and a value (undefined, NaN, Infinity) in the other, or a check was left out. Fix: check in the twin and throw as the original does.",
  examine: ({ all }) =>
    findingFrom(all, (pair) => throwsOnly(pair) === "original", {
      weight: 0.95,
      evidence: "the original throws, the twin answers",
    }),
  fires: [
    [{ original: { "~thrown": ["KeyError", "x"] }, twin: null }],
    [{ original: { "~thrown": ["ValueError", "x"] }, twin: 7 }],
  ],
  staysQuiet: [[{ original: 1, twin: { "~thrown": ["E", "x"] } }], [{ original: 1, twin: 2 }]],
};
