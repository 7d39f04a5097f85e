/** The wanted name, or with the first number behind it that is not taken. */
export function freeId(wanted: string, taken: ReadonlySet<string>): string {
  for (let number = 1; ; number++) {
    const id = number === 1 ? wanted : `${wanted}-${number}`;
    if (!taken.has(id)) return id;
  }
}
