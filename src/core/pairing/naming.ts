/** Spells a name of the original in the twin's style. Leading underscores, ALL_CAPS and names kept by pattern stay. */
import type { Json } from "@/core/formats/json";
import type { Names, NamingStyle } from "@/core/formats/port-file";
import { matchesGlob } from "@/core/values/path";

type Converter = { readonly isWritten: (name: string) => boolean; readonly convert: (name: string) => string };

const snakeIsWritten = (name: string): boolean => /^_*[a-z][a-z0-9]*(_+[a-z0-9]+)+_*$/.test(name);
const camelIsWritten = (name: string): boolean => /^_*[a-z][a-z0-9]*([A-Z][a-zA-Z0-9]*)+$/.test(name);
const pascalIsWritten = (name: string): boolean => /^_*[A-Z][a-zA-Z0-9]*$/.test(name) && /[a-z]/.test(name);

const toCamel = (name: string): string =>
  name.replace(/([a-z0-9])_+([a-z0-9])/g, (_all, before: string, after: string) => before + after.toUpperCase());
const toSnake = (name: string): string =>
  name
    .replace(/([a-z0-9])([A-Z])/g, "$1_$2")
    .replace(/([A-Z]+)([A-Z][a-z])/g, "$1_$2")
    .toLowerCase();
const toPascal = (name: string): string =>
  toCamel(name).replace(/^(_*)([a-z])/, (_all, lead: string, first: string) => lead + first.toUpperCase());

const CONVERTERS: Readonly<Record<NamingStyle, Converter>> = {
  same: { isWritten: () => false, convert: (name) => name },
  "snake-to-camel": { isWritten: snakeIsWritten, convert: toCamel },
  "camel-to-snake": { isWritten: camelIsWritten, convert: toSnake },
  "snake-to-pascal": { isWritten: (name) => /^_*[a-z][a-z0-9_]*$/.test(name), convert: toPascal },
  "pascal-to-snake": { isWritten: pascalIsWritten, convert: toSnake },
};

/** The name in the twin's style; unchanged when it is not written in the original's style. */
export function convertName(name: string, style: NamingStyle, keep: readonly string[] = []): string {
  const converter = CONVERTERS[style];
  if (!converter.isWritten(name) || keep.some((pattern) => matchesGlob(name, pattern))) return name;
  return converter.convert(name);
}

const candidatesOf = new WeakMap<Names, Map<string, readonly string[]>>();

/** The names a section may have in the twin, best first: the exact one, then the converted one. Dotted names by part. */
export function nameCandidates(name: string, names: Names): readonly string[] {
  // Cached: called for every case, and a port has few names.
  const known = candidatesOf.get(names) ?? new Map<string, readonly string[]>();
  candidatesOf.set(names, known);
  const found = known.get(name) ?? findCandidates(name, names);
  known.set(name, found);
  return found;
}

function findCandidates(name: string, names: Names): readonly string[] {
  const parts = name.split(".");
  const converted = parts.map((part) => convertName(part, names.functions, names.keep)).join(".");
  const last = parts.map((part, index) =>
    index === parts.length - 1 ? convertName(part, names.functions, names.keep) : part,
  );
  return [...new Set([name, converted, last.join(".")])];
}

const MAKERS = new Set(["new", "create", "make", "init", "open", "alloc"]);

/**
 * Strips a type's name from the start of a function's name, which leaves the name of the method: `gauge_add` of `gauge` gives
 * `add`. Null if the function's name does not start with the type's.
 */
export function nameWithoutOwner(name: string, owner: string): string | null {
  const own = owner.split(/_|(?<=[a-z0-9])(?=[A-Z])/).map((word) => word.toLowerCase());
  const type = own.filter((word, _, all) => word !== "" && word !== "t" && !(MAKERS.has(word) && all.length > 1));
  const words = name.split("_").filter(Boolean);
  const begins = type.length > 0 && type.every((word, at) => words[at]?.toLowerCase() === word);
  return begins && words.length > type.length ? words.slice(type.length).join("_") : null;
}

/** The names of a field or attribute in the twin, best first. */
export function fieldCandidates(name: string, names: Names): string[] {
  return [
    ...new Set([name, convertName(name, names.keys, names.keep), convertName(name, names.functions, names.keep)]),
  ];
}

/**
 * A value with the field names of objects and the text keys of maps converted, where they are written in the
 * original's style: a data key without an underscore is never touched. Returns the same object when nothing changes.
 */
export function convertKeys(value: Json, names: Names): Json {
  if (names.keys === "same" || typeof value !== "object" || value === null) return value;
  if (Array.isArray(value)) return value.map((item) => convertKeys(item, names));
  const record = value as { readonly [key: string]: Json }; // not a list, not null
  const fields = record.fields;
  if ("~obj" in record && typeof fields === "object" && fields !== null) {
    return {
      ...record,
      fields: convertRecord(fields as { readonly [key: string]: Json }, names),
      ...(record.items === undefined ? {} : { items: convertKeys(record.items, names) }),
    };
  }
  const entries = record["~map"];
  if (Array.isArray(entries)) {
    return { "~map": entries.map((pair) => (Array.isArray(pair) ? convertPair(pair, names) : pair)) };
  }
  if ("~esc" in record) return { "~esc": convertKeys(record["~esc"] ?? null, names) };
  return convertRecord(record, names);
}

function convertPair(pair: readonly Json[], names: Names): Json {
  const [key = null, item = null] = pair;
  const converted = typeof key === "string" ? convertName(key, names.keys, names.keep) : convertKeys(key, names);
  return [converted, convertKeys(item, names)];
}

/** As `convertKeys`, for a record that is known to be plain, such as named arguments. */
export function convertRecord(record: { readonly [key: string]: Json }, names: Names): { [key: string]: Json } {
  const converted: { [key: string]: Json } = {};
  for (const [key, item] of Object.entries(record)) {
    Object.defineProperty(converted, convertName(key, names.keys, names.keep), {
      value: convertKeys(item, names),
      enumerable: true,
      configurable: true,
      writable: true,
    });
  }
  return converted;
}
