/** "Berth for quay, RangeError for KeyError": names of the twin for those of the original. */
export const describeNames = (names: Readonly<Record<string, string>>): string =>
  Object.entries(names)
    .map(([from, to]) => `${to} for ${from}`)
    .join(", ");
