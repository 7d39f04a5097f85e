/**
 * Allowances: which differences are accepted. They are consulted only after the default equality has found a
 * difference. Each has a scope and a reason; the result records what it excused and how much of it was needed.
 */
import { type Setting, settingsOf } from "@/core/allowances/kinds";
import type { AllowanceKind, Difference, Whole } from "@/core/allowances/kinds/kind";
import type { Needed } from "@/core/allowances/needed";
import type { Allow, Allowance } from "@/core/formats/allowance";
import type { Equality } from "@/core/values/equality";
import { matchesGlob, matchesPath, splitPath } from "@/core/values/path";

/** An allowance that applies to a case, with its path pattern and its kinds taken apart once. */
export type ScopedAllowance = {
  readonly allowance: Allowance;
  readonly pattern: readonly string[];
  readonly settings: readonly Setting[];
};

/** The parts of a case that an allowance's `where` is matched with. */
export type CaseScope = {
  readonly id: string;
  readonly module: string | null;
  readonly call: string;
  readonly twin: string;
};

/** The allowances whose module, call, case and twin patterns fit a case. */
export function allowancesFor(allowances: readonly Allowance[], scope: CaseScope): ScopedAllowance[] {
  return allowances
    .filter(
      ({ where, twin }) =>
        matchesGlob(scope.module ?? "", where.module ?? "*") &&
        matchesGlob(scope.call, where.call ?? "*") &&
        matchesGlob(scope.id, where.case ?? "*") &&
        (twin === undefined || twin === scope.twin),
    )
    .map((allowance) => ({
      allowance,
      pattern: splitPath(allowance.where.at ?? "**"),
      settings: settingsOf(allowance.allow),
    }));
}

/** An allowance that excused a difference, with how much of it was needed where that is measurable. */
export type Excuse = { readonly allowance: string; readonly needed?: Needed };

/** The first allowance that excuses a difference, or null. */
export function excuse(scoped: readonly ScopedAllowance[], difference: Difference, equality: Equality): Excuse | null {
  for (const entry of scoped) {
    if (!matchesPath(difference.at, entry.pattern)) continue;
    const needed = excuses(entry, difference, equality);
    if (needed === null) continue;
    return { allowance: entry.allowance.id, ...(Object.keys(needed).length > 0 ? { needed } : {}) };
  }
  return null;
}

/** Null where no kind of the allowance excuses it. */
function excuses({ allowance, settings }: ScopedAllowance, difference: Difference, equality: Equality): Needed | null {
  for (const { kind, setting } of settings) {
    const needed = kind.excuses?.(setting, difference, { allow: allowance.allow, equality }) ?? null;
    if (needed !== null) return needed;
  }
  return null;
}

/** Returns the kind of divergence under which an allowance settles a whole value or document; null if it does not. */
export function settle(
  { allowance, settings }: ScopedAllowance,
  whole: Whole,
  equality: Equality,
): "agreed" | "order" | null {
  for (const { kind, setting } of settings) {
    const as = kind.settles?.(setting, whole, { allow: allowance.allow, equality }) ?? null;
    if (as !== null) return as;
  }
  return null;
}

/** The allowances whose path fits and that have a kind of which `wanted` is true. */
export const findAt = (
  scoped: readonly ScopedAllowance[],
  at: readonly string[],
  wanted: (kind: AllowanceKind<keyof Allow>) => boolean,
): ScopedAllowance[] =>
  scoped.filter(({ pattern, settings }) => settings.some(({ kind }) => wanted(kind)) && matchesPath(at, pattern));

/** Kinds that settle a whole value before it is taken apart. */
export const settlesWhole = (kind: AllowanceKind<keyof Allow>): boolean => kind.settles !== undefined;
