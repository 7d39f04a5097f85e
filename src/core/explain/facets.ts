/**
 * Differences by the kind of values involved: numbers, texts, lists. Numbers inside texts count as numbers and
 * enclosing lists as lists, so that each hypothesis is tested wherever its fault can show.
 */
import type { Answer } from "@/core/compare/answer";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Divergence } from "@/core/formats/report";
import { splitPath } from "@/core/values/path";

/** One case as causes see it: its input, and both answers. */
export type CaseFacts = {
  readonly id: string;
  readonly item: SharedCase;
  readonly original: Answer | null;
  readonly twin: Answer | null;
  readonly divergences: readonly Divergence[];
};

/** A plain number; `exact` where it is whole and may be beyond the doubles. */
export type Numeric = { readonly value: number; readonly exact: bigint | null };

type Pair<T> = {
  readonly original: T;
  readonly twin: T;
  readonly at: string;
  readonly facts: CaseFacts;
};
/** Two numbers that differ; `inText` if they were found inside texts. */
export type NumberPair = Pair<Numeric> & { readonly inText: boolean };
/** Two texts that differ. */
export type TextPair = Pair<string>;
/** Two lists whose items differ. */
export type ListPair = Pair<readonly Json[]>;
/** Any two values that differ; undefined on the side that has none. */
export type AnyPair = Pair<Json | undefined> & { readonly kind: string };
/** Milliseconds since the epoch. */
export type TimePair = Pair<number> & { readonly isDay: boolean };

/** The differences of a family's cases, sorted by kind. */
export type Facets = {
  readonly cases: readonly CaseFacts[];
  readonly all: readonly AnyPair[];
  readonly numbers: readonly NumberPair[];
  readonly texts: readonly TextPair[];
  readonly lists: readonly ListPair[];
  readonly times: readonly TimePair[];
  /** Cases of the same section that agree. */
  readonly controls: readonly CaseFacts[];
};

/** Texts and lists that are longer are looked at around their first difference: a fault shows there as well as in all of it. */
const MAX_TEXT = 20_000;
const MAX_ITEMS = 5_000;
/** This many characters before the first difference are kept. */
const BEFORE = 0.1;

/** Sorts the differences of cases. Cost grows with the size of what differs, up to a bound for each text and list. */
export function facetsOf(cases: readonly CaseFacts[], controls: readonly CaseFacts[]): Facets {
  const all: AnyPair[] = [];
  const numbers: NumberPair[] = [];
  const texts: TextPair[] = [];
  const lists: ListPair[] = [];
  const times: TimePair[] = [];
  for (const facts of cases) {
    const seenLists = new Set<string>();
    for (const divergence of facts.divergences) {
      if (divergence.allowance !== undefined) continue;
      const { at, kind } = divergence;
      for (const list of enclosingLists(facts, at, seenLists)) lists.push({ ...list, facts });
      // Lost and added items repeat the difference in the list's length.
      if (kind === "length") continue;
      const original = kind === "extra" ? undefined : divergence.original;
      const twin = kind === "missing" ? undefined : divergence.twin;
      all.push({ at, kind, original, twin, facts });
      if (original === undefined || twin === undefined) continue;
      // Table rows in another order: their keys form a list, which is not part of the answer itself.
      if (kind === "order" && Array.isArray(original) && Array.isArray(twin)) lists.push({ original, twin, at, facts });
      addScalars({ at, original, twin, facts }, { numbers, texts, times });
    }
  }
  return { cases, all, numbers, texts, lists, times, controls };
}

/** Both at most `most` long, cut at the same place, so that the first difference is kept. */
function aroundDifference<T extends string | readonly Json[]>(
  original: T,
  twin: T,
  most: number,
): { original: T; twin: T } {
  if (original.length <= most && twin.length <= most) return { original, twin };
  const isSame = (at: number) =>
    typeof original === "string"
      ? original[at] === twin[at]
      : JSON.stringify(original[at]) === JSON.stringify(twin[at]);
  let first = 0;
  while (first < original.length && first < twin.length && isSame(first)) first++;
  const from = Math.max(0, first - Math.floor(most * BEFORE));
  const cut = (whole: T) => whole.slice(from, from + most) as T; // a part of a text is a text, of a list a list
  return { original: cut(original), twin: cut(twin) };
}

