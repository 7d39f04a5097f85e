/** Values to try: made from types, names and the literals of the code, and changed a little. All in value notation. */
import type { Random } from "@/core/exploring/random";
import type { Shape } from "@/core/exploring/shapes";
import { splitTop } from "@/core/exploring/signature";
import type { Json } from "@/core/formats/json";

/** Hints for good values, from the code and from existing cases. */
export type Pool = {
  readonly numbers: readonly number[];
  readonly texts: readonly string[];
  /** Answers of other calls. */
  readonly seen: readonly Json[];
  /** Parameter name → values that cases gave it, and inputs that reached something. */
  readonly byName: ReadonlyMap<string, readonly Json[]>;
  readonly learned: ReadonlyMap<string, readonly Json[]>;
  /** Class → the parameters of its making. */
  readonly classes: ReadonlyMap<string, readonly { readonly name: string; readonly type: string | null }[]>;
  /** The fields that the code asks a parameter for. */
  readonly shapeOf?: (name: string) => Shape | null;
  /** Whether the language distinguishes integers from floats. */
  readonly hasInts: boolean;
};

const MAX_DEPTH = 3;
const TEXTS = ["", "a", "Ab c", "0", "12", "-3.5", "é", "𝔘n", "e\u0301", " x ", "a,b", "a-b", "a b\nc", "true", "Zz9_"];
const NUMBERS = [0, 1, 2, 3, 5, 7, 10, 12, 24, 60, 99, 100, 365, 1000, 1024];
const LARGE = [65535, 65536, 2147483647, 2147483648, 4294967296];
const FRACTIONS = [0.5, 1.5, 2.5, 0.1, 0.005, 1e-9, 2.71, 1e21];
const ODD: readonly Json[] = [{ "~num": "NaN" }, { "~num": "Infinity" }, { "~num": "-0" }];
const DATES = ["2031-01-31", "2032-02-29", "2030-12-31", "2031-03-01", "2031-07-15", "1999-12-31", "2031-11-02"];

type Maker = (random: Random, pool: Pool, depth: number, inner: readonly string[]) => Json;

const makeInt: Maker = (random, pool) => {
  // A large count can keep a function busy for long.
  const usual = random.chance(0.03) ? LARGE : NUMBERS;
  const base = random.chance(0.45) && pool.numbers.length > 0 ? random.of(pool.numbers) : random.of(usual);
  const near = random.chance(0.5) ? base : base + random.of([-1, 1]);
  return Math.trunc(random.chance(0.15) ? -near : near);
};
const makeFloat: Maker = (random, pool, depth, inner) => {
  if (random.chance(0.05)) return random.of(ODD);
  if (random.chance(0.5)) return makeInt(random, pool, depth, inner);
  const base = random.chance(0.4) && pool.numbers.length > 0 ? random.of(pool.numbers) + 0.5 : random.of(FRACTIONS);
  return random.chance(0.2) ? -base : base;
};
const makeText: Maker = (random, pool) => {
  if (random.chance(0.6) && pool.texts.length > 0) {
    const base = random.of(pool.texts);
    return random.chance(0.25) ? changeText(base, random, pool) : base;
  }
  return random.of(TEXTS);
};
const makeDate: Maker = (random) => ({ "~date": random.of(DATES) });
const makeList: Maker = (random, pool, depth, [item = "any"]) =>
  Array.from({ length: depth > MAX_DEPTH ? 0 : random.of([0, 1, 2, 2, 3, 4]) }, () =>
    makeOf(item, random, pool, depth + 1),
  );
const makeMap: Maker = (random, pool, depth, [, value = "any"]) =>
  Object.fromEntries(
    Array.from({ length: depth > MAX_DEPTH ? 0 : random.of([0, 1, 2, 3]) }, () => [
      plainKey(String(makeText(random, pool, depth, []))),
      makeOf(value, random, pool, depth + 1),
    ]),
  );

/** A key that the notation of values does not give a meaning. */
const plainKey = (text: string): string => text.replace(/^~+/, "");

