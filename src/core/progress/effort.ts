/**
 * How much work is left: each module has points by a formula that is shown, and what a point takes is learned from the modules
 * that this port has finished, as a range and never as one figure.
 */

/** The parts of a module's points; `outside` and `snags` are uses, null until the survey is read. */
export type ModuleSize = {
  readonly lines: number;
  readonly complexity: number;
  readonly outside: number | null;
  readonly snags: number | null;
};

/** So much of each is one point. */
export const PER_POINT = { lines: 40, complexity: 10, outside: 20, snags: 8 } as const;

/** The formula of points in words. */
export const FORMULA = `a point is ${PER_POINT.lines} lines, ${PER_POINT.complexity} branches, ${PER_POINT.outside} uses from outside or ${PER_POINT.snags} of what is platform-bound`;

export function pointsOf({ lines, complexity, outside, snags }: ModuleSize): number {
  const sum =
    lines / PER_POINT.lines +
    complexity / PER_POINT.complexity +
    (outside ?? 0) / PER_POINT.outside +
    (snags ?? 0) / PER_POINT.snags;
  return Math.round(sum * 10) / 10;
}

/** Points left of a module: proven lines are done. */
export const pointsLeft = (
  points: number,
  module: { readonly isDone: boolean; readonly proven: number | null },
): number => (module.isDone ? 0 : points * (1 - (module.proven ?? 0)));

/** Longer pauses are not work; work between two saves is at least this long. */
const PAUSE_MS = 30 * 60_000;
const MIN_MS = 5 * 60_000;

/** Hours of work derived from moments of saving and checking: the time between them without pauses. */
export function workedHours(moments: readonly number[]): number {
  const sorted = [...moments].sort((one, other) => one - other);
  let sum = 0;
  for (const [index, at] of sorted.entries()) {
    const gap = at - (sorted[index - 1] ?? Number.NEGATIVE_INFINITY);
    sum += gap <= PAUSE_MS ? gap : MIN_MS;
  }
  return sum / 3_600_000;
}

/** A finished module: its points, and the hours spent. */
export type Finished = { readonly points: number; readonly hours: number };

/** Hours a point took, low and high; null where nothing was finished while it was watched. */
export type Pace = { readonly low: number; readonly high: number; readonly modules: number } | null;

/** The middle half of what the finished modules took; of fewer than four all of it, and widened the fewer there are. */
export function paceOf(finished: readonly Finished[]): Pace {
  const rates = finished
    .filter(({ points, hours }) => points > 0 && hours > 0)
    .map(({ points, hours }) => hours / points)
    .sort((one, other) => one - other);
  const [first = 0] = rates;
  const last = rates.at(-1) ?? 0;
  if (rates.length === 0) return null;
  if (rates.length >= 4) return { low: quantile(rates, 0.25), high: quantile(rates, 0.75), modules: rates.length };
  const wider = 1 + 1 / rates.length;
  return { low: first / wider, high: last * wider, modules: rates.length };
}

/** By linear interpolation (Hyndman and Fan, "Sample Quantiles in Statistical Packages", 1996, definition 7). */
function quantile(sorted: readonly number[], share: number): number {
  const at = (sorted.length - 1) * share;
  const [below, above] = [sorted[Math.floor(at)] ?? 0, sorted[Math.ceil(at)] ?? 0];
  return below + (above - below) * (at - Math.floor(at));
}

/** Points done and left, and an estimate in hours. */
export type Effort = {
  readonly total: number;
  readonly left: number;
  readonly pace: Pace;
  /** Points left after each finished check, oldest first. */
  readonly history: readonly EffortPoint[];
  readonly isComplete: boolean;
};

/** Points left at a time. */
export type EffortPoint = {
  readonly at: string;
  readonly left: number;
  readonly total: number;
  readonly lines: number;
  readonly provenLines: number | null;
};
