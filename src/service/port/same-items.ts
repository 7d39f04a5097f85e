/** Whether two lists hold the very same items: what was worked out from one then holds for the other. */
export const sameItems = <T>(one: readonly T[], other: readonly T[]): boolean =>
  one === other || (one.length === other.length && one.every((item, index) => item === other[index]));
