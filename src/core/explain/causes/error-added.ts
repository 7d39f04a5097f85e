import { type Cause, findingFrom } from "@/core/explain/cause";
import { throwsOnly } from "@/core/explain/values";

export const errorAdded: Cause = {
  name: "error-added",
  title: "The twin fails where the original answers",
  note: "What the original lets pass (an empty input, a missing field, another type) is an error in the twin. Fix: look at the first line of the twin's trace and treat that input as the original does.",
  examine: ({ all }) =>
    findingFrom(all, (pair) => throwsOnly(pair) === "twin", {
      weight: 0.95,
      evidence: "the twin throws, the original answers",
    }),
  fires: [
    [{ original: 1, twin: { "~thrown": ["TypeError", "x is undefined"] } }],
    [{ original: null, twin: { "~thrown": ["E", "x"] } }],
  ],
  staysQuiet: [[{ original: { "~thrown": ["KeyError", "x"] }, twin: null }], [{ original: 1, twin: 2 }]],
};
