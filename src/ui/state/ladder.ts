/** The ladder as the Order and the Bench show it. Pure. */

import type { LadderView } from "@/api/making-views";
import { isComplaint } from "@/core/diagnostics/diagnostic";

export type RungView = LadderView["rungs"][number] & {
  /** Above the rung where the port means to stop: nothing there counts against it. */
  readonly isBeyond: boolean;
  readonly isGoal: boolean;
};

export type Complaint = LadderView["diagnostics"][number];

export function rungsOf(ladder: LadderView): RungView[] {
  const goal = ladder.rungs.findIndex(({ name }) => name === ladder.goal);
  return ladder.rungs.map((rung, index) => ({
    ...rung,
    isGoal: index === goal,
    isBeyond: goal >= 0 && index > goal,
  }));
}

/** The highest rung that a module has reached, and the first that it has not; null if there is none. */
export function standingOf(
  ladder: LadderView,
  module: string,
): { readonly on: RungView | null; readonly next: RungView | null } {
  const rungs = rungsOf(ladder).filter(({ isBeyond }) => !isBeyond);
  const isReached = (rung: RungView) => rung.modules.find(({ name }) => name === module)?.reached ?? false;
  const short = rungs.findIndex((rung) => !isReached(rung));
  return short < 0
    ? { on: rungs.at(-1) ?? null, next: null }
    : { on: rungs[short - 1] ?? null, next: rungs[short] ?? null };
}

/**
 * The diagnostics up to the rung to stop at, each once, on the lowest rung that has it; by file and line. With a module
 * those of its files only; with null those of no module.
 */
export function complaintsOf(ladder: LadderView | null, module?: string | null): Complaint[] {
  if (!ladder) return [];
  const rungs = rungsOf(ladder);
  const counted = new Map<string, Complaint>();
  for (const rung of rungs.filter(({ isBeyond }) => !isBeyond))
    for (const found of ladder.diagnostics) {
      if (found.rung !== rung.name || (module !== undefined && found.module !== module)) continue;
      const key = JSON.stringify([found.file, found.line, found.column, found.code, found.message]);
      if (!counted.has(key)) counted.set(key, found);
    }
  return [...counted.values()].sort(
    (a, b) => (a.file < b.file ? -1 : Number(a.file > b.file)) || (a.line ?? 0) - (b.line ?? 0),
  );
}

/** How many of them count. */
export const countComplaints = (complaints: readonly Complaint[]): number => complaints.filter(isComplaint).length;

/** Those on the lines of a piece of the twin. */
export const complaintsIn = (
  complaints: readonly Complaint[],
  piece: { readonly file: string; readonly from: number; readonly to: number } | null,
): Complaint[] =>
  piece === null
    ? []
    : complaints.filter(
        ({ file, line }) => file === piece.file && line !== null && piece.from <= line && line <= piece.to,
      );

/** The modules that have complaints, in the order of `modules`. */
export function complainingModules(ladder: LadderView | null, modules: readonly string[]): string[] {
  const found = new Set(complaintsOf(ladder).map(({ module }) => module));
  return modules.filter((name) => found.has(name));
}
