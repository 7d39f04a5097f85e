import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { NumberPair } from "@/core/explain/facets";

export const float32Precision: Cause = {
  name: "float32-precision",
  title: "Single against double precision",
  note: "A 32-bit float keeps some 7 digits, a double some 16. Fix: the same width on both sides: Math.fround or a Float32Array to narrow, double or float64 to widen.",
  inCode: { twin: { any: /fround|Float32|\bfloat\b|f32/ } },
  examine: ({ numbers }) => {
    const exact = ({ original, twin }: NumberPair) =>
      original.value !== twin.value &&
      (Math.fround(original.value) === twin.value || Math.fround(twin.value) === original.value) &&
      !wholeAndSmall(original.value, twin.value);
    const near = ({ original, twin }: NumberPair) => {
      const relative = Math.abs(original.value - twin.value) / Math.max(Math.abs(original.value), Math.abs(twin.value));
      return relative > 2e-9 && relative < 2e-6 && !(Number.isInteger(original.value) && Number.isInteger(twin.value));
    };
    return bestOf([
      findingFrom(numbers, exact, { weight: 0.97, evidence: "one side is the other in 32 bits" }),
      findingFrom(numbers, (pair) => near(pair) || exact(pair), {
        weight: 0.86,
        evidence: "equal to some 7 digits, as in 32 bits",
      }),
    ]);
  },
  fires: [
    [
      { original: 0.1, twin: 0.10000000149011612 },
      { original: 3.3, twin: 3.299999952316284 },
    ],
    [{ original: 1.2345678, twin: 1.2345679 }],
  ],
  staysQuiet: [[{ original: 0.1, twin: 0.2 }], [{ original: 0.30000000000000004, twin: 0.3 }]],
};

const wholeAndSmall = (one: number, other: number): boolean =>
  Number.isInteger(one) && Number.isInteger(other) && Math.abs(one) < 2 ** 24;
