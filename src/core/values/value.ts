/**
 * A value that a program answered, in a form that no language's own types can blur.
 * The public notation (formats, section 3) is plain JSON where JSON is exact and a one-key `~` object elsewhere;
 * `fromNotation` and `toNotation` are exact inverses up to the order of keys.
 */
import { SideTwinError } from "@/core/errors";
import type { Json } from "@/core/formats/json";

/** A value as it is compared; see formats, section 3. */
export type Value =
  | { readonly kind: "none"; readonly form: string }
  | { readonly kind: "boolean"; readonly value: boolean }
  | { readonly kind: "int"; readonly value: bigint }
  | { readonly kind: "float"; readonly value: number }
  | { readonly kind: "decimal"; readonly text: string }
  | { readonly kind: "text"; readonly value: string }
  | { readonly kind: "bytes"; readonly base64: string }
  | { readonly kind: "date"; readonly text: string }
  | { readonly kind: "time"; readonly text: string }
  | { readonly kind: "list"; readonly items: readonly Value[]; readonly cut?: boolean }
  | { readonly kind: "tuple"; readonly items: readonly Value[] }
  | { readonly kind: "set"; readonly items: readonly Value[] }
  | { readonly kind: "map"; readonly entries: readonly (readonly [Value, Value])[]; readonly plain: boolean }
  | {
      readonly kind: "object";
      readonly name: string;
      readonly fields: readonly (readonly [string, Value])[];
      readonly items?: readonly Value[];
    }
  | { readonly kind: "ref"; readonly depth: number }
  | { readonly kind: "opaque"; readonly text: string };

/** Reads the notation. Throws SideTwinError (`bad-input`) for an unknown or malformed tag, naming the path. */
export function fromNotation(json: Json, path = "value"): Value {
  if (json === null) return { kind: "none", form: "null" };
  if (typeof json === "boolean") return { kind: "boolean", value: json };
  if (typeof json === "string") return { kind: "text", value: json };
  if (typeof json === "number") {
    if (Object.is(json, -0)) return { kind: "float", value: -0 };
    return Number.isInteger(json) ? { kind: "int", value: BigInt(json) } : { kind: "float", value: json };
  }
  if (isList(json)) return { kind: "list", items: json.map((item, index) => fromNotation(item, `${path}.${index}`)) };
  const keys = Object.keys(json);
  const tag = keys.find((key) => key.startsWith("~"));
  if (tag !== undefined && (keys.length === 1 || tag === "~obj" || tag === "~list" || tag === "~callback"))
    return fromTag(tag, json, path);
  return {
    kind: "map",
    plain: true,
    entries: keys.map((key) => [text(key), fromNotation(json[key] ?? null, `${path}.${key}`)]),
  };
}

const isList = (json: Json): json is readonly Json[] => Array.isArray(json);

type TagReader = (body: Json, whole: { readonly [key: string]: Json }, path: string) => Value | null;

const TAGS: Readonly<Record<string, TagReader>> = {
  "~num": (body) => {
    const value = {
      NaN: Number.NaN,
      Infinity: Number.POSITIVE_INFINITY,
      "-Infinity": Number.NEGATIVE_INFINITY,
      "-0": -0,
    }[String(body)];
    return value === undefined ? null : { kind: "float", value };
  },
  "~int": (body) => (/^-?\d+$/.test(String(body)) ? { kind: "int", value: BigInt(String(body)) } : null),
  "~float": (body) => {
    const value = Number(body);
    return String(body).trim() === "" || Number.isNaN(value) ? null : { kind: "float", value };
  },
  "~dec": (body) => (typeof body === "string" && body !== "" ? { kind: "decimal", text: body } : null),
  "~bytes": (body) => (typeof body === "string" ? { kind: "bytes", base64: body } : null),
  "~date": (body) => (typeof body === "string" ? { kind: "date", text: body } : null),
  "~time": (body) => (typeof body === "string" ? { kind: "time", text: body } : null),
  "~utf16": (body) => (typeof body === "string" ? { kind: "text", value: textFromUtf16(body) } : null),
  "~tuple": (body, _whole, path) => (isList(body) ? { kind: "tuple", items: items(body, path) } : null),
  "~set": (body, _whole, path) => (isList(body) ? { kind: "set", items: items(body, path) } : null),
  "~list": (body, whole, path) =>
    isList(body) ? { kind: "list", items: items(body, path), ...(whole.cut === true ? { cut: true } : {}) } : null,
  "~map": (body, _whole, path) => {
    if (!isList(body)) return null;
    const entries: [Value, Value][] = [];
    for (const [index, pair] of body.entries()) {
      if (!isList(pair) || pair.length !== 2) return null;
      entries.push([
        fromNotation(pair[0] ?? null, `${path}.${index}`),
        fromNotation(pair[1] ?? null, `${path}.${index}`),
      ]);
    }
    return { kind: "map", plain: false, entries };
  },
  "~obj": (body, whole, path) => {
    const fields = whole.fields;
    if (typeof body !== "string" || typeof fields !== "object" || fields === null || isList(fields)) return null;
    const listed = whole.items;
    return {
      kind: "object",
      name: body,
      fields: Object.entries(fields).map(([key, field]) => [key, fromNotation(field, `${path}.${key}`)]),
      ...(listed !== undefined && isList(listed) ? { items: items(listed, path) } : {}),
    };
  },
  "~none": (body) => (typeof body === "string" ? { kind: "none", form: body } : null),
  "~ref": (body) => (typeof body === "number" ? { kind: "ref", depth: body } : null),
  "~esc": (body, _whole, path) => {
    if (typeof body !== "object" || body === null || isList(body)) return null;
    return {
      kind: "map",
      plain: true,
      entries: Object.entries(body).map(([key, field]) => [text(key), fromNotation(field, `${path}.${key}`)]),
    };
  },
  "~opaque": (body) => ({ kind: "opaque", text: String(body) }),
  "~callback": (body) => ({ kind: "opaque", text: `a callback of the style ${String(body)}` }),
};

