import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";

export const negativeZero: Cause = {
  name: "negative-zero",
  title: "Minus nought",
  note: "Rounding or multiplying a small negative float leaves -0, which some languages print with its sign. Fix: add 0, or compare with 0 before formatting.",
  examine: ({ numbers, texts }) => {
    const bare = (text: string) => text.replace(/(^|[^\w.])-(0(?:[.,]0+)?)(?![\d.,]*[1-9])/g, "$1$2");
    return bestOf([
      findingFrom(
        numbers,
        (pair) =>
          pair.original.value === 0 &&
          pair.twin.value === 0 &&
          Object.is(pair.original.value, -0) !== Object.is(pair.twin.value, -0),
        { weight: 0.98, evidence: "one side is -0" },
      ),
      findingFrom(texts, (pair) => pair.original !== pair.twin && bare(pair.original) === bare(pair.twin), {
        weight: 0.98,
        evidence: "one side writes -0",
      }),
    ]);
  },
  fires: [[{ original: "-0.0", twin: "0.0" }], [{ original: "sum 0", twin: "sum -0" }]],
  staysQuiet: [[{ original: "-1", twin: "1" }], [{ original: 0, twin: 1 }]],
};
