/**
 * Splits families by the inner calls at which the two sides first part, and joins the parts of all families that part in one
 * section, so that one fault deep inside is one family.
 */
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
  /** Its arguments and answers as they were observed within the outer case; null where they could not be. */
  readonly seen: CaseFacts | null;
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
 * that there is; else they are a family of their own, as are those that part nowhere and those in `own`, which part in the family's
 * own section. `codes` has the code of the inner sections by name.
 */
export function splitByInner(
  family: Family,
  parted: readonly PartedCase[],
  codes: ReadonlyMap<string, SectionCode | undefined> = new Map(),
  own: ReadonlySet<string> = new Set(),
): SplitFamily[] {
  const parts = partsOf(parted, codes);
  const [only] = parts;
  if (!only) return [family];
  const taken = new Set(parts.flatMap(({ cases }) => [...cases]));
  const rest = family.cases.filter((id) => !taken.has(id));
  if (parts.length === 1 && !rest.some((id) => own.has(id))) return [toFamily(family, only, family.cases)];
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
    const facts = factsByOuter(cases);
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

/** Inner calls by the id of the outer case, which they carry, so that their families lead back to it. */
function factsByOuter(cases: readonly PartedCase[]): Map<string, CaseFacts> {
  const found = new Map<string, CaseFacts>();
  for (const { id, alone, seen } of cases) {
    const facts = alone ?? seen;
    if (facts) found.set(id, { ...facts, id });
  }
  return found;
}

function smallest(facts: readonly CaseFacts[]): CaseFacts | null {
  const size = ({ item }: CaseFacts) => JSON.stringify(inputOf(item)).length;
  return facts.reduce<CaseFacts | null>((least, one) => (!least || size(one) < size(least) ? one : least), null);
}

function toFamily(family: Family, { section, path, cases, alone, within }: Part, ids: readonly string[]): SplitFamily {
  return {
    ...family,
    cases: ids,
    simplest: simplestOf(family, ids),
    ...(within && within.suspects.length > 0 ? { sentence: within.sentence } : {}),
    suspects: withOuter(within?.suspects ?? [], family.suspects),
    inner: { section, path, alone, shared: cases.size },
  };
}

const simplestOf = (family: Family, ids: readonly string[]): string =>
  ids.includes(family.simplest) ? family.simplest : (ids[0] ?? family.simplest);

/** All that is known of an inner section. */
export type AtSection = {
  /** The parts of families whose cases part there. */
  readonly pieces: readonly SplitFamily[];
  /** The families of the section's own cases. */
  readonly direct: readonly Family[];
  readonly parted: readonly PartedCase[];
  /** The answers of its own cases that differ. */
  readonly facts: readonly CaseFacts[];
  /** Calls of it that agree. */
  readonly controls: readonly CaseFacts[];
  readonly code: SectionCode | undefined;
};

/**
 * The families of an inner section, found from its own cases and from the inner calls of others together; each has the cases
 * of all families that show its fault. Nothing is joined if no inner call could be observed.
 */
export function joinAtSection(section: string, at: AtSection): SplitFamily[] {
  const { pieces, direct, parted, controls, code } = at;
  const own = new Set(direct.flatMap(({ cases }) => cases));
  const others = parted.filter(({ id }) => !own.has(id));
  const inner = factsByOuter(others);
  if (inner.size === 0) return [...direct, ...pieces];
  const ownFacts = at.facts.filter(({ id }) => own.has(id));
  const found = findFamilies([...ownFacts, ...inner.values()], controls, code);
  if (found.length === 0) return [...direct, ...pieces];
  const homes = found.map((family) => ({ family, cases: new Set(family.cases), outer: [] as Suspect[] }));
  for (const piece of [...direct, ...pieces]) {
    const shared = (cases: ReadonlySet<string>) => piece.cases.filter((id) => cases.has(id)).length;
    const [home] = [...homes].sort((left, right) => shared(right.cases) - shared(left.cases));
    if (!home) continue;
    const placed = new Set(homes.flatMap(({ cases }) => [...cases]));
    // Cases that were not traced, or do not show by themselves, go where most of their family are.
    for (const id of piece.cases) if (!placed.has(id)) home.cases.add(id);
    if ("inner" in piece) home.outer.push(...piece.suspects);
  }
  return homes.map(({ family, cases, outer }) => {
    const seen = others.filter(({ id }) => cases.has(id));
    const shown = seen.flatMap(({ alone }) => alone ?? []);
    const simplest = smallest(ownFacts.filter(({ id }) => cases.has(id)))?.id ?? family.simplest;
    const path = seen[0]?.path ?? [];
    return {
      ...family,
      cases: [...cases],
      simplest,
      suspects: withOuter(family.suspects, outer),
      ...(seen.length > 0 ? { inner: { section, path, alone: smallest(shown), shared: seen.length } } : {}),
    };
  });
}

/** Suspects of the inner call come first: nothing lies between it and the fault. */
function withOuter(found: readonly Suspect[], outer: readonly Suspect[]): Suspect[] {
  const best = found[0]?.score ?? 1;
  const all = new Map(found.map((suspect) => [suspect.cause, suspect]));
  for (const suspect of outer)
    if (!all.has(suspect.cause)) all.set(suspect.cause, { ...suspect, score: Math.min(suspect.score, best) });
  return [...all.values()].slice(0, MAX_SUSPECTS);
}
