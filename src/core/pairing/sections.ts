/**
 * Pairs sections of the original and the twin: by name through naming styles, then by literal fingerprint; left-over
 * sections may be parts of a paired one (split) or merged into one. Manual pairs come first.
 */
import { pairByLiterals } from "@/core/pairing/by-literals";
import { pairByPlace } from "@/core/pairing/by-place";
import type { Match } from "@/core/pairing/match";
import { findParts, makes } from "@/core/pairing/parts";
import type { PlacedSection } from "@/core/pairing/placed-section";
import { type PlainNames, plainNames } from "@/core/pairing/plain-names";
import { lastField, lastWords, scoreSections } from "@/core/pairing/score-sections";
import { wordsOf } from "@/core/pairing/words";
import type { Section } from "@/core/source/section";

/** How a paired section changed. */
export type Relation = "same" | "renamed" | "reshaped" | "split" | "merged" | "moved";

/** A section of the original with its twin. */
export type SectionPair = {
  readonly original: string;
  readonly twin: string;
  readonly originalFrom: number;
  readonly twinFrom: number;
  readonly relation: Relation;
  /** 0 to 1. */
  readonly score: number;
  /** Why, in words, what weighs most first. */
  readonly reasons: readonly string[];
  /** The twin's file, where the section moved to another module's. */
  readonly twinFile?: string;
};

/** Pairs given from outside: by hookups, and by hand. */
export type GivenPairs = {
  /** Original → twin of hookups, whose arguments or result have another shape. */
  readonly hooked: ReadonlyMap<string, string>;
  /** Original → twin as paired by hand; null if dropped. */
  readonly manual: ReadonlyMap<string, string | null>;
  /** Sections of the twin marked as new by hand. */
  readonly isNew: ReadonlySet<string>;
};

/** The reason of a pair that a person has made. */
export const PAIRED_BY_HAND = "set in the port file";

/** For modules without hookups and manual pairs. */
export const NO_GIVEN_PAIRS: GivenPairs = { hooked: new Map(), manual: new Map(), isNew: new Set() };

const MIN_SCORE = 0.6;
/** From here on names alone have met. */
const SURE = 0.9;
const MARGIN = 0.005;
const MAX_RIVALS = 40;

/** Pairs in the original's order. Cost: sections whose names meet, and those that are left on one side times the other. */
export function pairSections(
  allOriginal: readonly PlacedSection[],
  allTwin: readonly PlacedSection[],
  words: GivenPairs = NO_GIVEN_PAIRS,
): SectionPair[] {
  const { found, original, twin } = takeSaid(allOriginal, allTwin, words);
  const candidates = candidatesOf(original, twin, words.hooked);
  candidates.sort((first, second) => second.score - first.score || first.one.from - second.one.from);
  const [takenOriginal, takenTwin] = [new Set<PlacedSection>(), new Set<PlacedSection>()];
  const known: Match[] = [];
  const take = (match: Match) => {
    takenOriginal.add(match.one);
    takenTwin.add(match.other);
    known.push(match);
  };
  const undecided = new Set<Match>();
  const isFree = ({ one, other }: Match) => !takenOriginal.has(one) && !takenTwin.has(other);
  for (const [index, candidate] of candidates.entries()) {
    if (!isFree(candidate) || undecided.has(candidate)) continue;
    // Two that are as likely, and neither by its whole name: no pair is better than one of them by chance.
    const rivals = candidates
      .slice(index + 1, index + 1 + MAX_RIVALS)
      .filter((rival) => candidate.score - rival.score < MARGIN && isFree(rival))
      .filter((rival) => (rival.one === candidate.one) !== (rival.other === candidate.other));
    if (candidate.score >= SURE || rivals.length === 0) take(candidate);
    else for (const rival of rivals) undecided.add(rival);
  }
  for (const match of classesByMethods(original, twin, known))
    if (!takenOriginal.has(match.one) && !takenTwin.has(match.other)) take(match);
  for (const match of makersOf(original, twin, known))
    if (!takenOriginal.has(match.one) && !takenTwin.has(match.other)) take(match);
  const isUnpaired = (section: PlacedSection) => !takenOriginal.has(section) && !takenTwin.has(section);
  for (const match of pairByLiterals(original, twin, isUnpaired)) if (isFree(match)) take(match);
  const parts = findParts(original, twin, { known, takenOriginal, takenTwin });
  const isPart = (section: PlacedSection, side: "one" | "other") => parts.some((part) => part[side] === section);
  const whole = {
    original: original.filter((section) => takenOriginal.has(section) || !isPart(section, "one")),
    twin: twin.filter((section) => takenTwin.has(section) || !isPart(section, "other")),
  };
  const placed = pairByPlace(whole, known);
  const pairs = [
    ...found,
    ...known.map((match) => toPair(match, relationOf(match, words))),
    ...placed.map((match) =>
      toPair({ ...match, score: match.score * 0.9 }, isReshaped(match.one, match.other) ? "reshaped" : "renamed"),
    ),
    ...parts.map((part) => toPair(part, part.relation)),
  ];
  const place = new Map(allOriginal.map((section, index) => [section.name, index]));
  return pairs.sort((first, second) => (place.get(first.original) ?? 0) - (place.get(second.original) ?? 0));
}

