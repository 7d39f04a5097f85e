import { type Cause, findingFrom } from "@/core/explain/cause";

export const errorMessage: Cause = {
  name: "error-message",
  title: "Another message of an error",
  note: "Both sides fail in the same way and say it in other words, often because the message is the platform's own. Fix: write the message in the twin, or allow it (`errorMessage`).",
  examine: ({ all }) => {
    const kinds = new Set(all.filter((pair) => pair.at.endsWith("thrown.kind")).map((pair) => pair.facts));
    return findingFrom(all, (pair) => /(^|\.)thrown\.message$/.test(pair.at) && !kinds.has(pair.facts), {
      weight: 0.9,
      evidence: "both throw the same kind of error, with other words",
    });
  },
  fires: [
    [{ original: { "~thrown": ["E", "no such rider"] }, twin: { "~thrown": ["E", "bad rider"] } }],
    [{ original: { "~thrown": ["E", "1"] }, twin: { "~thrown": ["E", "2"] } }],
  ],
  staysQuiet: [[{ original: 1, twin: 2 }], [{ original: { "~thrown": ["E", "x"] }, twin: { "~thrown": ["F", "y"] } }]],
};
