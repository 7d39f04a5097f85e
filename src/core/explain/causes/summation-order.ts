import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { NumberPair } from "@/core/explain/facets";
import { numericInputs } from "@/core/explain/numbers";
import { ulpsBetween } from "@/core/values/number";

export const summationOrder: Cause = {
  name: "summation-order",
  title: "Floating-point sums in another order",
  note: "Adding the same floats in another order, or with compensation (as some sum functions do), gives other last digits. Fix: add in the original's order and way, or agree to a tolerance of a few ulps.",
  inCode: {
    strength: "slight",
    original: { any: /sum|\+=|reduce|\+/ },
    twin: { any: /sum|\+=|reduce|\+/ },
  },
  examine: ({ numbers }) => {
    const close = ({ original, twin }: NumberPair) => {
      const largest = Math.max(Math.abs(original.value), Math.abs(twin.value));
      const isFraction = !Number.isInteger(original.value) || !Number.isInteger(twin.value);
      const gap = Math.abs(original.value - twin.value);
      return isFraction && gap > 0 && (gap <= largest * 1e-10 || (gap < 1e-13 && largest < 1e-3));
    };
    // Next to a number of 1e16 the last digit is worth 2, and smaller addends are lost.
    const isAbsorbed = ({ original, twin, facts }: NumberPair) => {
      const largest = Math.max(0, ...numericInputs(facts).map(Math.abs));
      const gap = Math.abs(original.value - twin.value);
      return gap > 0 && Number.isFinite(largest) && gap <= largest * Number.EPSILON * 2;
    };
    const most = Math.max(0, ...numbers.filter(close).map((pair) => ulpsBetween(pair.original.value, pair.twin.value)));
    return bestOf([
      findingFrom(numbers, close, {
        weight: 0.94,
        evidence: `equal but for the last digits, at most ${most} ulps apart`,
      }),
      findingFrom(numbers, (pair) => close(pair) || isAbsorbed(pair), {
        weight: 0.92,
        evidence: "equal but for the last digits of the largest number that was given",
      }),
    ]);
  },
  fires: [
    [{ original: 0.6000000000000001, twin: 0.6 }],
    [{ original: 1, twin: 0, args: [[1e16, 1, -1e16]] }],
    [
      { original: 1.1, twin: 1.1000000000000003 },
      { original: 12.299999999999999, twin: 12.3 },
    ],
  ],
  staysQuiet: [[{ original: 0.6, twin: 0.61 }], [{ original: 3, twin: 4 }], [{ original: 3, twin: 4, args: [[1, 2]] }]],
};