/** Takes manual pairs, and returns the other sections. */
function takeSaid(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  { manual, isNew }: GivenPairs,
): { found: SectionPair[]; original: PlacedSection[]; twin: PlacedSection[] } {
  const byName = new Map(twin.map((section) => [section.name, section]));
  const found: SectionPair[] = [];
  const taken = new Set<PlacedSection>();
  for (const one of original) {
    const wanted = manual.get(one.name);
    const other = wanted == null ? undefined : byName.get(wanted);
    if (!other) continue;
    taken.add(other);
    const relation = isReshaped(one, other) ? "reshaped" : one.name === other.name ? "same" : "renamed";
    found.push(toPair({ one, other, score: 1, reasons: [PAIRED_BY_HAND] }, relation));
  }
  return {
    found,
    original: original.filter(({ name }) => !manual.has(name)),
    twin: twin.filter((section) => !taken.has(section) && !isNew.has(section.name)),
  };
}

/** Names that meet are looked at alone: every section against every other would take long in a large module. */
function candidatesOf(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  hooked: ReadonlyMap<string, string>,
): Match[] {
  const names: PlainNames = new Map([...plainNames(original, twin), ...plainNames(twin, original)]);
  const plain = (section: PlacedSection) => names.get(section) ?? section.name;
  const byWords = new Map<string, PlacedSection[]>();
  for (const other of twin) {
    const key = wordsOf(plain(other)).join("");
    byWords.set(key, [...(byWords.get(key) ?? []), other]);
  }
  const candidates: Match[] = [];
  const met = { original: new Set<PlacedSection>(), twin: new Set<PlacedSection>() };
  const last = { original: countLast(original.map(plain)), twin: countLast(twin.map(plain)) };
  const score = (one: PlacedSection, other: PlacedSection) => {
    return scoreSections(one, other, {
      isOnly: (key) => last.original.get(key) === 1 && last.twin.get(key) === 1,
      names,
    });
  };
  for (const one of original) {
    const hook = hooked.get(one.name);
    const namesakes =
      hook === undefined ? (byWords.get(wordsOf(plain(one)).join("")) ?? []) : twin.filter(({ name }) => name === hook);
    for (const other of namesakes) {
      const made = hook === undefined ? score(one, other) : { score: 1, reasons: ["a hookup names it"] };
      if (made.score < MIN_SCORE) continue;
      candidates.push({ one, other, ...made });
      met.original.add(one);
      met.twin.add(other);
    }
  }
  const left = {
    original: original.filter((one) => !met.original.has(one)),
    twin: twin.filter((other) => !met.twin.has(other)),
  };
  for (const one of left.original) {
    for (const other of left.twin) {
      const made = score(one, other);
      if (made.score >= MIN_SCORE) candidates.push({ one, other, ...made });
    }
  }
  return candidates;
}

function countLast(names: readonly string[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const name of names) {
    for (const key of new Set([lastWords(name), lastField(name)])) counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  return counts;
}

/** Classes with different names are paired if most paired methods of one are paired with the other's. */
function classesByMethods(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  known: readonly Match[],
): Match[] {
  const ownerOf = ({ name }: PlacedSection) => (name.includes(".") ? name.slice(0, name.lastIndexOf(".")) : null);
  const tally = new Map<string, Map<string, number>>();
  for (const { one, other } of known) {
    const [mine, theirs] = [ownerOf(one), ownerOf(other)];
    if (mine === null || theirs === null) continue;
    const row = tally.get(mine) ?? new Map<string, number>();
    tally.set(mine, row);
    row.set(theirs, (row.get(theirs) ?? 0) + 1);
  }
  return original.flatMap((one): Match[] => {
    const row = tally.get(one.name);
    if (!row) return [];
    const total = [...row.values()].reduce((sum, count) => sum + count, 0);
    const [owner = "", count = 0] = [...row].sort((first, second) => second[1] - first[1])[0] ?? [];
    const other = twin.find(({ name, kind }) => name === owner && kind !== "method");
    if (!other || count * 2 <= total) return [];
    return [
      { one, other, score: 0.75, reasons: [`${count} of ${total} methods that are paired are paired with its own`] },
    ];
  });
}

/** Constructors of classes that are paired. */
function makersOf(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  known: readonly Match[],
): Match[] {
  const makers = (sections: readonly PlacedSection[]) =>
    new Map(
      sections.flatMap((section) => (makes(section.name) === null ? [] : [[makes(section.name), section] as const])),
    );
  const [mine, theirs] = [makers(original), makers(twin)];
  return known.flatMap(({ one, other }): Match[] => {
    const [maker, theirMaker] = [mine.get(one.name), theirs.get(other.name)];
    if (!maker || !theirMaker) return [];
    return [{ one: maker, other: theirMaker, score: 0.85, reasons: [`both make ${one.name}, which is paired`] }];
  });
}

function relationOf({ one, other }: Match, { hooked }: GivenPairs): Relation {
  if (hooked.has(one.name) || isReshaped(one, other)) return "reshaped";
  return one.name === other.name ? "same" : "renamed";
}

const toPair = ({ one, other, score, reasons }: Match, relation: Relation): SectionPair => ({
  original: one.name,
  twin: other.name,
  originalFrom: one.from,
  twinFrom: other.from,
  relation,
  score: Math.round(score * 100) / 100,
  reasons,
});

/** Other numbers of parameters are another shape; a language without named arguments gathers them in one. */
function isReshaped(one: Section, other: Section): boolean {
  const isCode = ({ kind }: Section) => kind === "function" || kind === "method";
  if (!isCode(one) || !isCode(other)) return false;
  const gathered = other.params.includes("options") ? other.params.length - 1 : null;
  return gathered === null ? one.params.length !== other.params.length : one.params.length < gathered;
}
