/**
 * What may differ. An allowance is asked only after the default equality has said "different"; it names its scope and
 * its reason, and what it excused is written down with how much of it was needed.
 */
import { allowsNumber, numberDistance } from "@/core/allowances/number-tolerance";
import { sameLoosened } from "@/core/allowances/text-loosening";
import { canonicalText } from "@/core/compare/canonical";
import type { Equality } from "@/core/compare/equality";
import type { Allowance } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import { isNumber } from "@/core/values/number";
import { matchesGlob, matchesPath, splitPath } from "@/core/values/path";
import { fromNotation, type Value } from "@/core/values/value";

/** An allowance that speaks of this case, its path pattern split once. */
export type ScopedAllowance = { readonly allowance: Allowance; readonly pattern: readonly string[] };

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
    .map((allowance) => ({ allowance, pattern: splitPath(allowance.where.at ?? "**") }));
}

export type Difference = {
  readonly at: readonly string[];
  readonly kind: string;
  readonly original: Value | null;
  readonly twin: Value | null;
};

export type Excused = { readonly allowance: string; readonly needed?: number };

/** The first allowance that excuses a difference, or null. */
export function excuse(scoped: readonly ScopedAllowance[], difference: Difference, equality: Equality): Excused | null {
  for (const { allowance, pattern } of scoped) {
    if (!matchesPath(difference.at, pattern)) continue;
    const needed = excuses(allowance, difference, equality);
    if (needed !== null)
      return { allowance: allowance.id, ...(needed.distance === undefined ? {} : { needed: needed.distance }) };
  }
  return null;
}

function excuses(allowance: Allowance, difference: Difference, equality: Equality): { distance?: number } | null {
  const { allow } = allowance;
  const { original, twin, kind } = difference;
  if (allow.ignore) return {};
  if (allow.errorMessage && kind === "error-message") return {};
  if (kind === "opaque") return null;
  if (original === null || twin === null) {
    return allow.exactly && isExactly({ original, twin }, allow.exactly, { equality }) ? {} : null;
  }
  if (allow.exactly && isExactly({ original, twin }, allow.exactly, { equality })) return {};
  if (allow.errorKind && kind === "error-kind" && original.kind === "text" && twin.kind === "text") {
    return allow.errorKind[original.value] === twin.value ? {} : null;
  }
  if (allow.number && isNumber(original) && isNumber(twin)) {
    return allowsNumber(original, twin, allow.number) ? { distance: numberDistance(original, twin) } : null;
  }
  if (allow.text && original.kind === "text" && twin.kind === "text") {
    return sameLoosened(original.value, twin.value, allow) ? {} : null;
  }
  return null;
}

/** Whether both values are the ones that were agreed to; anything else lets the agreement lapse. */
export function isExactly(
  values: { original: Value | null; twin: Value | null },
  agreed: { original: Json; twin: Json },
  terms: { equality: Equality },
): boolean {
  const same = (value: Value | null, wanted: Json) =>
    value === null
      ? wanted === null
      : canonicalText(value, terms.equality) === canonicalText(fromNotation(wanted), terms.equality);
  return same(values.original, agreed.original) && same(values.twin, agreed.twin);
}

/** Allowances that settle or reshape a whole value at a path; `null` when there is none. */
export function findStructural(
  scoped: readonly ScopedAllowance[],
  at: readonly string[],
  which: "whole" | "keys" = "whole",
): ScopedAllowance[] | null {
  const found = scoped.filter(({ allowance: { allow }, pattern }) => {
    const fits = which === "keys" ? allow.keys : (allow.ignore ?? allow.unordered ?? allow.exactly);
    return fits !== undefined && matchesPath(at, pattern);
  });
  return found.length > 0 ? found : null;
}
