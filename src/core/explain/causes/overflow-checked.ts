import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";
import { isMessage, throwsOnly } from "@/core/explain/values";

const OVERFLOW = /\boverflow|out of range integral|integer too large/i;

export const overflowChecked: Cause = {
  name: "overflow-checked",
  title: "An overflow is an error on one side and wraps on the other",
  note: "C, Java and Go wrap whole numbers silently; Rust panics in debug builds, and other languages have checked operators. Fix: use wrapping operations (wrapping_mul, &*, Math.multiplyExact for the check) where the original wraps, or check where it does.",
  examine: ({ all }) =>
    findingFrom(all, isOverflow, { weight: 0.97, evidence: "one side tells of an overflow, the other answers" }),
  fires: [
    [{ original: 2669562695, twin: { "~thrown": ["panic", "attempt to multiply with overflow"] } }],
    [{ original: { "~thrown": ["ArithmeticException", "integer overflow"] }, twin: -2147483648 }],
  ],
  staysQuiet: [
    [{ original: 1, twin: { "~thrown": ["panic", "index out of bounds"] } }],
    [{ original: { "~thrown": ["A", "overflow"] }, twin: { "~thrown": ["B", "overflow"] } }],
  ],
};

function isOverflow(pair: AnyPair): boolean {
  const side = throwsOnly(pair);
  return side !== null && isMessage(pair[side], OVERFLOW);
}