type Into = { readonly numbers: NumberPair[]; readonly texts: TextPair[]; readonly times: TimePair[] };

function addScalars(pair: Pair<Json>, into: Into): void {
  const { at, facts } = pair;
  const [one, other] = [toNumeric(pair.original), toNumeric(pair.twin)];
  if (one && other) into.numbers.push({ original: one, twin: other, at, facts, inText: false });
  const [oneTime, otherTime] = [toTime(pair.original), toTime(pair.twin)];
  if (oneTime && otherTime)
    into.times.push({ original: oneTime.ms, twin: otherTime.ms, isDay: oneTime.isDay || otherTime.isDay, at, facts });
  const [oneText, otherText] = [toText(pair.original), toText(pair.twin)];
  if (oneText === null || otherText === null) return;
  into.texts.push({ ...aroundDifference(oneText, otherText, MAX_TEXT), at, facts });
  for (const [first, second] of numbersInTexts(oneText, otherText))
    into.numbers.push({ original: first, twin: second, at, facts, inText: true });
}

const isRecord = (value: Json | undefined): value is { readonly [key: string]: Json } =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** A number in any notation; null for all else, booleans included. */
export function toNumeric(value: Json | undefined): Numeric | null {
  if (typeof value === "number") return { value, exact: Number.isSafeInteger(value) ? BigInt(value) : null };
  if (!isRecord(value)) return null;
  const written = value["~int"] ?? value["~float"] ?? value["~dec"] ?? value["~num"];
  if (typeof written !== "string") return null;
  const number = Number(written);
  if (Number.isNaN(number) && written !== "NaN") return null;
  if ("~int" in value) return { value: number, exact: BigInt(written) };
  return { value: number, exact: Number.isInteger(number) ? BigInt(number) : null };
}

/** Returns the value if it is a text, otherwise null. */
export const toText = (value: Json | undefined): string | null => {
  if (typeof value === "string") return value;
  if (isRecord(value) && typeof value["~utf16"] === "string") return fromUtf16(value["~utf16"]);
  return null;
};

function fromUtf16(base64: string): string {
  const binary = atob(base64);
  let text = "";
  for (let at = 0; at + 1 < binary.length; at += 2)
    text += String.fromCharCode(binary.charCodeAt(at) | (binary.charCodeAt(at + 1) << 8));
  return text;
}

const ISO_DAY = /^\d{4}-\d\d-\d\d$/;
const ISO_TIME = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?$/;

/** A date or time, also one that is written in a text on its own. */
export function toTime(value: Json | undefined): { readonly ms: number; readonly isDay: boolean } | null {
  const text = isRecord(value) ? (value["~date"] ?? value["~time"]) : value;
  if (typeof text !== "string") return null;
  const isDay = ISO_DAY.test(text);
  if (!isDay && !ISO_TIME.test(text)) return null;
  const zoned = isDay || /(Z|[+-]\d\d:?\d\d)$/.test(text) ? text : `${text}Z`;
  const ms = Date.parse(zoned.replace(" ", "T"));
  return Number.isNaN(ms) ? null : { ms, isDay };
}

const NUMBER_IN_TEXT = /[-+]?\d+(?:[.,]\d+)*(?:[eE][-+]?\d+)?/g;

/** Numbers at the same places of two texts that are else the same; none when the texts differ in other ways. */
export function numbersInTexts(original: string, twin: string): [Numeric, Numeric][] {
  if (original.length > 4000 || twin.length > 4000) return [];
  if (original.replace(NUMBER_IN_TEXT, "#") !== twin.replace(NUMBER_IN_TEXT, "#")) return [];
  const [ones, others] = [original.match(NUMBER_IN_TEXT) ?? [], twin.match(NUMBER_IN_TEXT) ?? []];
  return ones.flatMap((one, index): [Numeric, Numeric][] => {
    const other = others[index];
    if (other === undefined || one === other) return [];
    const [first, second] = [fromWritten(one), fromWritten(other)];
    return first && second ? [[first, second]] : [];
  });
}

