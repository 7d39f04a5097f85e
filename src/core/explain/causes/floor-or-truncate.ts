import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { divides } from "@/core/explain/code";
import type { NumberPair } from "@/core/explain/facets";
import { differByUnit, isTie, numericInputs, shared } from "@/core/explain/numbers";

export const floorOrTruncate: Cause = {
  name: "floor-or-truncate",
  title: "Floor against truncation",
  note: "Whole division and conversion round down in some languages and towards zero in others: they part below zero. Fix: use floor (or trunc) explicitly on the side that has the other habit.",
  inCode: {
    original: {
      python: /\/\/|\bint\(|floor/,
      any: /Math\.(floor|trunc)|~~|\|\s*0\b|parseInt|intdiv|floor|\(int\)|div_euclid|[\w)]\s*\/\s*[\w(]/,
    },
    twin: {
      python: /\/\/|\bint\(/,
      any: /Math\.(floor|trunc)|~~|\|\s*0\b|parseInt|intdiv|\(int\)|\bas [iu]\d|div_euclid|floorDiv/,
    },
  },
  examine: ({ numbers }, code) => {
    const converts = code !== undefined && !divides(code.original) && !divides(code.twin);
    const isPart = (whole: number, other: number) => !Number.isInteger(other) && Math.trunc(other) === whole;
    const lost = ({ original, twin }: NumberPair) =>
      converts && (isPart(twin.value, original.value) || isPart(original.value, twin.value));
    const below = (pair: NumberPair) =>
      differByUnit(pair, 0) && pair.original.value < 1 && pair.twin.value < 1 && !tied(pair);
    const count = numbers.filter(below).length;
    const floored = (pair: NumberPair) => below(pair) && pair.original.value < pair.twin.value;
    const cut = (pair: NumberPair) => below(pair) && pair.original.value > pair.twin.value;
    const up = (pair: NumberPair) =>
      differByUnit(pair, 0) && pair.original.value >= 0 && pair.twin.value > pair.original.value && fractional(pair);
    const down = (pair: NumberPair) =>
      differByUnit(pair, 0) && pair.twin.value >= 0 && pair.twin.value < pair.original.value && fractional(pair);
    const weight = count >= 2 ? 0.93 : 0.8;
    const step = shared(numbers, (pair) => Math.abs(pair.twin.value - pair.original.value));
    const isMultiple = (value: number) => step !== null && step > 1 && Number.isInteger(value / step) && value <= 0;
    const stepped = (pair: NumberPair) =>
      numbers.length > 1 && isMultiple(pair.original.value) && isMultiple(pair.twin.value);
    return bestOf([
      findingFrom(numbers, lost, {
        weight: 0.93,
        evidence: "one side is the whole part of the other, without a division",
      }),
      findingFrom(numbers, stepped, { weight: 0.93, evidence: `at or below zero, one step of ${step} apart` }),
      findingFrom(numbers, floored, {
        weight,
        evidence: "at or below zero, the original is rounded down and the twin towards zero",
      }),
      findingFrom(numbers, cut, {
        weight,
        evidence: "at or below zero, the original is cut towards zero and the twin rounded down",
      }),
      findingFrom(numbers, up, { weight: 0.74, evidence: "the twin is one higher where an argument has a fraction" }),
      findingFrom(numbers, down, { weight: 0.74, evidence: "the twin is one lower where an argument has a fraction" }),
    ]);
  },
  fires: [
    [
      { original: -4, twin: -3, args: [-7, 2] },
      { original: -3, twin: -2, args: [-7, 3] },
    ],
    [{ original: -1, twin: 0, args: [-1, 4] }],
  ],
  staysQuiet: [[{ original: 3, twin: 4, args: [6] }], [{ original: -4, twin: -6, args: [-7] }]],
};

/** A single argument that is a half suggests rounding; a quotient that is one suggests nothing. */
const tied = (pair: NumberPair): boolean => numericInputs(pair.facts).some((value) => isTie(value, 0));
const fractional = (pair: NumberPair): boolean =>
  numericInputs(pair.facts).some((value) => !Number.isInteger(value) && !isTie(value, 0));
