/** Usage of allowances: how often each excused something, the most that was needed, and a tighter proposal. */
import type { Excuse } from "@/core/allowances/allowances";
import { settingsOf } from "@/core/allowances/kinds";
import { mostNeeded, type Needed } from "@/core/allowances/needed";
import type { Allow, Allowance } from "@/core/formats/allowance";

/** How often an allowance excused a difference, and the most that any of them needed. */
export type Use = { readonly used: number; readonly needed: Needed };

/** Usage within one case, as stored. */
export type CaseUse = Use & { readonly allowance: string };

const NONE: readonly CaseUse[] = [];

/** Sums the excuses of one case; always returns the same empty list if there are none. */
export function usesOf(excuses: readonly Excuse[]): readonly CaseUse[] {
  if (excuses.length === 0) return NONE;
  return [...sumUses(excuses.map(({ allowance, needed = {} }) => ({ allowance, used: 1, needed })))].map(
    ([allowance, use]) => ({ allowance, ...use }),
  );
}

/** Allowance → its uses over all that is given. */
export function sumUses(uses: Iterable<CaseUse>): Map<string, Use> {
  const sums = new Map<string, Use>();
  for (const { allowance, used, needed } of uses) {
    const before = sums.get(allowance) ?? { used: 0, needed: {} };
    sums.set(allowance, { used: before.used + used, needed: mostNeeded(before.needed, needed) });
  }
  return sums;
}

/** A narrower allowance that excuses all that this one has excused so far, and why it is proposed. */
export type Tighter = { readonly allow: Allow; readonly advice: string };

/** Null when nothing was excused yet, or nothing much would be won. */
export function proposeTighter({ allow }: Allowance, use: Use | undefined): Tighter | null {
  if (!use || use.used === 0) return null;
  for (const { kind, setting } of settingsOf(allow)) {
    const tightened = kind.tighten?.(setting, use.needed);
    if (tightened) return { allow: { ...allow, [kind.key]: tightened.setting }, advice: tightened.advice };
  }
  return null;
}
