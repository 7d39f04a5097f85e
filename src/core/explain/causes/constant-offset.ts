import { type Cause, findingFrom } from "@/core/explain/cause";
import { isWritten } from "@/core/explain/code";
import { sameNumber, shared } from "@/core/explain/numbers";

export const constantOffset: Cause = {
  name: "constant-offset",
  title: "Always the same amount apart",
  note: "A start value, a base or a fee that one side adds and the other does not. Fix: find the constant in the original and carry it over.",
  examine: ({ numbers }, code) => {
    const offset = shared(numbers, (pair) => pair.twin.value - pair.original.value);
    const originals = new Set(numbers.map((pair) => pair.original.value));
    if (offset === null || originals.size < 2 || Math.abs(offset) === 1) return null;
    // An amount that neither side writes down comes of something else, such as rounding.
    const share = code && !isWritten(offset, code) ? 0.8 : 1;
    const weight = share * (originals.size > 2 ? 0.9 : 0.75);
    return findingFrom(numbers, (pair) => sameNumber(pair.twin.value - pair.original.value, offset), {
      weight,
      evidence: `the twin is the original ${offset < 0 ? "−" : "+"} ${Math.abs(offset)}`,
    });
  },
  fires: [
    [
      { original: 10, twin: 15 },
      { original: 2, twin: 7 },
      { original: 0, twin: 5 },
    ],
    [
      { original: 1.5, twin: -1 },
      { original: 4, twin: 1.5 },
    ],
  ],
  staysQuiet: [
    [
      { original: 1, twin: 2 },
      { original: 5, twin: 9 },
    ],
    [{ original: 1, twin: 9 }],
  ],
};
