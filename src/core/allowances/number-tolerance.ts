/** How far two numbers may lie apart. Any one of the bounds that is given is enough. */
import type { NumberTolerance } from "@/core/formats/allowance";
import { type NumberValue, toDouble, ulpsBetween } from "@/core/values/number";

export function allowsNumber(original: NumberValue, twin: NumberValue, tolerance: NumberTolerance): boolean {
  return withinTolerance(toDouble(original), toDouble(twin), tolerance, numberDistance(original, twin));
}

/** The distance of two numbers; exact for integers beyond the doubles. */
export function numberDistance(original: NumberValue, twin: NumberValue): number {
  if (original.kind === "int" && twin.kind === "int") {
    const distance = original.value - twin.value;
    return Number(distance < 0n ? -distance : distance);
  }
  return Math.abs(toDouble(original) - toDouble(twin));
}

export function withinTolerance(
  original: number,
  twin: number,
  tolerance: NumberTolerance,
  distance = Math.abs(original - twin),
): boolean {
  if (!Number.isFinite(original) || !Number.isFinite(twin)) return Object.is(original, twin);
  // Asked of the distance and not of the doubles: two large integers may share one.
  if (distance === 0) return true;
  const { abs, rel, ulps } = tolerance;
  if (abs !== undefined && distance <= abs) return true;
  if (rel !== undefined && distance <= rel * Math.max(Math.abs(original), Math.abs(twin))) return true;
  return ulps !== undefined && ulpsBetween(original, twin) <= ulps;
}
