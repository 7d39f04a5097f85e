/** Proven lines in LCOV's trace file form, which editors and coverage services read (geninfo(1), "FILES"). */

export type LineCoverage = {
  readonly executable: Readonly<Record<string, readonly number[]>>;
  readonly proven: Readonly<Record<string, readonly number[]>>;
};

/** One record a file, in the order of their names; a line's count is 1 when it is proven. `root` comes before each file. */
export function formatLcov(root: string, modules: Iterable<LineCoverage>): string {
  const records = new Map<string, string>();
  for (const { executable, proven } of modules) {
    for (const [file, lines] of Object.entries(executable)) {
      const run = new Set(proven[file] ?? []);
      const data = lines.map((line) => `DA:${line},${run.has(line) ? 1 : 0}`);
      const text = ["TN:", `SF:${root}/${file}`, ...data, `LF:${lines.length}`, `LH:${run.size}`, "end_of_record"];
      records.set(file, text.join("\n"));
    }
  }
  return [...records.keys()]
    .sort()
    .map((file) => `${records.get(file)}\n`)
    .join("");
}
