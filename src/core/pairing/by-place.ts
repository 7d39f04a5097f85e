/**
 * Pairs sections whose names are uninformative: by parameter names, texts and numbers, shape, and above all position,
 * since most ports keep the original's order. A pair is taken only if each is clearly the best for the other: no pair
 * is better than a wrong one.
 */

import type { PlacedSection } from "@/core/pairing/placed-section";
import { Rivals } from "@/core/pairing/rivals";
import { dice } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";

/** A pair found by position, with its score and reasons. */
export type PlacePair = {
  readonly one: PlacedSection;
  readonly other: PlacedSection;
  readonly score: number;
  readonly reasons: readonly string[];
};

const MIN_SCORE = 0.7;
/** By so much the best must be better than the next. */
const MARGIN = 0.04;

type Sides = { readonly original: readonly PlacedSection[]; readonly twin: readonly PlacedSection[] };

/**
 * `pairs` are known; only sections outside them are examined. Cost: unpaired sections of one side × those of the other.
 */
export function pairByPlace(
  { original, twin }: Sides,
  pairs: readonly Pick<PlacePair, "one" | "other">[],
): PlacePair[] {
  const taken = { original: new Set(pairs.map(({ one }) => one)), twin: new Set(pairs.map(({ other }) => other)) };
  const left = {
    original: original.filter((section) => !taken.original.has(section)),
    twin: twin.filter((section) => !taken.twin.has(section)),
  };
  const gaps = { original: gapsOf(original, taken.original), twin: gapsOf(twin, taken.twin) };
  const partner = new Map<PlacedSection | null, PlacedSection | null>(pairs.map(({ one, other }) => [one, other]));
  partner.set(null, null);
  const scored = left.original.flatMap((one) =>
    left.twin
      .filter((other) => one.kind === other.kind && !areStrange(one, other))
      .map((other) => {
        const [mine, theirs] = [gaps.original.get(one), gaps.twin.get(other)];
        const isSameGap =
          mine && theirs && (partner.get(mine.before) === theirs.before || partner.get(mine.after) === theirs.after);
        const isCounted = isSameGap && mine.index === theirs.index && mine.count === theirs.count;
        const apart = Math.abs(rank(one, original) - rank(other, twin));
        const place = isCounted ? 1 : isSameGap ? 0.6 : Math.max(0, 0.5 - 2 * apart);
        const reasons = isCounted ? [placeReason(mine)] : ["its place and shape, and nothing that is more like it"];
        return { one, other, score: likeness(one, other, place), reasons };
      }),
  );
  const rivals = new Rivals();
  for (const { one, other, score } of scored) {
    rivals.enter(one, score);
    rivals.enter(other, score);
  }
  return scored.filter(
    ({ one, other, score }) =>
      score >= MIN_SCORE && rivals.leads(one, score, MARGIN) && rivals.leads(other, score, MARGIN),
  );
}

function placeReason({ before, after }: Gap): string {
  if (before && after) return `the same place between ${before.name} and ${after.name}`;
  return before
    ? `the same place after ${before.name}`
    : after
      ? `the same place before ${after.name}`
      : "the same place";
}

/** Both hold texts and numbers, and none that the other has. */
function areStrange({ trace: one }: PlacedSection, { trace: other }: PlacedSection): boolean {
  if (!one || !other || Math.min(one.literals.size, other.literals.size) < 2) return false;
  return (dice(one.literals, other.literals) ?? 1) < 0.12;
}

type Gap = {
  readonly before: PlacedSection | null;
  readonly after: PlacedSection | null;
  readonly index: number;
  /** How many of its kind lie between the same two. */
  readonly count: number;
};

/** For each section that is left, the taken ones around it and which one it is between them, of its kind. */
function gapsOf(sections: readonly PlacedSection[], taken: ReadonlySet<PlacedSection>): Map<PlacedSection, Gap> {
  const gaps = new Map<PlacedSection, Gap>();
  let before: PlacedSection | null = null;
  let open: PlacedSection[] = [];
  const close = (after: PlacedSection | null) => {
    const counts = new Map<string, number>();
    for (const section of open) {
      const index = counts.get(section.kind) ?? 0;
      counts.set(section.kind, index + 1);
      const count = open.filter(({ kind }) => kind === section.kind).length;
      gaps.set(section, { before, after, index, count });
    }
    open = [];
    before = after;
  };
  for (const section of sections) {
    if (taken.has(section)) close(section);
    else open.push(section);
  }
  close(null);
  return gaps;
}

const rank = (section: PlacedSection, sections: readonly PlacedSection[]): number =>
  sections.indexOf(section) / Math.max(1, sections.length - 1);

/** The weighted mean of the available measures. */
function likeness(one: PlacedSection, other: PlacedSection, place: number): number {
  const words = ({ params }: PlacedSection) => new Set(params.map((name) => wordsOf(name).join("")));
  const isCode = one.kind === "function" || one.kind === "method";
  const parts: (readonly [number | null, number])[] = [
    [dice(words(one), words(other)), 3],
    [nameLikeness(one, other), 4],
    [isCode && one.params.length + other.params.length === 0 ? 1 : null, 1],
    [one.trace && other.trace ? dice(one.trace.literals, other.trace.literals) : null, 3],
    [place, 4],
    [ratio(one.complexity, other.complexity), 1],
    [ratio(one.to - one.from + 1, other.to - other.from + 1), 1],
  ];
  const known = parts.flatMap(([score, weight]) => (score === null ? [] : [{ score, weight }]));
  const total = known.reduce((sum, { weight }) => sum + weight, 0);
  return known.reduce((sum, { score, weight }) => sum + score * weight, 0) / total;
}

/** Informative names without a common word count against a pair; null if one is uninformative, such as `q1`. */
function nameLikeness(one: PlacedSection, other: PlacedSection): number | null {
  const words = ({ name }: PlacedSection) => new Set(wordsOf(name).filter((word) => /\p{L}{3}/u.test(word)));
  const [mine, theirs] = [words(one), words(other)];
  return mine.size === 0 || theirs.size === 0 ? null : dice(mine, theirs);
}

const ratio = (one: number, other: number): number => Math.min(one, other) / Math.max(one, other);
