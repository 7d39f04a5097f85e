/** Rounding and ordering as the original does them. */

/** The nearest whole number; halves go to the even neighbour. */
export function roundHalfEven(amount: number): number {
  const low = Math.floor(amount);
  const rest = amount - low;
  if (rest !== 0.5) return Math.round(amount);
  return low % 2 === 0 ? low : low + 1;
}

/** Negative, zero or positive, by code points. */
export function compareCodePoints(left: string, right: string): number {
  const [one, other] = [[...left], [...right]];
  for (let at = 0; at < Math.min(one.length, other.length); at++) {
    const apart = one[at]!.codePointAt(0)! - other[at]!.codePointAt(0)!;
    if (apart !== 0) return apart;
  }
  return one.length - other.length;
}
