import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { NumberPair } from "@/core/explain/facets";
import { numericInputs } from "@/core/explain/numbers";

export const remainderSign: Cause = {
  name: "remainder-sign",
  title: "Remainder with another sign",
  note: "The remainder has the divisor's sign in some languages and the dividend's in others. Fix: ((a % m) + m) % m where the original's remainder is never negative.",
  inCode: {
    original: { any: /[\w)\]]\s*%\s*[\w(]|divmod|mod\(/ },
    twin: { any: /[\w)\]]\s*%\s*[\w(]|fmod|remainder|rem_euclid|floorMod|modulo/ },
  },
  examine: ({ numbers }) => {
    const opposite = (pair: NumberPair) => Math.sign(pair.original.value) * Math.sign(pair.twin.value) === -1;
    const span = (pair: NumberPair) => Math.abs(pair.original.value - pair.twin.value);
    const spans = new Set(numbers.filter(opposite).map(span));
    const given = (pair: NumberPair) =>
      numericInputs(pair.facts).some((value) => Math.abs(Math.abs(value) - span(pair)) < 1e-9);
    const isFlip = (pair: NumberPair) => pair.original.value === -pair.twin.value;
    const flips = numbers.length > 0 && numbers.every(isFlip);
    return bestOf([
      findingFrom(numbers, (pair) => opposite(pair) && given(pair), {
        weight: flips ? 0.6 : 0.97,
        evidence: "signs are opposite and the difference is the divisor given",
      }),
      findingFrom(numbers, (pair) => opposite(pair) && spans.size === 1 && !isFlip(pair), {
        weight: numbers.length > 1 ? 0.95 : 0.8,
        evidence: `signs are opposite and the difference is always ${[...spans][0]}`,
      }),
    ]);
  },
  fires: [
    [
      { original: 2, twin: -1, args: [-1, 3] },
      { original: 1, twin: -2, args: [-5, 3] },
    ],
    [
      { original: 23, twin: -1, args: ["a"] },
      { original: 20, twin: -4, args: ["b"] },
    ],
  ],
  staysQuiet: [[{ original: 5, twin: -5, args: [5] }], [{ original: 1, twin: 4, args: [3] }]],
};
