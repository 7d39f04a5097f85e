/** Whether two lists hold identical items, so that results computed from one hold for the other. */
export const sameItems = <T>(one: readonly T[], other: readonly T[]): boolean =>
  one === other || (one.length === other.length && one.every((item, index) => item === other[index]));
