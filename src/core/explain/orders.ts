/** Orders that lists are sorted by, and what of two lists can be sorted. */
import { type Facets, type ListPair, toNumeric, toText } from "@/core/explain/facets";
import type { Json } from "@/core/formats/json";

type Key = string | number;

/** A way of sorting items. */
export type Order = {
  readonly words: string;
  /** The simpler of two orders that fit has the lower rank. */
  readonly rank: number;
  readonly isSorted: (keys: readonly Key[]) => boolean;
};

const letters = new Intl.Collator("en");
const lettersOnly = new Intl.Collator("en", { sensitivity: "base" });
const natural = new Intl.Collator("en", { numeric: true });

const isNumbers = (keys: readonly Key[]): keys is readonly number[] => keys.every((key) => typeof key === "number");
const isTexts = (keys: readonly Key[]): keys is readonly string[] => keys.every((key) => typeof key === "string");

function order(
  words: string,
  rank: number,
  compare: (one: Key, other: Key) => number,
  fits: (keys: readonly Key[]) => boolean,
): Order[] {
  const sorted = (keys: readonly Key[], sign: number) =>
    fits(keys) && keys.every((key, index) => index === 0 || sign * compare(keys[index - 1] ?? key, key) <= 0);
  return [
    { words, rank, isSorted: (keys) => sorted(keys, 1) },
    { words: `${words}, downwards`, rank: rank + 1, isSorted: (keys) => sorted(keys, -1) },
  ];
}

const text = (key: Key): string => String(key);
const points = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);

/** The orders that are tried. */
export const ORDERS: readonly Order[] = [
  ...order("by number", 0, (one, other) => Number(one) - Number(other), isNumbers),
  ...order("by code point", 0, (one, other) => points(text(one), text(other)), isTexts),
  ...order("as text", 1, (one, other) => points(text(one), text(other)), isNumbers),
  ...order("by locale", 1, (one, other) => letters.compare(text(one), text(other)), isTexts),
  ...order(
    "without regard to case",
    2,
    (one, other) => points(text(one).toLowerCase(), text(other).toLowerCase()),
    isTexts,
  ),
  ...order("by letters without accents", 3, (one, other) => lettersOnly.compare(text(one), text(other)), isTexts),
  ...order("by the numbers in them", 2, (one, other) => natural.compare(text(one), text(other)), isTexts),
  ...order("by length", 3, (one, other) => text(one).length - text(other).length, isTexts),
];

/** Texts standing for items: equal items have equal texts. */
export const keysOf = (items: readonly Json[]): string[] => items.map((item) => JSON.stringify(item, asLists));

/** A tuple is a list for most languages. */
const asLists = (_key: string, value: Json): Json =>
  (value as { readonly "~tuple"?: Json } | null)?.["~tuple"] ?? value;

type Lists = { readonly original: readonly Json[]; readonly twin: readonly Json[] };

/** Cached per pair or facets: every order tests the same again. */
function once<K extends object, V>(find: (key: K) => V): (key: K) => V {
  const known = new WeakMap<K, { readonly value: V }>();
  return (key) => {
    const found = known.get(key) ?? { value: find(key) };
    known.set(key, found);
    return found.value;
  };
}

/** The same items, as often, in another order. */
export const hasSameItems: (lists: Lists) => boolean = once(compareItems);

function compareItems({ original, twin }: Lists): boolean {
  if (original.length !== twin.length || original.length < 2) return false;
  const [ones, others] = [keysOf(original), keysOf(twin)];
  return ones.join("\0") !== others.join("\0") && [...ones].sort().join("\0") === [...others].sort().join("\0");
}

/** Lists that differ, and texts as lists of their words: an order shows in a joined line as well. */
export const orderedLists: (facets: Facets) => readonly ListPair[] = once(findOrderedLists);

function findOrderedLists({ lists, texts }: Facets): readonly ListPair[] {
  const fromTexts = texts.flatMap((pair): ListPair[] =>
    [/\s*[,;|\n]\s*/, /\s+/, /(?:)/u]
      .flatMap((gap) => {
        const [original, twin] = [pair.original.split(gap), pair.twin.split(gap)];
        return original.length > 1 && compareItems({ original, twin }) ? [{ ...pair, original, twin }] : [];
      })
      .slice(0, 1),
  );
  return [...lists, ...fromTexts];
}

type Projection = { readonly original: Key[]; readonly twin: Key[]; readonly isField: boolean };

/** Sort keys of items: the items themselves, or one field or index of each. */
export const projections: (pair: ListPair) => readonly Projection[] = once(findProjections);

function findProjections({ original, twin }: ListPair): readonly Projection[] {
  const whole = pick(original, twin, (item) => item, false);
  const [first] = original;
  const names = typeof first === "object" && first !== null ? Object.keys(fieldsOf(first)) : [];
  const fields = names.map((name) => pick(original, twin, (item) => fieldsOf(item)[name], true));
  const lengths = pick(original, twin, (item) => (typeof item === "string" ? item.length : undefined), false);
  return [whole, ...fields, lengths].flatMap((found) => found ?? []);
}

function fieldsOf(item: Json | undefined): { readonly [key: string]: Json } {
  if (typeof item !== "object" || item === null) return {};
  const record = item as { readonly [key: string]: Json };
  const inner = record["~tuple"] ?? record.fields;
  return typeof inner === "object" && inner !== null ? (inner as { readonly [key: string]: Json }) : record;
}

function pick(
  original: readonly Json[],
  twin: readonly Json[],
  take: (item: Json) => Json | undefined,
  isField: boolean,
): { original: Key[]; twin: Key[]; isField: boolean } | null {
  const keys = (items: readonly Json[]) => items.map((item) => toKey(take(item)));
  const [ones, others] = [keys(original), keys(twin)];
  const isKey = (key: Key | null): key is Key => key !== null;
  return ones.every(isKey) && others.every(isKey) ? { original: ones, twin: others, isField } : null;
}

const toKey = (value: Json | undefined): Key | null => toText(value) ?? toNumeric(value)?.value ?? null;
