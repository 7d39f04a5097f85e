import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { divides } from "@/core/explain/code";

export const integerDivision: Cause = {
  name: "integer-division",
  title: "Whole division against division with a fraction",
  note: "One language divides whole numbers to a whole number, or has an operator of its own for it; the other keeps the fraction. Fix: floor or truncate the quotient, or divide as the original does.",
  inCode: {
    strength: "slight",
    original: { python: /\/\/|\/|divmod/, any: /[\w)\]]\s*\/\s*[\w(]|intdiv/ },
    twin: { any: /[\w)\]]\s*\/\s*[\w(]/ },
  },
  examine: ({ numbers }, code) => {
    if (code && !divides(code.original) && !divides(code.twin)) return null;
    const part = (whole: number, other: number) =>
      Number.isInteger(whole) &&
      !Number.isInteger(other) &&
      (Math.floor(other) === whole || Math.trunc(other) === whole);
    return bestOf([
      findingFrom(numbers, (pair) => part(pair.original.value, pair.twin.value), {
        weight: 0.94,
        evidence: "the original is the whole part of the twin",
      }),
      findingFrom(numbers, (pair) => part(pair.twin.value, pair.original.value), {
        weight: 0.94,
        evidence: "the twin is the whole part of the original",
      }),
    ]);
  },
  fires: [
    [
      { original: 3, twin: 3.5, args: [7, 2] },
      { original: 2, twin: 2.6666666666666665, args: [8, 3] },
    ],
    [{ original: 1.5, twin: 1, args: [3, 2] }],
  ],
  staysQuiet: [[{ original: 3, twin: 4.5 }], [{ original: 3, twin: 2 }]],
};
