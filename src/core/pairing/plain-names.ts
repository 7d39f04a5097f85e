/**
 * Names as they are compared: without the prefix that all of a side carry (`vent_open`, `vent_close` of a module in C), and
 * makers of a class under the name of its constructor, however a language calls them (`NewVent`, `vent_new`).
 */
import type { PlacedSection } from "@/core/pairing/placed-section";
import { wordsOf } from "@/core/pairing/words";

/** Section → its name without the common prefix of its side. */
export type PlainNames = ReadonlyMap<PlacedSection, string>;

/** This many functions, and this share of them, must start alike for the start to count as a prefix. */
const MIN_TIMES = 3;
const SHARE = 0.5;

const MAKER = /^(?:new|make|create|init)_?(.+)$|^(.+)_(?:new|create|init|make|alloc)$/i;

/** `others` are the other side's: a word that they begin with too is a verb and no prefix. Cost: linear in the sections. */
export function plainNames(sections: readonly PlacedSection[], others: readonly PlacedSection[]): PlainNames {
  const classes = new Map(
    sections.filter(({ kind }) => kind === "class").map(({ name }) => [wordsOf(name).join(""), name] as const),
  );
  const found = prefixOf(sections);
  const prefix = isShared(found, others) ? [] : found;
  return new Map(
    sections.map((section): [PlacedSection, string] => {
      if (section.kind !== "function" || section.name.includes(".")) return [section, section.name];
      const made = MAKER.exec(section.name);
      const owner = made && classes.get(wordsOf(made[1] ?? made[2] ?? "").join(""));
      if (owner) return [section, `${owner}.constructor`];
      return [section, prefix.length === 0 ? section.name : withoutPrefix(section.name, prefix)];
    }),
  );
}

/** The words that most functions begin with that belong to no class; none where they do not begin alike. */
function prefixOf(sections: readonly PlacedSection[]): readonly string[] {
  const names = sections
    .filter(({ kind, name }) => kind === "function" && !name.includes("."))
    .map(({ name }) => wordsOf(name));
  const prefix: string[] = [];
  for (let length = 1; ; length++) {
    const counts = new Map<string, number>();
    for (const words of names) {
      // Something must be left of the name.
      if (words.length <= length || prefix.some((word, index) => words[index] !== word)) continue;
      const next = words[length - 1] ?? "";
      counts.set(next, (counts.get(next) ?? 0) + 1);
    }
    const [usual, times = 0] = [...counts].sort((one, other) => other[1] - one[1])[0] ?? [];
    if (
      usual === undefined ||
      times < Math.min(MIN_TIMES, names.length - 1) ||
      times < 2 ||
      times / names.length < SHARE
    )
      return prefix;
    prefix.push(usual);
  }
}

/** This many names of the other side may start with it by chance. */
const CHANCE = 0.15;

function isShared([first]: readonly string[], others: readonly PlacedSection[]): boolean {
  const beginning = others.filter(({ name }) => wordsOf(name.split(".").at(-1) ?? "")[0] === first);
  return beginning.length > CHANCE * others.length;
}

/** A name without the words of the prefix, where something is left. */
function withoutPrefix(name: string, prefix: readonly string[]): string {
  const words = wordsOf(name);
  const isPrefixed = words.length > prefix.length && prefix.every((word, index) => words[index] === word);
  return isPrefixed ? words.slice(prefix.length).join("_") : name;
}