/** Type's name in small letters → its maker. */
const MAKERS: Readonly<Record<string, Maker>> = {
  int: makeInt,
  bigint: (random, pool, depth, inner) => ({ "~int": String(makeInt(random, pool, depth, inner)) }),
  float: makeFloat,
  number: makeFloat,
  complex: makeFloat,
  str: makeText,
  string: makeText,
  bool: (random) => random.chance(0.5),
  boolean: (random) => random.chance(0.5),
  none: () => null,
  null: () => null,
  undefined: () => ({ "~none": "undefined" }),
  bytes: (random, pool, depth) => ({ "~bytes": toBase64(String(makeText(random, pool, depth, []))) }),
  uint8array: (random, pool, depth) => ({ "~bytes": toBase64(String(makeText(random, pool, depth, []))) }),
  date: makeDate,
  datetime: (random) => ({ "~time": `${random.of(DATES)}T${random.of(["00:00:00", "06:10:00", "23:59:59"])}` }),
  decimal: (random) => ({ "~dec": random.of(["0", "1.50", "-2.25", "12.345", "0.10", "1000"]) }),
  list: makeList,
  array: makeList,
  sequence: makeList,
  iterable: makeList,
  collection: makeList,
  readonlyarray: makeList,
  tuple: (random, pool, depth, inner) => ({
    "~tuple":
      inner.at(-1) === "..."
        ? (makeList(random, pool, depth, inner) as readonly Json[]) // a list by its making
        : inner.map((type) => makeOf(type, random, pool, depth + 1)),
  }),
  set: (random, pool, depth, inner) => ({ "~set": unique(makeList(random, pool, depth, inner) as readonly Json[]) }), // a list by its making
  frozenset: (random, pool, depth, inner) => ({
    "~set": unique(makeList(random, pool, depth, inner) as readonly Json[]),
  }), // a list by its making
  dict: makeMap,
  mapping: makeMap,
  record: makeMap,
  object: makeMap,
  map: (random, pool, depth, inner) => ({ "~map": Object.entries(makeMap(random, pool, depth, inner) as object) }), // a record by its making
};

const unique = (items: readonly Json[]): Json[] => [
  ...new Map(items.map((item) => [JSON.stringify(item), item])).values(),
];

/** The base64 of a text's UTF-8 bytes. */
function toBase64(text: string): string {
  return btoa(Array.from(new TextEncoder().encode(text), (byte) => String.fromCharCode(byte)).join(""));
}

