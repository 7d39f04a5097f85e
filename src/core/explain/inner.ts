/** Splits families by the inner calls at which the two sides first part, so that one fault deep inside is one family. */
import type { SectionCode } from "@/core/explain/code";
import { type CaseFacts, inputOf } from "@/core/explain/facets";
import { type Family, findFamilies, type Suspect } from "@/core/explain/families";
import type { SharedCase } from "@/core/formats/case-line";
import { groupBy } from "@/core/values/group-by";

/** Where a case parts: the section of the innermost call that differs, and what that call answers by itself, if it shows there. */
export type PartedCase = {
  /** Of the case that was traced. */
  readonly id: string;
  /** `module.name` */
  readonly section: string;
  /** The sections from the outermost call down to it. */
  readonly path: readonly string[];
  /** The inner call as a case that was run on both sides; null where it does not show by itself. */
  readonly alone: CaseFacts | null;
};

/** The section where all cases of a family part, with the smallest call that shows it. */
export type InnerSection = {
  readonly section: string;
  /** From the outermost call of one of the cases down to it. */
  readonly path: readonly string[];
  readonly alone: CaseFacts | null;
  /** How many cases of the family were seen to part there. */
  readonly shared: number;
};

/** A family, or a part of one, with the section where it parts. */
export type SplitFamily = Family & { readonly inner?: InnerSection };

/**
 * The section where the cases of a family part, in `shared` of them, with a small case that shows it by itself. `path` leads there, from
 * the outermost call of one of the cases.
 */
export type FamilyInner = {
  readonly section: string;
  readonly path: readonly string[];
  readonly case?: SharedCase;
  readonly shared: number;
};

const MAX_SUSPECTS = 5;

/**
 * The family in parts, one for each fault inside, those with the most cases first. Cases that were not traced stay with the only part
 * that there is; else they are a family of their own, as are those that part nowhere. `codes` has the code of the inner sections by name.
 */
export function splitByInner(
  family: Family,
  parted: readonly PartedCase[],
  codes: ReadonlyMap<string, SectionCode | undefined> = new Map(),
): SplitFamily[] {
  const parts = partsOf(parted, codes);
  const [only] = parts;
  if (!only) return [family];
  const taken = new Set(parts.flatMap(({ cases }) => [...cases]));
  const rest = family.cases.filter((id) => !taken.has(id));
  if (parts.length === 1) return [toFamily(family, only, family.cases)];
  const split = parts.map((part) =>
    toFamily(
      family,
      part,
      family.cases.filter((id) => part.cases.has(id)),
    ),
  );
  const others: SplitFamily[] = rest.length > 0 ? [{ ...family, cases: rest, simplest: simplestOf(family, rest) }] : [];
  return [...split, ...others].sort((left, right) => right.cases.length - left.cases.length);
}

type Part = {
  readonly section: string;
  readonly path: readonly string[];
  readonly cases: ReadonlySet<string>;
  readonly alone: CaseFacts | null;
  /** The family of the inner calls; null where none shows by itself. */
  readonly within: Family | null;
};

function partsOf(parted: readonly PartedCase[], codes: ReadonlyMap<string, SectionCode | undefined>): Part[] {
  const sections = groupBy(parted, ({ section }) => section);
  return [...sections].flatMap(([section, cases]) => {
    const alone = cases.filter(({ alone }) => alone !== null);
    // The facts carry the outer case's id, so that the families of inner calls lead back to it.
    const facts = new Map(alone.map(({ id, alone }) => [id, { ...(alone as CaseFacts), id }])); // null ones are filtered out
    const families = findFamilies([...facts.values()], [], codes.get(section));
    const left = new Set(cases.map(({ id }) => id));
    const parts = families.flatMap((within): Part[] => {
      const own = new Set(within.cases.filter((id) => left.delete(id)));
      if (own.size === 0) return [];
      const shown = [...own].flatMap((id) => alone.find((one) => one.id === id)?.alone ?? []);
      const [id] = own;
      const path = cases.find((one) => one.id === id)?.path ?? [];
      return [{ section, path, cases: own, alone: smallest(shown), within }];
    });
    const [first] = parts;
    if (left.size === 0) return parts;
    // A call that does not show by itself belongs to the same fault as one of the same section that does.
    if (first) return [{ ...first, cases: new Set([...first.cases, ...left]) }, ...parts.slice(1)];
    return [{ section, path: cases[0]?.path ?? [], cases: left, alone: null, within: null }];
  });
}

function smallest(facts: readonly CaseFacts[]): CaseFacts | null {
  const size = ({ item }: CaseFacts) => JSON.stringify(inputOf(item)).length;
  return facts.reduce<CaseFacts | null>((least, one) => (!least || size(one) < size(least) ? one : least), null);
}

/** Suspects of the inner call come first: nothing lies between it and the fault. */
function toFamily(family: Family, { section, path, cases, alone, within }: Part, ids: readonly string[]): SplitFamily {
  const inner = { section, path, alone, shared: cases.size };
  const found: readonly Suspect[] = within?.suspects ?? [];
  const named = new Set(found.map(({ cause }) => cause));
  const best = found[0]?.score ?? 1;
  const outer = family.suspects
    .filter(({ cause }) => !named.has(cause))
    .map((suspect) => (suspect.score <= best ? suspect : { ...suspect, score: best }));
  return {
    ...family,
    cases: ids,
    simplest: simplestOf(family, ids),
    ...(found.length > 0 && within ? { sentence: within.sentence } : {}),
    suspects: [...found, ...outer].slice(0, MAX_SUSPECTS),
    inner,
  };
}

const simplestOf = (family: Family, ids: readonly string[]): string =>
  ids.includes(family.simplest) ? family.simplest : (ids[0] ?? family.simplest);
