/** JavaScript values to and from Side Twin's value notation (docs/formats.md, section 3). */

import { types } from "node:util";

const MAX_ITEMS = 10_000;
const MAX_DEPTH = 150;
const NOTHING = Object.freeze([]);

export const isThenable = (value) => value !== null && typeof value === "object" && typeof value.then === "function";

/** The name of a class or function; `otherwise` where it has none that is a text. */
export function nameOf(made, otherwise) {
  const name = made?.name;
  return typeof name === "string" && name !== "" ? name : otherwise;
}

const { getTime, toISOString } = Date.prototype;
const timeOf = (value) => Reflect.apply(getTime, value, []);

/** The items read of an iterator that had more than MAX_ITEMS. */
class CutList extends Array {}

export function encode(value, path = NOTHING) {
  switch (typeof value) {
    case "string":
      return value.isWellFormed() ? value : { "~utf16": Buffer.from(value, "utf16le").toString("base64") };
    case "number":
      return encodeNumber(value);
    case "boolean":
      return value;
    case "undefined":
      return { "~none": "undefined" };
    case "bigint":
      return { "~int": value.toString() };
    case "function":
      return { "~opaque": `<function ${nameOf(value, "")}>` };
    case "symbol":
      return { "~opaque": `<${String(value)}>` };
    default:
      return value === null ? null : encodeObject(value, path);
  }
}

function encodeNumber(value) {
  if (Number.isNaN(value)) return { "~num": "NaN" };
  if (!Number.isFinite(value)) return { "~num": value > 0 ? "Infinity" : "-Infinity" };
  if (Object.is(value, -0)) return { "~num": "-0" };
  return Number.isInteger(value) && !Number.isSafeInteger(value) ? { "~float": String(value) } : value;
}

function encodeObject(value, path) {
  const depth = path.indexOf(value);
  if (depth !== -1) return { "~ref": depth };
  if (path.length > MAX_DEPTH) return { "~opaque": `<nested deeper than ${MAX_DEPTH}>` };
  const inner = [...path, value];
  if (Array.isArray(value)) {
    const items = Array.from(value, (item) => encode(item, inner));
    return value instanceof CutList ? { "~list": items, cut: true } : items;
  }
  const prototype = Object.getPrototypeOf(value);
  if (prototype === Object.prototype || prototype === null) return encodeRecord(value, inner);
  const special = encodeBuiltIn(value, inner);
  if (special !== undefined) return special;
  return { "~obj": nameOf(value.constructor, "Object"), fields: encodeFields(value, inner) };
}

function encodeRecord(value, path) {
  if (isIterator(value)) return encodeObject(readSyncIterator(value), path.slice(0, -1));
  const fields = encodeFields(value, path);
  const keys = Object.keys(fields);
  const tagged = (keys.length === 1 && keys[0].startsWith("~")) || "~obj" in fields || "~list" in fields;
  if (keys.some((key) => !key.isWellFormed())) return { "~map": keys.map((key) => [encode(key), fields[key]]) };
  return tagged ? { "~esc": fields } : fields;
}

function encodeFields(value, path) {
  const fields = {};
  for (const key of Object.keys(value)) {
    let item;
    try {
      item = encode(value[key], path);
    } catch (error) {
      item = { "~opaque": `<getter that throws ${error?.constructor?.name}>` };
    }
    if (key !== "__proto__") fields[key] = item;
    // A plain assignment to that name would vanish.
    else Object.defineProperty(fields, key, { value: item, enumerable: true, configurable: true, writable: true });
  }
  return fields;
}

