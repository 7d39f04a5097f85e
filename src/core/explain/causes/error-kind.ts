import { type Cause, findingFrom } from "@/core/explain/cause";

export const errorKind: Cause = {
  name: "error-kind",
  title: "Another kind of error",
  note: "Both sides fail, with errors of other classes: the platforms name theirs differently. Fix: throw a class of the original's name, or allow the pair (`errorKind`).",
  examine: ({ all }) =>
    findingFrom(
      all.filter((pair) => /(^|\.)thrown\.(kind|message)$/.test(pair.at)),
      (pair) => pair.at.endsWith("thrown.kind"),
      { weight: 0.97, evidence: "both throw, errors of other classes" },
    ),
  fires: [
    [{ original: { "~thrown": ["ValueError", "bad"] }, twin: { "~thrown": ["RangeError", "bad"] } }],
    [{ original: { "~thrown": ["KeyError", "x"] }, twin: { "~thrown": ["TypeError", "y"] } }],
  ],
  staysQuiet: [
    [{ original: 1, twin: { "~thrown": ["E", "x"] } }],
    [{ original: { "~thrown": ["E", "x"] }, twin: { "~thrown": ["E", "y"] } }],
  ],
};