/** A value of a type as it is written; `any` for what it does not know. */
export function makeOf(type: string, random: Random, pool: Pool, depth = 0): Json {
  const written = type
    .trim()
    .replace(/^readonly\s+/, "")
    .replace(/^(["'])(?=[^"']*[[|])([^"']*)\1$/, "$2");
  const choices = splitTop(written, "|");
  if (choices.length > 1) return makeOf(random.of(choices), random, pool, depth);
  const literal = /^["'](.*)["']$/.exec(written)?.[1];
  if (literal !== undefined) return literal;
  if (/^-?\d+(\.\d+)?$/.test(written)) return Number(written);
  const array = /^(.*)\[\]$/s.exec(written)?.[1];
  if (array !== undefined) return makeList(random, pool, depth, [array.replace(/^\((.*)\)$/s, "$1")]);
  if (/^\{/.test(written)) return makeRecord(written, random, pool, depth);
  if (/^\[.*\]$/s.test(written))
    return splitTop(written.slice(1, -1), ",").map((part) => makeOf(part, random, pool, depth + 1));
  const [, name = "", inner] = /^(?:[\w$]+\.)*([\w$]+)(?:[[<](.*)[\]>])?$/s.exec(written) ?? [];
  const parts = inner === undefined ? [] : splitTop(inner, ",").map((part) => part.trim());
  if (name === "Optional") return random.chance(0.3) ? null : makeOf(parts[0] ?? "any", random, pool, depth);
  if (name === "Union" || name === "Literal")
    return makeOf(random.of(parts.length > 0 ? parts : ["any"]), random, pool, depth);
  const fields = pool.classes.get(name);
  if (fields && depth <= MAX_DEPTH) {
    const made = fields.map((field) => [field.name, makeFor(field, random, pool, depth + 1)]);
    return { "~obj": name, fields: Object.fromEntries(made) };
  }
  const maker = MAKERS[name.toLowerCase()];
  return maker ? maker(random, pool, depth, parts) : makeAny(random, pool, depth);
}

function makeRecord(written: string, random: Random, pool: Pool, depth: number): Json {
  const fields = splitTop(written.slice(1, -1).replace(/;/g, ","), ",").flatMap((part) => {
    const [name = "", ...type] = splitTop(part, ":");
    const key = name.trim().replace(/^readonly\s+/, "");
    if (key === "" || type.length === 0 || (key.endsWith("?") && random.chance(0.4))) return [];
    return [[key.replace(/\?$/, ""), makeOf(type.join(":"), random, pool, depth + 1)]];
  });
  return Object.fromEntries(fields);
}

const ANY = ["int", "int", "number", "str", "str", "str", "bool", "list[int]", "list[str]", "dict", "none", "list"];

function makeAny(random: Random, pool: Pool, depth: number): Json {
  if (pool.seen.length > 0 && depth <= 1 && random.chance(0.3)) return random.of(pool.seen);
  return makeOf(depth > MAX_DEPTH ? random.of(["int", "str"]) : random.of(ANY), random, pool, depth + 1);
}

/** Types guessed from a parameter's name where none is written. */
const BY_NAME: readonly (readonly [RegExp, string])[] = [
  [
    /(^|_)(n|i|j|k|x|y|count|number|num|size|width|height|length|index|limit|min|max|minutes?|hours?|days|year|month|age|total|amount|pence|cents|step|start|end|stop)$/i,
    "int",
  ],
  [/(ratio|rate|share|factor|weight|price|km|metres|speed|value)$/i, "number"],
  [/(text|name|word|line|str|string|label|title|key|kind|pattern|path|sep|prefix|suffix|s)$/i, "str"],
  [/^(is|has|should|with)_?[A-Z_a-z]/, "bool"],
  [/(date|day|when)$/i, "date"],
  [/(items|rows|values|list|array|words|lines|numbers|xs|names|parts)$/i, "list"],
  [/(options|opts|map|dict|record|table)$/i, "dict"],
];

/** A value for a parameter: of its type, or what callers gave it, or a guess from its name. */
export function makeFor(
  {
    name,
    type,
    default: usual = null,
  }: { readonly name: string; readonly type: string | null; readonly default?: string | null },
  random: Random,
  pool: Pool,
  depth = 0,
): Json {
  const known = [...(pool.byName.get(name) ?? []), ...(pool.learned.get(name) ?? [])];
  if (known.length > 0 && random.chance(0.6)) {
    const base = random.of(known);
    return random.chance(0.5) ? base : changeValue(base, random, pool);
  }
  const shape = depth <= MAX_DEPTH && isOpen(type, pool) ? (pool.shapeOf?.(name) ?? null) : null;
  if (shape && random.chance(0.85)) return makeShape(shape, random, pool, depth);
  if (type !== null) return makeOf(type, random, pool, depth);
  const ofDefault = usual === null ? undefined : typeOfDefault(usual);
  if (ofDefault && random.chance(0.7)) return makeOf(ofDefault, random, pool, depth);
  if (pool.seen.length > 0 && random.chance(0.15)) return random.of(pool.seen);
  const maker = BY_NAME.find(([pattern]) => pattern.test(name))?.[1];
  return maker && random.chance(0.7) ? makeOf(maker, random, pool, depth) : makeAny(random, pool, depth);
}

/** Whether a written type leaves open which fields a value has. */
const isOpen = (type: string | null, pool: Pool): boolean =>
  type === null ||
  /^(any|object|unknown|dict|list|Mapping|Sequence|Iterable|Array)\b|\[\]$/.test(type) ||
  (/^[A-Z]\w*$/.test(type) && !pool.classes.has(type) && !(type.toLowerCase() in MAKERS));

/** Records with any of the fields; those that are given least often show what happens without them. */
function makeShape({ fields, isList }: Shape, random: Random, pool: Pool, depth: number): Json {
  const share = random.of([0.2, 0.5, 0.8, 1]);
  const record = (): Json =>
    Object.fromEntries(
      [...fields]
        .filter(() => random.chance(share))
        .map(([name, inner]) => [
          plainKey(name),
          inner && random.chance(0.8)
            ? makeShape(inner, random, pool, depth + 1)
            : makeFor({ name, type: null }, random, pool, depth + 1),
        ]),
    );
  return isList ? Array.from({ length: random.of([0, 1, 2, 2, 3]) }, record) : record();
}

function typeOfDefault(text: string): string | undefined {
  if (/^["'`]/.test(text)) return "str";
  if (/^(true|false)$/i.test(text)) return "bool";
  if (/^-?\d+$/.test(text)) return "int";
  if (/^-?[\d.]+(e-?\d+)?$/.test(text)) return "number";
  if (/^[[(]/.test(text)) return "list";
  return text.startsWith("{") ? "dict" : undefined;
}

/** The value with one small change. */
export function changeValue(value: Json, random: Random, pool: Pool): Json {
  if (random.chance(0.03)) return makeAny(random, pool, 1);
  if (typeof value === "number") return changeNumber(value, random, pool);
  if (typeof value === "string") return changeText(value, random, pool);
  if (typeof value === "boolean") return !value;
  if (value === null) return makeAny(random, pool, 1);
  if (Array.isArray(value)) return changeList(value, random, pool);
  return changeRecord(value as { readonly [key: string]: Json }, random, pool); // no list
}

function changeNumber(value: number, random: Random, pool: Pool): Json {
  const near = pool.numbers.length > 0 ? random.of(pool.numbers) : 0;
  const choices = [
    value + 1,
    value - 1,
    -value,
    value * 2,
    0,
    near,
    near + 1,
    near - 1,
    Math.trunc(value / 2),
    value + 10,
  ];
  if (!Number.isInteger(value) || !pool.hasInts || random.chance(0.1)) choices.push(value + 0.5, value / 3);
  return random.of(choices.filter((choice) => Number.isFinite(choice) && Math.abs(choice) < 1e15));
}

function changeText(value: string, random: Random, pool: Pool): string {
  const signs = Array.from(value);
  const at = random.below(signs.length + 1);
  switch (random.below(9)) {
    case 0:
      return signs.toSpliced(at, 1).join("");
    case 1:
      return signs.toSpliced(at, 0, random.of(Array.from("aZ0 9-_.,:;/é𝔘\n\t'\"+%#"))).join("");
    case 2:
      return value + value;
    case 3:
      return value === value.toUpperCase() ? value.toLowerCase() : value.toUpperCase();
    case 4:
      return pool.texts.length > 0 ? random.of(pool.texts) : value;
    case 5:
      return pool.texts.length > 0 ? value + random.of(pool.texts) : value;
    case 6:
      return value.replace(/\d+/, (digits) => String(Number(digits) + random.of([-1, 1, 10])));
    case 7:
      return ` ${value} `;
    default:
      return signs.slice(0, at).join("");
  }
}

function changeList(value: readonly Json[], random: Random, pool: Pool): Json {
  const at = random.below(Math.max(1, value.length));
  const item = value[at];
  if (item === undefined) return [makeAny(random, pool, 2)];
  switch (random.below(5)) {
    case 0:
      return value.toSpliced(at, 1);
    case 1:
      return value.toSpliced(at, 0, item);
    case 2:
      return value.toReversed();
    default:
      return value.with(at, changeValue(item, random, pool));
  }
}

function changeRecord(value: { readonly [key: string]: Json }, random: Random, pool: Pool): Json {
  if ("~date" in value) return { "~date": moveDate(String(value["~date"]), random) };
  if ("~dec" in value) return { "~dec": random.of(["0", "-1", "0.005", `${value["~dec"]}`, "99.99"]) };
  const tag = Object.keys(value).find((key) => key.startsWith("~"));
  if (tag === "~obj")
    return { ...value, fields: changeRecord((value.fields ?? {}) as { readonly [key: string]: Json }, random, pool) }; // fields of an object
  if (tag === "~tuple" || tag === "~set") return { [tag]: changeList(value[tag] as readonly Json[], random, pool) }; // a list by its tag
  if (tag !== undefined) return value;
  const keys = Object.keys(value);
  if (keys.length === 0)
    return pool.texts.length > 0 ? { [plainKey(random.of(pool.texts))]: makeAny(random, pool, 2) } : value;
  const key = random.of(keys);
  if (random.chance(0.2)) {
    const { [key]: _gone, ...rest } = value;
    return rest;
  }
  return { ...value, [key]: changeValue(value[key] ?? null, random, pool) };
}

function moveDate(text: string, random: Random): string {
  const time = Date.parse(`${text}T00:00:00Z`);
  if (Number.isNaN(time) || random.chance(0.2)) return random.of(DATES);
  const days = random.of([1, -1, 7, 30, -31, 90, 180, 365]);
  return new Date(time + days * 86_400_000).toISOString().slice(0, 10);
}
