/** Bounds that are proposed in place of wider ones. */

/** A proposal is made when this part of a bound, or less, was needed. */
export const WORTH_TIGHTENING = 0.5;

/** Up to two significant digits, so that the bound reads well and still holds. */
export function roundUp(value: number): number {
  if (value === 0) return 0;
  const rounded = Number(value.toPrecision(2));
  if (rounded >= value) return rounded;
  const step = 10 ** (Math.floor(Math.log10(Math.abs(rounded))) - 1);
  return Number((rounded + step).toPrecision(2));
}

/** With three significant digits. */
export const show = (value: number): string => String(Number(value.toPrecision(3)));
