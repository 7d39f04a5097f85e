/** Proven lines in LCOV's trace file form, which editors and coverage services read (geninfo(1), "FILES"). */

/** Coverage of one file. */
export type LineCoverage = {
  readonly executable: Readonly<Record<string, readonly number[]>>;
  readonly proven: Readonly<Record<string, readonly number[]>>;
};

/**
 * One record a file, in the order of their names; a line's count is 1 when it is proven, on any of the twins. `root` comes
 * before each file.
 */
export function formatLcov(root: string, modules: Iterable<LineCoverage>): string {
  const files = new Map<string, { readonly lines: readonly number[]; readonly proven: Set<number> }>();
  for (const { executable, proven } of modules) {
    for (const [file, lines] of Object.entries(executable)) {
      const known = files.get(file) ?? { lines, proven: new Set<number>() };
      files.set(file, known);
      for (const line of proven[file] ?? []) known.proven.add(line);
    }
  }
  return [...files]
    .sort(([one], [other]) => (one < other ? -1 : 1))
    .map(([file, { lines, proven }]) => {
      const data = lines.map((line) => `DA:${line},${proven.has(line) ? 1 : 0}`);
      return `${["TN:", `SF:${root}/${file}`, ...data, `LF:${lines.length}`, `LH:${proven.size}`, "end_of_record"].join("\n")}\n`;
    })
    .join("");
}
