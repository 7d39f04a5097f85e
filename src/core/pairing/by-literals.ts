/**
 * Pairs sections with unrelated names by texts and numbers found in exactly one section of each side. Messages, table
 * values and constants usually survive a port unchanged.
 */
import type { Match } from "@/core/pairing/match";
import type { PlacedSection } from "@/core/pairing/placed-section";
import { Rivals } from "@/core/pairing/rivals";
import { dice } from "@/core/pairing/traces";

/** Shorter ones are in everything. */
const MIN_LENGTH = 3;
/** Two must be shared, or one that is as long as a phrase. */
const PHRASE = 16;
/** So much of all that both hold must be shared. */
const MIN_LIKENESS = 0.6;
const SHOWN = 3;

/** `isFree` selects unpaired sections; literals are counted over all sections. Linear in the literals. */
export function pairByLiterals(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  isFree: (section: PlacedSection) => boolean,
): Match[] {
  const [mine, theirs] = [holders(original), holders(twin)];
  const shared = new Map<PlacedSection, Map<PlacedSection, string[]>>();
  for (const [key, { literal, section: one }] of mine) {
    const other = theirs.get(key)?.section;
    if (!one || !other || !isFree(one) || !isFree(other)) continue;
    const row = shared.get(one) ?? new Map<PlacedSection, string[]>();
    shared.set(one, row);
    const literals = row.get(other);
    if (literals) literals.push(literal);
    else row.set(other, [literal]);
  }
  const pairs = [...shared].flatMap(([one, row]) => [...row].map(([other, literals]) => ({ one, other, literals })));
  const rivals = new Rivals();
  for (const { one, other, literals } of pairs) {
    rivals.enter(one, literals.length);
    rivals.enter(other, literals.length);
  }
  return pairs.flatMap(({ one, other, literals }): Match[] => {
    if (!rivals.leads(one, literals.length, 1) || !rivals.leads(other, literals.length, 1)) return [];
    const likeness = one.trace && other.trace ? (dice(one.trace.literals, other.trace.literals) ?? 0) : 0;
    const isEnough = literals.length >= 2 || literals.some((literal) => literal.length >= PHRASE);
    if (!isEnough || likeness < MIN_LIKENESS) return [];
    const rare = literals
      .slice(0, SHOWN)
      .map((literal) => (/^[\d.]+$/.test(literal) ? literal : `"${literal.slice(0, 40)}"`));
    return [{ one, other, score: 0.6 + 0.3 * likeness, reasons: [`nothing else holds ${rare.join(", ")}`] }];
  });
}

type Holder = { readonly literal: string; readonly section: PlacedSection | null };

/** Kind and literal → the one section that holds it; null where several do. A class holds what its methods hold. */
function holders(sections: readonly PlacedSection[]): Map<string, Holder> {
  const found = new Map<string, Holder>();
  for (const section of sections) {
    const kind = section.kind === "method" ? "function" : section.kind;
    for (const literal of section.trace?.literals ?? []) {
      if (literal.length < MIN_LENGTH) continue;
      const key = `${kind}\0${literal}`;
      found.set(key, { literal, section: found.has(key) ? null : section });
    }
  }
  return found;
}
