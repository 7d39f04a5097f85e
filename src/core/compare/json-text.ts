/** Compares JSON documents by path. Equal parts are walked as parsed; only differing parts become values. */
import type { ComparisonState } from "@/core/compare/comparison-state";
import { compareValues } from "@/core/compare/values";
import type { Json } from "@/core/formats/json";
import { joinPath } from "@/core/values/path";
import { fromNotation, type Value } from "@/core/values/value";

/** A parsed document. Integers beyond the doubles are `{[LONG_NUMBER]: digits}`. */
export type JsonText = { readonly json: Json };

/** Deeper documents are compared as text: every walk over them would need that deep a stack. */
const MAX_NESTED = 2000;

/** Cannot occur as a key: a lone surrogate is not valid UTF-8. */
const LONG_NUMBER = "\uD800number";
const STRING_OR_LONG_NUMBER = /"(?:[^"\\]|\\.)*"|-?\d{16,}(?![\d.eE])/g;

/**
 * Returns null if the text is not JSON. Only objects and lists count as documents unless `asked`: a lone number is a
 * text.
 */
export function parseJsonText(text: string, asked = false): JsonText | null {
  const body = text.startsWith("\uFEFF") ? text.slice(1) : text;
  const start = body.trimStart()[0];
  if (!asked && start !== "{" && start !== "[") return null;
  try {
    const json = JSON.parse(withLongNumbersKept(body)) as Json;
    return depthOf(json, MAX_NESTED) > 0 ? { json } : null;
  } catch {
    // Not JSON after all: another comparer takes it.
    return null;
  }
}

/** The platform's parser rounds whole numbers beyond 2^53; those are handed on as text. */
function withLongNumbersKept(text: string): string {
  if (!/\d{16}/.test(text) || !/(?<![\d.])\d{16,}(?![\d.eE])/.test(text)) return text;
  return text.replace(STRING_OR_LONG_NUMBER, (found) =>
    found.startsWith('"') || Number.isSafeInteger(Number(found))
      ? found
      : `{${JSON.stringify(LONG_NUMBER)}:"${found}"}`,
  );
}

/** How many of `left` levels remain below the deepest part; 0 when they do not suffice. */
function depthOf(json: Json, left: number): number {
  if (typeof json !== "object" || json === null || left === 0) return left;
  let least = left - 1;
  if (Array.isArray(json)) {
    for (const item of json)
      if (typeof item === "object" && item !== null) least = Math.min(least, depthOf(item, left - 1));
    return least;
  }
  const record = json as { readonly [key: string]: Json }; // neither a scalar nor a list
  for (const key in record) {
    const item = record[key];
    if (typeof item === "object" && item !== null) least = Math.min(least, depthOf(item, left - 1));
  }
  return least;
}

/** Cost: one walk over both, and what `compareValues` takes for the parts that differ. */
export function compareJson(
  state: ComparisonState,
  at: string,
  both: { readonly original: JsonText; readonly twin: JsonText },
): void {
  const [original, twin] = [both.original.json, both.twin.json];
  const { keyOrder, negativeZero } = state.equality;
  // Allowances may apply to any value on the way down, and the order of keys is visible only in values.
  if (state.allowances.length > 0 || keyOrder === "strict" || negativeZero === "strict") {
    if (!isSame(original, twin) || keyOrder === "strict") compareValues(state, at, toValue(original), toValue(twin));
  } else walk(state, at, original, twin);
}

function walk(state: ComparisonState, at: string, original: Json, twin: Json): void {
  if (isSame(original, twin)) return;
  const [one, other] = [recordOf(original), recordOf(twin)];
  const bothLists = Array.isArray(original) && Array.isArray(twin) && original.length === twin.length;
  if (bothLists) {
    for (let index = 0; index < original.length; index++) walk(state, `${at}.${index}`, original[index], twin[index]);
  } else if (one && other && !(LONG_NUMBER in one) && !(LONG_NUMBER in other)) walkFields(state, at, one, other);
  else compareValues(state, at, toValue(original), toValue(twin));
}

type JsonRecord = { readonly [key: string]: Json };

const recordOf = (json: Json): JsonRecord | null =>
  typeof json === "object" && json !== null && !Array.isArray(json) ? (json as JsonRecord) : null; // not a list

function walkFields(state: ComparisonState, at: string, original: JsonRecord, twin: JsonRecord): void {
  for (const key of Object.keys(original)) {
    const path = joinPath(at, key);
    if (Object.hasOwn(twin, key)) walk(state, path, original[key] ?? null, twin[key] ?? null);
    else state.report(path, "missing", { original: toValue(original[key] ?? null), twin: null });
  }
  for (const key of Object.keys(twin)) {
    if (Object.hasOwn(original, key)) continue;
    state.report(joinPath(at, key), "extra", { original: null, twin: toValue(twin[key] ?? null) });
  }
}

/** Equal as documents: the order of keys does not count, -0 equals 0. */
function isSame(original: Json, twin: Json): boolean {
  if (original === twin) return true;
  if (typeof original !== "object" || typeof twin !== "object" || original === null || twin === null) return false;
  if (Array.isArray(original)) {
    if (!Array.isArray(twin) || original.length !== twin.length) return false;
    for (let index = 0; index < original.length; index++) if (!isSame(original[index], twin[index])) return false;
    return true;
  }
  if (Array.isArray(twin)) return false;
  const [one, other] = [original as JsonRecord, twin as JsonRecord]; // neither is a list
  let left = 0;
  for (const key in other) if (Object.hasOwn(other, key)) left++;
  for (const key in one) {
    const partner = other[key];
    if (partner === undefined || !isSame(one[key] ?? null, partner)) return false;
    left--;
  }
  return left === 0;
}

/** Its keys are plain data, so a `~` key is not read as notation. */
export function toValue(json: Json): Value {
  if (typeof json !== "object" || json === null) return fromNotation(json);
  if (Array.isArray(json)) return { kind: "list", items: json.map(toValue) };
  const record = json as JsonRecord; // not a list
  const digits = record[LONG_NUMBER];
  if (typeof digits === "string") return { kind: "int", value: BigInt(digits) };
  return {
    kind: "map",
    plain: true,
    entries: Object.entries(record).map(([key, item]) => [{ kind: "text", value: key }, toValue(item)]),
  };
}