function encodeBuiltIn(value, path) {
  // Test the value, not its class: the prototype of a class that extends Map is not a Map.
  if (types.isMap(value))
    return { "~map": Array.from(value, ([key, item]) => [encode(key, path), encode(item, path)]) };
  if (types.isSet(value)) return { "~set": Array.from(value, (item) => encode(item, path)) };
  if (types.isDate(value)) {
    return Number.isNaN(timeOf(value)) ? { "~num": "NaN" } : { "~time": Reflect.apply(toISOString, value, []) };
  }
  if (
    value instanceof ArrayBuffer ||
    value instanceof DataView ||
    value instanceof Uint8Array ||
    value instanceof Uint8ClampedArray
  ) {
    const bytes =
      value instanceof ArrayBuffer ? Buffer.from(value) : Buffer.from(value.buffer, value.byteOffset, value.byteLength);
    return { "~bytes": bytes.toString("base64") };
  }
  if (ArrayBuffer.isView(value))
    return Array.from(/** @type {Iterable<unknown>} */ (/** @type {unknown} */ (value)), (item) => encode(item, path));
  if (value instanceof Error)
    return { "~obj": nameOf(value.constructor, "Error"), fields: { message: encode(value.message) } };
  if (types.isRegExp(value))
    return { "~obj": "RegExp", fields: { source: encode(value.source), flags: encode(value.flags) } };
  if (value instanceof Number || value instanceof String || value instanceof Boolean)
    return encode(value.valueOf(), path);
  if (value instanceof Promise || value instanceof WeakMap || value instanceof WeakSet || value instanceof WeakRef) {
    return { "~opaque": `<${nameOf(value.constructor, "Object")}>` };
  }
  return isIterator(value) ? encodeObject(readSyncIterator(value), path.slice(0, -1)) : undefined;
}

const isIterator = (value) => typeof value.next === "function" && typeof value[Symbol.iterator] === "function";

/** Whether iterators are read to write them down; where they belong to a running program, that would use them up. */
export const iterators = { areRead: true };

function readSyncIterator(iterator) {
  if (!iterators.areRead) throw new TypeError("an iterator");
  const items = [];
  for (const item of iterator) {
    if (items.length === MAX_ITEMS) return CutList.from(items);
    items.push(item);
  }
  return items;
}

/** Reads an asynchronous iterator to its end, at most MAX_ITEMS items. */
export async function readIterator(iterator) {
  const items = [];
  for await (const item of iterator) {
    if (items.length === MAX_ITEMS) return CutList.from(items);
    items.push(item);
  }
  return items;
}

const DECODERS = {
  "~callback": (value, scope) => scope.callbacks.make(value),
  "~num": (value) => Number(value["~num"]),
  "~int": (value) => {
    const exact = BigInt(value["~int"]);
    return Number.isSafeInteger(Number(exact)) ? Number(exact) : exact;
  },
  "~float": (value) => Number(value["~float"]),
  "~dec": (value) => Number(value["~dec"]),
  "~bytes": (value) => new Uint8Array(Buffer.from(value["~bytes"], "base64")),
  "~date": (value) => new Date(`${value["~date"]}T00:00:00Z`),
  "~time": (value) => {
    const text = value["~time"];
    return new Date(/(Z|[+-]\d\d:?\d\d)$/i.test(text) ? text : `${text}Z`);
  },
  "~utf16": (value) => Buffer.from(value["~utf16"], "base64").toString("utf16le"),
  "~set": (value, scope) => new Set(value["~set"].map((item) => decode(item, scope))),
  "~list": (value, scope) => value["~list"].map((item) => decode(item, scope)),
  "~tuple": (value, scope) => value["~tuple"].map((item) => decode(item, scope)),
  "~map": (value, scope) => new Map(value["~map"].map(([key, item]) => [decode(key, scope), decode(item, scope)])),
  "~obj": decodeInstance,
  "~none": (value) => (value["~none"] === "undefined" ? undefined : null),
  "~esc": (value, scope) => decodeFields(value["~esc"], scope, {}),
  "~as": (value, scope) => scope.objects?.get(value["~as"]),
};

export function decode(value, scope) {
  if (value === null || typeof value !== "object") return value;
  if (Array.isArray(value)) return value.map((item) => decode(item, scope));
  const keys = Object.keys(value);
  const tag = keys.length <= 3 ? keys.find((key) => Object.hasOwn(DECODERS, key)) : undefined;
  if (tag && (keys.length === 1 || tag === "~obj" || tag === "~list" || tag === "~callback"))
    return DECODERS[tag](value, scope);
  return decodeFields(value, scope, {});
}

function decodeInstance(value, scope) {
  const made = scope.exports?.[value["~obj"]];
  const prototype = typeof made === "function" && made.prototype ? made.prototype : Object.prototype;
  return decodeFields(value.fields ?? {}, scope, Object.create(prototype));
}

function decodeFields(fields, scope, into) {
  for (const [key, item] of Object.entries(fields)) {
    Object.defineProperty(into, key, {
      value: decode(item, scope),
      enumerable: true,
      configurable: true,
      writable: true,
    });
  }
  return into;
}
