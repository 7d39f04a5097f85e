/**
 * A cause: one hypothesis of how a twin comes to answer otherwise. It is tested on all pairs of a family, and what agrees
 * is held against it. An entry knows no other; which of several is named first is decided by their scores.
 */
import type { CodeSigns, SectionCode } from "@/core/explain/code";
import type { CaseFacts, Facets } from "@/core/explain/facets";

/** How well a cause fits. */
export type Finding = {
  /** The cases that it explains. */
  readonly cases: ReadonlySet<CaseFacts>;
  /** The share of applicable pairs that fit, from 0 to 1. */
  readonly fit: number;
  /** How telling a fit is, from 0 to 1: a rare relation weighs more than one that chance makes often. */
  readonly weight: number;
  /** Agreeing cases that the fault would have changed. */
  readonly contradicted?: number;
  /** In numbers, for people. */
  readonly evidence: string;
};

/**
 * Two answers to one call, for the examples of a cause; where both are the same it is a case that agrees. Instead of a
 * value: `{"~thrown": [kind, message]}`, `{"~printed": text}`, `{"~after": arguments}`, `{"~steps": values}`.
 */
export type Example = {
  readonly original: unknown;
  readonly twin: unknown;
  readonly args?: readonly unknown[];
};

/** The contract of a cause. Entries are data and pure functions, and know no other entry. */
export type Cause = {
  readonly name: string;
  readonly title: string;
  /** How it comes about between two languages, and the usual mends. */
  readonly note: string;
  /** Calls and operators in the code that bring it about; the code counts beside the answers. */
  readonly inCode?: CodeSigns;
  /** `code` where the section of both sides could be read. */
  readonly examine: (facets: Facets, code?: SectionCode) => Finding | null;
  /** Pairs, each list one family, that it must notice, and some that it must leave alone. */
  readonly fires: readonly (readonly Example[])[];
  readonly staysQuiet: readonly (readonly Example[])[];
};

/** `12 of 12 pairs: …` from pairs and a test; null when none fits. */
export function findingFrom<P extends { readonly facts: CaseFacts }>(
  pairs: readonly P[],
  fits: (pair: P) => boolean,
  terms: {
    readonly weight: number;
    readonly evidence: string;
    readonly least?: number;
    readonly contradicted?: number;
  },
): Finding | null {
  const fitting = pairs.filter(fits);
  if (fitting.length < (terms.least ?? 1)) return null;
  // A list within a list that differs differs too, and only one of them shows the fault.
  const isList = Array.isArray((fitting[0] as { readonly original?: unknown } | undefined)?.original);
  const contradicted = terms.contradicted ?? 0;
  const against = contradicted > 0 ? `; ${contradicted} agreeing cases speak against it` : "";
  return {
    cases: new Set(fitting.map((pair) => pair.facts)),
    fit: isList ? 1 : fitting.length / pairs.length,
    weight: terms.weight,
    ...(contradicted > 0 ? { contradicted } : {}),
    evidence: `${fitting.length} of ${pairs.length} pairs: ${terms.evidence}${against}`,
  };
}

/** The better of several findings of one cause, by what they come to. */
export function bestOf(findings: readonly (Finding | null)[]): Finding | null {
  let best: Finding | null = null;
  for (const finding of findings) {
    if (
      finding &&
      (!best || finding.weight * finding.fit * finding.cases.size > best.weight * best.fit * best.cases.size)
    )
      best = finding;
  }
  return best;
}
