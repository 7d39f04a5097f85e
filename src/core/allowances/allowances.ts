/**
 * What may differ. An allowance is asked only after the default equality has said "different"; it names its scope and
 * its reason, and what it excused is written down with how much of it was needed.
 */
import type { Needed } from "@/core/allowances/needed";
import { allowsNumber, numberDistance } from "@/core/allowances/number-tolerance";
import { neededLoosening } from "@/core/allowances/text-loosening";
import type { Allow, Allowance } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import type { Equality } from "@/core/values/equality";
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
  readonly measure?: Measure;
};

/** How far two pictures differ, for those who ask: the share of pixels with a channel beyond `channel` of 255 steps. */
export type Measure = { readonly shareOver: (channel: number) => number };

/** An allowance that excused a difference, and how much of it was needed where that can be told. */
export type Excuse = { readonly allowance: string; readonly needed?: Needed };

/** The first allowance that excuses a difference, or null. */
export function excuse(scoped: readonly ScopedAllowance[], difference: Difference, equality: Equality): Excuse | null {
  for (const { allowance, pattern } of scoped) {
    if (!matchesPath(difference.at, pattern)) continue;
    const needed = excuses(allowance, difference, equality);
    if (needed === null) continue;
    return { allowance: allowance.id, ...(Object.keys(needed).length > 0 ? { needed } : {}) };
  }
  return null;
}

function excuses(allowance: Allowance, difference: Difference, equality: Equality): Needed | null {
  const { allow } = allowance;
  const { original, twin, kind, measure } = difference;
  if (allow.ignore) return {};
  if (allow.errorMessage && kind === "error-message") return {};
  if (kind === "opaque") return null;
  if (allow.exactly && isExactly({ original, twin }, allow.exactly, { equality })) return {};
  if (original === null || twin === null) return null;
  if (allow.errorKind && kind === "error-kind" && original.kind === "text" && twin.kind === "text") {
    return allow.errorKind[original.value] === twin.value ? {} : null;
  }
  if (allow.unordered && kind === "order") return {};
  if (allow.image && measure) return neededShare(allow.image, measure);
  if (kind === "interval" && isNumber(original) && isNumber(twin)) {
    const distance = numberDistance(original, twin);
    return allow.timing && distance <= allow.timing.ms ? { ms: distance } : null;
  }
  if (allow.number && isNumber(original) && isNumber(twin)) return allowsNumber(original, twin, allow.number);
  if (allow.text && original.kind === "text" && twin.kind === "text") {
    return neededLoosening(original.value, twin.value, allow);
  }
  return null;
}

function neededShare({ channel = 0, share = 0 }: NonNullable<Allow["image"]>, measure: Measure): Needed | null {
  const over = measure.shareOver(channel);
  return over <= share ? { share: over } : null;
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
