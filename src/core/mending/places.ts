/** Where a fault most likely is: lines that differing cases run and agreeing ones do not. */

/** The lines that one case ran in a file of the twin. */
export type Ran = { readonly lines: ReadonlySet<number>; readonly isDiffering: boolean };

/**
 * Line → how likely the fault is there, from 0 to 1: Ochiai's coefficient of running the line and differing (Abreu, Zoeteweij and
 * van Gemund, "An Evaluation of Similarity Coefficients for Software Fault Localization", 2006). Lines that no differing case ran
 * are left out.
 */
export function scoreLines(runs: readonly Ran[]): Map<number, number> {
  const differing = runs.filter(({ isDiffering }) => isDiffering).length;
  const counts = new Map<number, { differing: number; all: number }>();
  for (const { lines, isDiffering } of runs) {
    for (const line of lines) {
      const known = counts.get(line) ?? { differing: 0, all: 0 };
      counts.set(line, { differing: known.differing + (isDiffering ? 1 : 0), all: known.all + 1 });
    }
  }
  return new Map(
    [...counts].flatMap(([line, count]) =>
      count.differing === 0 ? [] : [[line, count.differing / Math.sqrt(differing * count.all)] as const],
    ),
  );
}
