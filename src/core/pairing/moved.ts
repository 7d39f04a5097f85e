/** Finds sections that moved to another module. */
import type { PlacedSection } from "@/core/pairing/placed-section";
import { scoreSections } from "@/core/pairing/score-sections";
import type { SectionPair } from "@/core/pairing/sections";
import { wordsOf } from "@/core/pairing/words";

/** The unpaired sections of a module. */
export type LeftOver = {
  /** Module → its unpaired sections of the original. */
  readonly original: ReadonlyMap<string, readonly PlacedSection[]>;
  /** Unpaired sections of the twin with the module of their file; null for a file that belongs to none. */
  readonly twin: readonly { readonly module: string | null; readonly section: PlacedSection }[];
};

const MIN_SCORE = 0.6;

/** Module → pairs with files elsewhere. Only names unmatched exactly once on each side count. Linear. */
export function findMoved({ original, twin }: LeftOver): Map<string, SectionPair[]> {
  const wanted = new Map<string, { module: string; section: PlacedSection }[]>();
  for (const [module, sections] of original)
    for (const section of sections) if (isTelling(section)) push(wanted, keyOf(section), { module, section });
  const there = new Map<string, (typeof twin)[number][]>();
  for (const entry of twin) if (isTelling(entry.section)) push(there, keyOf(entry.section), entry);
  const found = new Map<string, SectionPair[]>();
  for (const [key, [one, ...more]] of wanted) {
    const [other, ...others] = there.get(key) ?? [];
    if (!one || !other || more.length > 0 || others.length > 0 || other.module === one.module) continue;
    const { score, reasons } = scoreSections(one.section, other.section, { isOnly: () => true });
    if (score < MIN_SCORE) continue;
    push(found, one.module, {
      original: one.section.name,
      twin: other.section.name,
      originalFrom: one.section.from,
      twinFrom: other.section.from,
      relation: "moved",
      score: Math.round(score * 90) / 100,
      reasons: [...reasons, `in ${other.section.file}, and nowhere else`],
      twinFile: other.section.file,
    });
  }
  return found;
}

/** Constants and short names are too often the same by chance. */
const isTelling = ({ kind, name }: PlacedSection): boolean => kind !== "constant" && wordsOf(name).join("").length >= 5;

const keyOf = ({ name }: PlacedSection): string => wordsOf(name).join("");

function push<T>(map: Map<string, T[]>, key: string, value: T): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
