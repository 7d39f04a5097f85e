/** How likely a twin section answers for an original one, from their names, parameters, texts and sizes, and why. */
import type { PlacedSection } from "@/core/pairing/placed-section";
import type { PlainNames } from "@/core/pairing/plain-names";
import { likenessOf, sharedOf } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";
import type { Section } from "@/core/source/section";

/** A score from 0 to 1 with its reasons. */
export type Scored = { readonly score: number; readonly reasons: readonly string[] };

/** Below this similarity of their texts two sections are unrelated. */
const MAX_STRANGE_SCORE = 0.12;
/** So much must be in the texts before they outweigh a name. */
const MIN_TEXT_WEIGHT = 6;
const SHOWN = 4;

/**
 * `isOnly(key)`: true if exactly one section on each side ends in this name. Score from 0 to 1. Linear in words and
 * texts of both.
 */
export function scoreSections(
  one: PlacedSection,
  other: PlacedSection,
  {
    isOnly = () => false,
    names,
  }: { readonly isOnly?: (lastWords: string) => boolean; readonly names?: PlainNames } = {},
): Scored {
  const kinds = kindsOf(one, other);
  const [mine, theirName] = [names?.get(one) ?? one.name, names?.get(other) ?? other.name];
  const [first, second] = [wordsOf(mine), wordsOf(theirName)];
  const texts = one.trace && other.trace ? likenessOf(one.trace, other.trace) : null;
  const reasons = [...parameterReason(one, other), ...textReason(one, other)];
  const named = (score: number, reason: string): Scored => ({ score: score * kinds, reasons: [reason, ...reasons] });
  if (one.name === other.name) return named(1, "the same name");
  const isPlain = mine === one.name && theirName === other.name;
  if (!isPlain && first.join("") === second.join(""))
    return named(0.95, "the same name but for a prefix or the way to make one");
  if (first.join(" ") === second.join(" ")) return named(0.98, "the same name in another style");
  if (first.join("") === second.join("")) return named(0.97, "the same name in another style");
  if (accessed(first).join("") === accessed(second).join("")) return named(0.9, "an accessor of the same name");
  const exact = [lastWords(mine), lastWords(theirName)] as const;
  // Compare accessors by field name when their full names differ.
  const [own, theirs] = exact[0] === exact[1] ? exact : [lastField(mine), lastField(theirName)];
  // The method of a class that has another name, or a function that became a method.
  const isMoved = own !== "" && own === theirs && one.kind !== "class" && other.kind !== "class";
  const isStrange = texts !== null && texts.weight >= MIN_TEXT_WEIGHT && texts.score < MAX_STRANGE_SCORE;
  if (isMoved && isOnly(own)) {
    // No other section on either side has it: the owner alone is another.
    return named(
      Math.max(isStrange ? 0.68 : 0.8, mixed(one, other, 0.86, texts) ?? 0),
      "the same name, owned by another",
    );
  }
  const inClass = ownWords(mine, theirName);
  const shared = sharedWords(inClass ?? [first, second]);
  const byName = isMoved ? 0.86 : nameLikeness([first, second], inClass);
  const why = isMoved
    ? ["the same name, owned by another"]
    : shared.length > 0
      ? [`names share ${shared.map((word) => `"${word}"`).join(", ")}`]
      : [];
  const plain = 0.9 * kinds * (0.8 * byName + 0.2 * sharedParameters(one, other));
  if (isStrange) return { score: plain * 0.8, reasons: why };
  const both = mixed(one, other, byName, texts);
  return { score: Math.max(plain, (both ?? 0) * kinds), reasons: [...why, ...reasons] };
}

type Names = readonly [readonly string[], readonly string[]];

const sharedWords = ([one, other]: Names): string[] => one.filter((word) => other.includes(word));

/** Between two methods of one class, the class name does not discriminate. */
function nameLikeness(names: Names, own: Names | null): number {
  const likeness = (both: Names) => (2 * sharedWords(both).length) / (both[0].length + both[1].length);
  return own === null ? likeness(names) : (likeness(names) + likeness(own)) / 2;
}

/** The words of two methods without those of their class, where that is one; else null. */
function ownWords(one: string, other: string): Names | null {
  const [mine, theirs] = [one.lastIndexOf("."), other.lastIndexOf(".")];
  if (mine < 0 || theirs < 0) return null;
  const isSame = wordsOf(one.slice(0, mine)).join("") === wordsOf(other.slice(0, theirs)).join("");
  return isSame ? [wordsOf(one.slice(mine + 1)), wordsOf(other.slice(theirs + 1))] : null;
}

/** Similarity of name, parameters, texts and length; null if the texts hold too little to judge. */
function mixed(
  one: PlacedSection,
  other: PlacedSection,
  byName: number,
  texts: ReturnType<typeof likenessOf>,
): number | null {
  if (!texts || texts.weight < MIN_TEXT_WEIGHT) return null;
  const sum = 0.35 * byName + 0.1 * sharedParameters(one, other) + 0.55 * texts.score + 0.1 * sizes(one, other);
  return Math.min(0.95, sum);
}

function parameterReason(one: Section, other: Section): string[] {
  if (one.params.length === 0 || sharedParameters(one, other) < 1) return [];
  return [`the same ${one.params.length === 1 ? "parameter" : "parameters"} ${one.params.join(", ")}`];
}

function textReason(one: PlacedSection, other: PlacedSection): string[] {
  if (!one.trace || !other.trace) return [];
  const shared = sharedOf(one.trace, other.trace);
  if (shared.length === 0) return [];
  const shown = shared.slice(0, SHOWN).join(", ");
  return [`both have ${shown}${shared.length > SHOWN ? ` and ${shared.length - SHOWN} more` : ""}`];
}

/** The words of the last part of a name. */
export const lastWords = (name: string): string => wordsOf(name.split(".").at(-1) ?? "").join("");

/** The name without the prefix of an accessor. */
export const lastField = (name: string): string => accessed(wordsOf(name.split(".").at(-1) ?? "")).join("");

/** The words without the one for reading or writing a field. */
const accessed = (words: readonly string[]): string[] =>
  words.length > 1
    ? words.filter((word, index) => !(/^(get|set|is)$/.test(word) && index < words.length - 1))
    : [...words];

/** How alike two sections are in length, from 0 to 1. */
function sizes(one: Section, other: Section): number {
  const [mine, theirs] = [one.to - one.from + 1, other.to - other.from + 1];
  return Math.min(mine, theirs) / Math.max(mine, theirs);
}

function kindsOf(one: Section, other: Section): number {
  if (one.kind === other.kind) return 1;
  const kinds = [one.kind, other.kind].sort().join();
  if (kinds === "function,method" || kinds === "class,constant" || kinds === "constant,function") return 0.9;
  // A constructor is a function in the older style of some languages.
  const isMaker = kinds === "class,function" && /^_*[A-Z]/.test(one.name) && /^_*[A-Z]/.test(other.name);
  return isMaker ? 0.95 : 0.5;
}

function sharedParameters(one: Section, other: Section): number {
  const [first, second] = [
    one.params.map((name) => wordsOf(name).join("")),
    other.params.map((name) => wordsOf(name).join("")),
  ];
  if (first.length + second.length === 0) return 0;
  return (2 * first.filter((name) => second.includes(name)).length) / (first.length + second.length);
}