function fromWritten(text: string): Numeric | null {
  const plain = /^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(text) ? text.replaceAll(",", "") : text;
  const value = Number(plain);
  if (Number.isNaN(value)) return null;
  return { value, exact: /^[-+]?\d+$/.test(plain) ? BigInt(plain) : null };
}

/** The lists, on both sides, in which a path lies, the innermost first; lines of a text are a list as well. `seen` are left out. */
function enclosingLists(facts: CaseFacts, at: string, seen: Set<string>): Omit<ListPair, "facts">[] {
  const parts = splitPath(at);
  const found: Omit<ListPair, "facts">[] = [];
  for (let length = parts.length - 1; length >= 1; length--) {
    const last = parts[length] ?? "";
    if (!/^\d+$/.test(last) && last !== "length") continue;
    const prefix = parts.slice(0, length);
    const place = prefix.join(".");
    if (seen.has(place)) continue;
    seen.add(place);
    const [one, other] = [valueAt(facts.original, prefix), valueAt(facts.twin, prefix)];
    const [original, twin] = [toList(one), toList(other)];
    if (original && twin) found.push({ ...aroundDifference(original, twin, MAX_ITEMS), at: place });
  }
  return found;
}

/** The items of a list, a tuple, a set, or the lines of a text. */
export function toList(value: Json | undefined): Json[] | null {
  if (Array.isArray(value)) return value;
  if (typeof value === "string") return value.split("\n");
  if (!isRecord(value)) return null;
  for (const tag of ["~tuple", "~list", "~set"]) {
    const items = value[tag];
    if (Array.isArray(items)) return items;
  }
  const items = value.items;
  return "~obj" in value && Array.isArray(items) ? items : null;
}

/** Returns the value at a path of an answer; undefined if there is none. */
export function valueAt(answer: Answer | null, path: readonly string[]): Json | undefined {
  if (!answer) return undefined;
  let found: Json | undefined = answer as unknown as Json; // an answer is made of JSON
  for (const part of path) {
    if (isRecord(found) && part in found) found = found[part];
    else if (toList(found) && /^\d+$/.test(part)) found = toList(found)?.[Number(part)];
    else if (isRecord(found)) found = inside(found, part);
    else return undefined;
  }
  return found;
}

function inside(value: { readonly [key: string]: Json }, part: string): Json | undefined {
  const { fields, "~esc": escaped, "~map": entries } = value;
  if (isRecord(fields) && part in fields) return fields[part];
  if (isRecord(escaped) && part in escaped) return escaped[part];
  if (!Array.isArray(entries)) return undefined;
  for (const entry of entries as readonly Json[])
    if (Array.isArray(entry) && String(entry[0]) === part) return entry[1];
  return undefined;
}

/** Every scalar inside a value, with its own notation. */
export function leavesOf(value: Json | undefined): Json[] {
  if (value === undefined) return [];
  if (typeof value !== "object" || value === null) return [value];
  if (Array.isArray(value)) return value.flatMap((item: Json) => leavesOf(item));
  const record = value as { readonly [key: string]: Json };
  const tag = Object.keys(record).find((key) =>
    /^~(num|int|float|dec|bytes|date|time|utf16|none|opaque|ref)$/.test(key),
  );
  return tag ? [value] : Object.values(record).flatMap((item) => leavesOf(item));
}

/** Everything that a case is given. */
export function inputOf(item: SharedCase): Json[] {
  if ("call" in item) return [...item.args, ...Object.values(item.kwargs)];
  if ("steps" in item)
    return item.steps.flatMap((step) => [
      ...("args" in step ? (step.args ?? []) : []),
      ...("kwargs" in step ? Object.values(step.kwargs ?? {}) : []),
      ...("value" in step ? [step.value] : []),
    ]);
  return [
    ...item.run.argv,
    item.run.stdin,
    ...Object.values(item.run.files).filter((file) => typeof file === "string"),
  ];
}

/** All scalars that an agreeing case answered, from its value, its steps or its output. */
export function answersOf(facts: CaseFacts): Json[] {
  const { original } = facts;
  if (!original) return [];
  switch (original.kind) {
    case "call":
      return leavesOf(original.value);
    case "steps":
      return original.steps.flatMap((step) => ("value" in step ? leavesOf(step.value) : []));
    case "run":
      return original.stdout.split("\n");
  }
}
