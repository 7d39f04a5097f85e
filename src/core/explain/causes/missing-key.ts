import { type Cause, findingFrom } from "@/core/explain/cause";
import { isKeyPair } from "@/core/explain/values";

export const missingKey: Cause = {
  name: "missing-key",
  title: "The twin lacks a key",
  note: "A field was forgotten, or is only set in some branch. Fix: set it as the original does, also when it is empty.",
  examine: ({ all }) =>
    findingFrom(all, (pair) => pair.kind === "missing" && isKeyPair(pair), {
      weight: 0.88,
      evidence: "a key that only the original has",
    }),
  fires: [[{ original: { a: 1, b: 2 }, twin: { a: 1 } }], [{ original: [{ a: 1, id: 7 }], twin: [{ a: 1 }] }]],
  staysQuiet: [[{ original: { a: 1 }, twin: { a: 1, b: 2 } }], [{ original: [1, 2], twin: [1] }]],
};
