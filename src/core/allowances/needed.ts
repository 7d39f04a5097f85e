/** How much of an allowance a difference needed, in the units of its bounds. */

/** `abs` in the value's own unit, `rel` as a share of it, `ulps` in steps of the doubles, `share` of pixels, `ms` of time. */
export const BOUNDS = ["abs", "rel", "ulps", "share", "ms"] as const;

/** The part of each bound that a difference used. */
export type Needed = { readonly [bound in (typeof BOUNDS)[number]]?: number };

/** The most of both, bound by bound. */
export function mostNeeded(one: Needed, other: Needed): Needed {
  const most: { -readonly [bound in keyof Needed]: number } = { ...one };
  for (const bound of BOUNDS) {
    const value = other[bound];
    if (value !== undefined) most[bound] = Math.max(most[bound] ?? 0, value);
  }
  return most;
}

/**
 * Formats for people and reports: just the number if there is one bound. `digits` is the number of significant digits.
 */
export function formatNeeded(needed: Needed, digits = 17): string | null {
  const show = (bound: keyof Needed) => String(Number((needed[bound] ?? 0).toPrecision(digits)));
  const bounds = BOUNDS.filter((bound) => needed[bound] !== undefined);
  const [only] = bounds;
  if (only === undefined) return null;
  return bounds.length === 1 ? show(only) : bounds.map((bound) => `${bound} ${show(bound)}`).join(", ");
}