function fromTag(tag: string, whole: { readonly [key: string]: Json }, path: string): Value {
  const read = TAGS[tag];
  const value = read ? read(whole[tag] ?? null, whole, path) : null;
  if (value) return value;
  throw new SideTwinError({
    code: "bad-input",
    what: read ? `The value of "${tag}" is malformed` : `Unknown value notation "${tag}"`,
    where: { key: path },
    next: read
      ? "See docs/formats.md, value notation."
      : 'A real object whose only key begins with "~" is written {"~esc": {…}}.',
  });
}

const items = (list: readonly Json[], path: string): Value[] =>
  list.map((item, index) => fromNotation(item, `${path}.${index}`));

const text = (value: string): Value => ({ kind: "text", value });

/** Writes the notation: plain JSON where it is exact. */
export function toNotation(value: Value): Json {
  switch (value.kind) {
    case "none":
      return value.form === "null" ? null : { "~none": value.form };
    case "boolean":
      return value.value;
    case "int":
      return isSafe(value.value) ? Number(value.value) : { "~int": value.value.toString() };
    case "float":
      return floatToNotation(value.value);
    case "decimal":
      return { "~dec": value.text };
    case "text":
      return value.value.isWellFormed() ? value.value : { "~utf16": utf16FromText(value.value) };
    case "bytes":
      return { "~bytes": value.base64 };
    case "date":
      return { "~date": value.text };
    case "time":
      return { "~time": value.text };
    case "list":
      return value.cut ? { "~list": value.items.map(toNotation), cut: true } : value.items.map(toNotation);
    case "tuple":
      return { "~tuple": value.items.map(toNotation) };
    case "set":
      return { "~set": value.items.map(toNotation) };
    case "map":
      return mapToNotation(value);
    case "object":
      return {
        "~obj": value.name,
        fields: objectFrom(value.fields),
        ...(value.items ? { items: value.items.map(toNotation) } : {}),
      };
    case "ref":
      return { "~ref": value.depth };
    case "opaque":
      return { "~opaque": value.text };
  }
}

const isSafe = (value: bigint): boolean =>
  value >= BigInt(Number.MIN_SAFE_INTEGER) && value <= BigInt(Number.MAX_SAFE_INTEGER);

function floatToNotation(value: number): Json {
  if (Number.isNaN(value)) return { "~num": "NaN" };
  if (!Number.isFinite(value)) return { "~num": value > 0 ? "Infinity" : "-Infinity" };
  if (Object.is(value, -0)) return { "~num": "-0" };
  if (Number.isInteger(value)) return { "~float": Math.abs(value) < 1e16 ? `${value}.0` : String(value) };
  return value;
}

function mapToNotation(value: Extract<Value, { kind: "map" }>): Json {
  const textKeys: [string, Value][] = [];
  for (const [key, item] of value.entries) {
    if (!value.plain || key.kind !== "text" || !key.value.isWellFormed()) {
      return { "~map": value.entries.map(([k, v]) => [toNotation(k), toNotation(v)]) };
    }
    textKeys.push([key.value, item]);
  }
  const plain = objectFrom(textKeys);
  const only = textKeys.length === 1 ? textKeys[0] : undefined;
  const looksTagged = only?.[0].startsWith("~") || textKeys.some(([key]) => key === "~obj" || key === "~list");
  return looksTagged ? { "~esc": plain } : plain;
}

function objectFrom(entries: readonly (readonly [string, Value])[]): { [key: string]: Json } {
  const record: { [key: string]: Json } = {};
  // defineProperty, because a plain assignment to "__proto__" would vanish.
  for (const [key, item] of entries) {
    Object.defineProperty(record, key, {
      value: toNotation(item),
      enumerable: true,
      configurable: true,
      writable: true,
    });
  }
  return record;
}

function textFromUtf16(base64: string): string {
  const binary = atob(base64);
  let out = "";
  for (let at = 0; at + 1 < binary.length; at += 2) {
    out += String.fromCharCode(binary.charCodeAt(at) | (binary.charCodeAt(at + 1) << 8));
  }
  return out;
}

function utf16FromText(value: string): string {
  let binary = "";
  for (let at = 0; at < value.length; at++) {
    const unit = value.charCodeAt(at);
    binary += String.fromCharCode(unit & 0xff, unit >> 8);
  }
  return btoa(binary);
}
