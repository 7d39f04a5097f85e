import { type Cause, findingFrom } from "@/core/explain/cause";
import type { NumberPair } from "@/core/explain/facets";

const SAFE = 2 ** 53;

export const integerPrecision: Cause = {
  name: "integer-precision",
  title: "Large whole numbers lose their last digits",
  note: "A double holds whole numbers exactly only up to 2^53; arbitrary-precision integers hold all. Fix: BigInt (or a decimal type) on the way through, also when reading JSON.",
  examine: ({ numbers }) => {
    const close = ({ original, twin }: NumberPair) => {
      const largest = Math.max(Math.abs(original.value), Math.abs(twin.value));
      return largest >= SAFE && Math.abs(original.value - twin.value) <= largest * 2 ** -50 && !isSame(original, twin);
    };
    return findingFrom(numbers, close, { weight: 0.96, evidence: "beyond 2^53, equal but for the last digits" });
  },
  fires: [
    [{ original: { "~int": "9007199254740993" }, twin: { "~float": "9007199254740992.0" } }],
    [{ original: { "~int": "123456789012345678901" }, twin: { "~float": "123456789012345680000" } }],
  ],
  staysQuiet: [[{ original: 9007199254, twin: 9007199255 }], [{ original: { "~int": "9007199254740993" }, twin: 7 }]],
};

const isSame = (one: NumberPair["original"], other: NumberPair["original"]): boolean =>
  one.exact !== null && one.exact === other.exact;
