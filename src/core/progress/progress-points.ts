/** The progress of a port over its checks: one point a whole check. */

/** One point; null where it was not measured. */
export type ProgressPoint = {
  readonly at: string;
  /** The number of the check. */
  readonly check: number;
  readonly provenLines: number | null;
  /** Cases that differ or are broken. */
  readonly differing: number | null;
  readonly complaints: number | null;
  /** Rungs that were reached. */
  readonly rungs: number | null;
};

type Check = {
  readonly id: number;
  readonly at: string;
  readonly provenLines: number | null;
  readonly totals: { readonly differ: number; readonly broken: number } | null;
};
type Climb = {
  readonly at: string;
  readonly errors: number;
  readonly warnings: number;
  readonly reached: readonly string[] | null;
};

/**
 * Joins checks with the runs of the ladder's checks, both oldest first: a check has the complaints and rungs of the last
 * run before its end. Cost: linear in both.
 */
export function progressPoints(checks: readonly Check[], climbs: readonly Climb[]): ProgressPoint[] {
  let next = 0;
  let last: Climb | null = null;
  return checks.map(({ id, at, provenLines, totals }) => {
    for (let climb = climbs[next]; climb && climb.at <= at; climb = climbs[++next]) last = climb;
    return {
      at,
      check: id,
      provenLines,
      differing: totals && totals.differ + totals.broken,
      complaints: last && last.errors + last.warnings,
      rungs: last?.reached?.length ?? null,
    };
  });
}

/** Names that came and went between two runs; nothing came before the first that is known. */
export function rungsSince(
  before: readonly string[] | null,
  now: readonly string[],
): { readonly reached: string[]; readonly lost: string[] } {
  return {
    reached: now.filter((name) => !before?.includes(name)),
    lost: (before ?? []).filter((name) => !now.includes(name)),
  };
}
