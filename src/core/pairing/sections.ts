/**
 * Which twin section answers for which original section: by names, through naming styles, by the texts, numbers and calls
 * in them, by parameters and place. The likeliest pair is taken first, so that no section is taken twice; then what is left
 * over is looked for as a part of what is paired: one section may have become several, and several one.
 */
import { pairByPlace } from "@/core/pairing/by-place";
import type { PlacedSection } from "@/core/pairing/placed-section";
import { likenessOf } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";
import type { Section } from "@/core/source/section";

export type Relation = "same" | "renamed" | "reshaped" | "split" | "merged";

export type SectionPair = {
  readonly original: string;
  readonly twin: string;
  readonly originalFrom: number;
  readonly twinFrom: number;
  readonly relation: Relation;
  /** 0 to 1. */
  readonly score: number;
};

const LEAST_SCORE = 0.6;
/** Below this a likeness of the texts says that two sections have nothing to do with each other. */
const STRANGE = 0.12;
/** So much must be in the texts before they outweigh a name. */
const ENOUGH = 6;

/** Pairs in the original's order. `reshaped` holds names of originals whose hookup changes arguments or result. */
export function pairSections(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  hooked: ReadonlyMap<string, string> = new Map(),
): SectionPair[] {
  const candidates = candidatesOf(original, twin, hooked);
  candidates.sort((first, second) => second.score - first.score || first.one.from - second.one.from);
  const [takenOriginal, takenTwin] = [new Set<PlacedSection>(), new Set<PlacedSection>()];
  const pairs: SectionPair[] = [];
  const known: Pick<Candidate, "one" | "other">[] = [];
  for (const { one, other, score } of candidates) {
    if (takenOriginal.has(one) || takenTwin.has(other)) continue;
    takenOriginal.add(one);
    takenTwin.add(other);
    const renamed = one.name === other.name ? "same" : "renamed";
    const relation = hooked.has(one.name) || isReshaped(one, other) ? "reshaped" : renamed;
    pairs.push(toPair(one, other, relation, score));
    known.push({ one, other });
  }
  const parts = findParts(original, twin, { pairs, takenOriginal, takenTwin });
  const isPart = (section: PlacedSection, side: "original" | "twin") =>
    parts.some((part) => part[side] === section.name && part[`${side}From`] === section.from);
  const whole = {
    original: original.filter((section) => takenOriginal.has(section) || !isPart(section, "original")),
    twin: twin.filter((section) => takenTwin.has(section) || !isPart(section, "twin")),
  };
  for (const { one, other, score } of pairByPlace(whole, known))
    pairs.push(toPair(one, other, isReshaped(one, other) ? "reshaped" : "renamed", score * 0.9));
  pairs.push(...parts);
  const place = new Map(original.map((section, index) => [section.name, index]));
  return pairs.sort((first, second) => (place.get(first.original) ?? 0) - (place.get(second.original) ?? 0));
}

type Candidate = { readonly one: PlacedSection; readonly other: PlacedSection; readonly score: number };

/** Names that meet are looked at alone: every section against every other would take long in a large module. */
function candidatesOf(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  hooked: ReadonlyMap<string, string>,
): Candidate[] {
  const byWords = new Map<string, PlacedSection[]>();
  for (const other of twin) {
    const key = wordsOf(other.name).join("");
    byWords.set(key, [...(byWords.get(key) ?? []), other]);
  }
  const candidates: Candidate[] = [];
  const met = { original: new Set<PlacedSection>(), twin: new Set<PlacedSection>() };
  for (const one of original) {
    const hook = hooked.get(one.name);
    const namesakes =
      hook === undefined ? (byWords.get(wordsOf(one.name).join("")) ?? []) : twin.filter(({ name }) => name === hook);
    for (const other of namesakes) {
      const score = hook === undefined ? likeness(one, other) : 1;
      if (score < LEAST_SCORE) continue;
      candidates.push({ one, other, score });
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
      const score = likeness(one, other);
      if (score >= LEAST_SCORE) candidates.push({ one, other, score });
    }
  }
  return candidates;
}

type Taken = {
  readonly pairs: readonly SectionPair[];
  readonly takenOriginal: ReadonlySet<PlacedSection>;
  readonly takenTwin: ReadonlySet<PlacedSection>;
};

/** A part holds this share of its texts and calls from the whole, and so many at the least. */
const HELD = 0.7;
const LEAST_HELD = 4;

