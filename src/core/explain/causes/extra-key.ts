import { type Cause, findingFrom } from "@/core/explain/cause";
import { isKeyPair } from "@/core/explain/values";

export const extraKey: Cause = {
  name: "extra-key",
  title: "The twin has a key more",
  note: "A helper field, a default or a property of the platform's object comes along. Fix: leave it out of what the twin answers.",
  examine: ({ all }) =>
    findingFrom(all, (pair) => pair.kind === "extra" && isKeyPair(pair), {
      weight: 0.88,
      evidence: "a key that only the twin has",
    }),
  fires: [[{ original: { a: 1 }, twin: { a: 1, b: 2 } }], [{ original: [{ a: 1 }], twin: [{ a: 1, id: 7 }] }]],
  staysQuiet: [[{ original: { a: 1, b: 2 }, twin: { a: 1 } }], [{ original: [1], twin: [1, 2] }]],
};
