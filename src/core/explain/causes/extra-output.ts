import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";

export const extraOutput: Cause = {
  name: "extra-output",
  title: "Lines are printed on one side only",
  note: "A message for debugging was left in, a heading was forgotten, or a warning goes to the other stream. Fix: print what the original prints, where it prints it.",
  examine: ({ all }) => {
    // A line, and not something inside a document that was printed.
    const isOutput = ({ at, kind, original, twin }: AnyPair) =>
      /^(printed|stdout|stderr)\.\d+$/.test(at) &&
      (kind === "extra" || kind === "missing") &&
      typeof (original ?? twin) === "string";
    return findingFrom(all, isOutput, { weight: 0.9, evidence: "a line printed on one side only" });
  },
  fires: [
    [{ original: { "~printed": "a\n" }, twin: { "~printed": "a\ndebug\n" } }],
    [{ original: { "~printed": "" }, twin: { "~printed": "x\ny\n" } }],
  ],
  staysQuiet: [[{ original: "a", twin: "b" }], [{ original: { "~printed": "a\n" }, twin: { "~printed": "b\n" } }]],
};