/** What is left over on one side as a part of what is paired on the other. */
function findParts(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  { pairs, takenOriginal, takenTwin }: Taken,
): SectionPair[] {
  const isCode = ({ kind }: Section) => kind === "function" || kind === "method";
  const find = (list: readonly PlacedSection[], name: string, from: number) =>
    list.find((section) => section.name === name && section.from === from);
  const wholes = pairs.flatMap((pair) => {
    const [one, other] = [find(original, pair.original, pair.originalFrom), find(twin, pair.twin, pair.twinFrom)];
    return one && other && isCode(one) ? [{ one, other }] : [];
  });
  const parts: SectionPair[] = [];
  for (const part of twin.filter((section) => isCode(section) && !takenTwin.has(section))) {
    const { score, item } = holder(part, wholes, ({ one }) => one);
    if (item) parts.push(toPair(item.one, part, "split", score));
  }
  for (const part of original.filter((section) => isCode(section) && !takenOriginal.has(section))) {
    const { score, item } = holder(part, wholes, ({ other }) => other);
    if (item) parts.push(toPair(part, item.other, "merged", score));
  }
  return parts;
}

const toPair = (one: PlacedSection, other: PlacedSection, relation: Relation, score: number): SectionPair => ({
  original: one.name,
  twin: other.name,
  originalFrom: one.from,
  twinFrom: other.from,
  relation,
  score: Math.round(score * 100) / 100,
});

/** The whole that holds the most of a part. */
function holder<T>(
  part: PlacedSection,
  wholes: readonly T[],
  sectionOf: (whole: T) => PlacedSection,
): { score: number; item: T | null } {
  const best: { score: number; item: T | null } = { score: HELD, item: null };
  const mine = part.trace ? [...part.trace.literals, ...part.trace.calls] : [];
  if (mine.length < LEAST_HELD) return best;
  for (const whole of wholes) {
    const { trace } = sectionOf(whole);
    if (!trace) continue;
    const score = mine.filter((item) => trace.literals.has(item) || trace.calls.has(item)).length / mine.length;
    if (score >= best.score && (best.item === null || score > best.score)) {
      best.score = score;
      best.item = whole;
    }
  }
  return best;
}

/** Other numbers of parameters are another shape; a language without named arguments gathers them in one. */
function isReshaped(one: Section, other: Section): boolean {
  if (one.kind === "constant" || one.kind === "class") return false;
  const gathered = other.params.includes("options") ? other.params.length - 1 : null;
  return gathered === null ? one.params.length !== other.params.length : one.params.length < gathered;
}

function likeness(one: PlacedSection, other: PlacedSection): number {
  const kinds = one.kind === other.kind ? 1 : related(one, other) ? 0.9 : 0.5;
  const [first, second] = [wordsOf(one.name), wordsOf(other.name)];
  if (first.join(" ") === second.join(" ")) return one.name === other.name ? kinds : 0.98 * kinds;
  if (first.join("") === second.join("")) return 0.97 * kinds;
  const [own, theirs] = [lastWords(one), lastWords(other)];
  // The method of a class that has another name, or a function that became a method.
  const isMoved = own !== "" && own === theirs && one.kind !== "class" && other.kind !== "class";
  const shared = first.filter((word) => second.includes(word)).length;
  const byName = isMoved ? 0.86 : (2 * shared) / (first.length + second.length);
  const named = 0.9 * kinds * (0.8 * byName + 0.2 * sharedParameters(one, other));
  const texts = one.trace && other.trace ? likenessOf(one.trace, other.trace) : null;
  if (!texts || texts.weight < ENOUGH) return named;
  if (texts.score < STRANGE) return named * 0.8;
  const both =
    kinds * (0.35 * byName + 0.1 * sharedParameters(one, other) + 0.55 * texts.score + 0.1 * sizes(one, other));
  return Math.max(named, Math.min(0.95, both));
}

/** The words of the last part of a name. */
const lastWords = ({ name }: Section): string => wordsOf(name.split(".").at(-1) ?? "").join("");

/** How alike two sections are in length, from 0 to 1. */
function sizes(one: Section, other: Section): number {
  const [mine, theirs] = [one.to - one.from + 1, other.to - other.from + 1];
  return Math.min(mine, theirs) / Math.max(mine, theirs);
}

const related = (one: Section, other: Section): boolean => {
  const kinds = [one.kind, other.kind].sort().join();
  return kinds === "function,method" || kinds === "class,constant" || kinds === "constant,function";
};

function sharedParameters(one: Section, other: Section): number {
  const [first, second] = [
    one.params.map((name) => wordsOf(name).join("")),
    other.params.map((name) => wordsOf(name).join("")),
  ];
  if (first.length + second.length === 0) return 0;
  return (2 * first.filter((name) => second.includes(name)).length) / (first.length + second.length);
}
