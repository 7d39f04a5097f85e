import { bestOf, type Cause, type Finding } from "@/core/explain/cause";
import { type Facets, inputOf, leavesOf, type NumberPair, toNumeric } from "@/core/explain/facets";
import { differByUnit, isTie, numericInputs } from "@/core/explain/numbers";

/** Calls that round to the nearest. */
const ROUNDS = /\bround\(|Round\(|\.round\b|\bl?lround\(/;

export const roundingMode: Cause = {
  name: "rounding-mode",
  title: "Halves rounded differently",
  note: "Some languages round a half to the even neighbour, others away from zero or upwards, and a decimal that looks like a half may not be one in binary. Fix: round with the original's rule, on scaled whole numbers or with a decimal type.",
  inCode: {
    strength: "needed",
    original: {
      python: /\bround\(|quantize|:\.\d+f|%\.\d+f/,
      any: /Math\.round|toFixed|\bround\(|Round\(|number_format|HALF_\w+|setScale/,
    },
    twin: {
      python: /\bround\(|quantize|:\.\d+f|%\.\d+f/,
      any: /Math\.round|toFixed|\bround\(|Round\(|number_format|HALF_\w+|setScale/,
    },
  },
  examine: (facets, code) => {
    const isRounded =
      code !== undefined &&
      [code.original, code.twin].every(({ lines }) => lines.some(({ text }) => ROUNDS.test(text)));
    return bestOf([0, 1, 2, 3, 4, -1, -2].map((digits) => examineAt(facets, digits, isRounded)));
  },
  fires: [
    [
      { original: 2, twin: 3, args: [2.5] },
      { original: 4, twin: 5, args: [4.5] },
      { original: 0, twin: 1, args: [0.5] },
    ],
    [
      { original: 2.67, twin: 2.68, args: [2.675] },
      { original: 1, twin: 1.01, args: [1.005] },
    ],
  ],
  staysQuiet: [[{ original: 1, twin: 3 }], [{ original: 10.5, twin: 11.75 }]],
};

function examineAt(facets: Facets, digits: number, isRounded: boolean): Finding | null {
  const pairs = facets.numbers.filter((pair) => differByUnit(pair, digits));
  const [first] = pairs;
  if (!first) return null;
  const unit = 10 ** -digits;
  const isEven = (value: number) => Math.abs(Math.round(value / unit)) % 2 === 0;
  const originalEven = pairs.every((pair) => isEven(pair.original.value));
  const twinEven = pairs.every((pair) => isEven(pair.twin.value));
  const ties = pairs.filter((pair) => hasTie(pair, digits)).length;
  const oneWay = pairs.every((pair) => pair.original.value <= 0 && pair.twin.value <= 0);
  const tied = ties === pairs.length;
  const parity = originalEven || twinEven ? 1 - 0.5 ** pairs.length : 0;
  // Only halves differ: where every case does, or nothing is calculated, the last digit's parity is chance.
  const isPlausible = facets.controls.length > 0 && pairs.some((pair) => numericInputs(pair.facts).length > 0);
  // Where a half goes up on one side and away from zero on the other, only what is negative differs.
  const isUpward = isRounded && oneWay && pairs.length > 1 && facets.controls.length > 0;
  const weight = isUpward ? 0.95 : tied ? 0.97 : parity * (oneWay ? 0.5 : isPlausible ? 0.95 : 0.55);
  if (weight < 0.3) return null;
  const rule = isUpward
    ? "half up against half away from zero"
    : originalEven
      ? "half to even against half away"
      : twinEven
        ? "half away against half to even"
        : "a half goes to the other neighbour";
  const seen = tied ? "; each has a half among its arguments" : "";
  return {
    cases: new Set(pairs.map((pair) => pair.facts)),
    fit: pairs.length / facets.numbers.length,
    weight,
    evidence: `${pairs.length} of ${facets.numbers.length} pairs: ${rule}, at ${digits} digits${seen}`,
  };
}

const hasTie = (pair: NumberPair, digits: number): boolean =>
  inputOf(pair.facts.item)
    .flatMap((item) => leavesOf(item))
    .some((leaf) => isTie(toNumeric(leaf)?.value, digits));
