/**
 * Which twin section answers for which original section: a first pairing by likeness of names, through naming styles.
 * The same name in the same kind comes first; what is left is paired by the likeness of the words in the names, best
 * first, so that no section is taken twice.
 */
import type { Section } from "@/core/source/section";

export type Relation = "same" | "renamed" | "reshaped";

export type SectionPair = {
  readonly original: string;
  readonly twin: string;
  readonly originalFrom: number;
  readonly twinFrom: number;
  readonly relation: Relation;
  /** 0 to 1. */
  readonly score: number;
};

/** A section together with the file it stands in. */
export type PlacedSection = Section & { readonly file: string };

const LEAST_SCORE = 0.6;

/** Pairs in the original's order. `reshaped` holds names of originals whose hookup changes arguments or result. */
export function pairSections(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  hooked: ReadonlyMap<string, string> = new Map(),
): SectionPair[] {
  const candidates: { one: PlacedSection; other: PlacedSection; score: number }[] = [];
  for (const one of original) {
    for (const other of twin) {
      const score = hooked.get(one.name) === other.name ? 1 : likeness(one, other);
      if (score >= LEAST_SCORE) candidates.push({ one, other, score });
    }
  }
  candidates.sort((first, second) => second.score - first.score || first.one.from - second.one.from);
  const [takenOriginal, takenTwin] = [new Set<PlacedSection>(), new Set<PlacedSection>()];
  const pairs: SectionPair[] = [];
  for (const { one, other, score } of candidates) {
    if (takenOriginal.has(one) || takenTwin.has(other)) continue;
    takenOriginal.add(one);
    takenTwin.add(other);
    const renamed = one.name === other.name ? "same" : "renamed";
    const relation = hooked.has(one.name) || isReshaped(one, other) ? "reshaped" : renamed;
    pairs.push({
      original: one.name,
      twin: other.name,
      originalFrom: one.from,
      twinFrom: other.from,
      relation,
      score: Math.round(score * 100) / 100,
    });
  }
  const place = new Map(original.map((section, index) => [section.name, index]));
  return pairs.sort((first, second) => (place.get(first.original) ?? 0) - (place.get(second.original) ?? 0));
}

/** Other numbers of parameters are another shape; a language without named arguments gathers them in one. */
function isReshaped(one: Section, other: Section): boolean {
  if (one.kind === "constant" || one.kind === "class") return false;
  const gathered = other.params.includes("options") ? other.params.length - 1 : null;
  return gathered === null ? one.params.length !== other.params.length : one.params.length < gathered;
}

function likeness(one: Section, other: Section): number {
  const kinds = one.kind === other.kind ? 1 : related(one, other) ? 0.9 : 0.5;
  const [first, second] = [wordsOf(one.name), wordsOf(other.name)];
  if (first.join(" ") === second.join(" ")) return one.name === other.name ? kinds : 0.98 * kinds;
  const shared = first.filter((word) => second.includes(word)).length;
  const dice = (2 * shared) / (first.length + second.length);
  const params = sharedParameters(one, other);
  return 0.9 * kinds * (0.8 * dice + 0.2 * params);
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

/** The words of a name in any style, a constructor as one word: `Fare.__init__`, `fareFor`, `HTTPPort`. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/\.__init__$/, ".constructor")
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z]+)([A-Z][a-z])/g, "$1 $2")
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);
}
