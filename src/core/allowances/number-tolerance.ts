/** How far two numbers may lie apart. Any one of the bounds that is given is enough. */
import type { Needed } from "@/core/allowances/needed";
import type { NumberTolerance } from "@/core/formats/allowance";
import { type NumberValue, toDouble, ulpsBetween } from "@/core/values/number";

/** How much was needed of each bound that allows it; null when none does. */
export function allowsNumber(original: NumberValue, twin: NumberValue, tolerance: NumberTolerance): Needed | null {
  return neededTolerance(toDouble(original), toDouble(twin), tolerance, numberDistance(original, twin));
}

/** The distance of two numbers; exact for integers beyond the doubles. */
export function numberDistance(original: NumberValue, twin: NumberValue): number {
  if (original.kind === "int" && twin.kind === "int") {
    const distance = original.value - twin.value;
    return Number(distance < 0n ? -distance : distance);
  }
  return Math.abs(toDouble(original) - toDouble(twin));
}

/** The first bound that allows a difference, in the order in which they are written here, and how much of it was needed. */
export function neededTolerance(
  original: number,
  twin: number,
  tolerance: NumberTolerance,
  distance = Math.abs(original - twin),
): Needed | null {
  if (!Number.isFinite(original) || !Number.isFinite(twin)) return Object.is(original, twin) ? {} : null;
  // Test the distance, not the doubles: two large integers may round to the same double.
  if (distance === 0) return {};
  const { abs, rel, ulps } = tolerance;
  if (abs !== undefined && distance <= abs) return { abs: distance };
  const relative = distance / Math.max(Math.abs(original), Math.abs(twin));
  if (rel !== undefined && relative <= rel) return { rel: relative };
  const steps = ulps === undefined ? 0 : ulpsBetween(original, twin);
  return ulps !== undefined && steps <= ulps ? { ulps: steps } : null;
}
