/** Two values, by path: scalars, lists, sets, maps and objects under the equality, with the allowances that reshape. */
import { findAt, settlesWhole } from "@/core/allowances/allowances";
import { alignItems } from "@/core/compare/align";
import type { ComparisonState } from "@/core/compare/comparison-state";
import { compareScalars } from "@/core/compare/scalars";
import { canonicalText, keyText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { joinPath, splitPath } from "@/core/values/path";
import type { Value } from "@/core/values/value";

/** Compares two values at a path and writes every divergence into the state. Cost grows with the size of both. */
export function compareValues(state: ComparisonState, at: string, original: Value, twin: Value): void {
  if (state.allowances.length === 0 || findAt(state.allowances, splitPath(at), settlesWhole).length === 0) {
    compareParts(state, at, original, twin);
    return;
  }
  const apart = state.fork();
  compareParts(apart, at, original, twin);
  if (!apart.found) return;
  const both = { at, original, twin };
  if (!state.settle(at, both, (how) => isSameUnordered(state, both, how))) state.adopt(apart);
}

type Both = { readonly at: string; readonly original: Value; readonly twin: Value };

function isSameUnordered(state: ComparisonState, both: Both, unordered: true | { by: string }): boolean {
  const originalItems = itemsOf(both.original);
  const twinItems = itemsOf(both.twin);
  if (!originalItems || !twinItems || originalItems.length !== twinItems.length) return false;
  const keyOf = (item: Value): string =>
    unordered === true
      ? canonicalText(item, state.equality)
      : canonicalText(fieldOf(item, unordered.by) ?? { kind: "none", form: "null" }, state.equality);
  const left = new Map<string, Value[]>();
  for (const item of twinItems) left.set(keyOf(item), [...(left.get(keyOf(item)) ?? []), item]);
  for (const [index, item] of originalItems.entries()) {
    const partner = left.get(keyOf(item))?.shift();
    if (!partner) return false;
    const apart = state.fork();
    compareParts(apart, `${both.at}.${index}`, item, partner);
    if (apart.unexcused > 0) return false;
  }
  return true;
}

function fieldOf(value: Value, key: string): Value | undefined {
  return fieldsOf(value)?.find(([name]) => name.kind === "text" && name.value === key)?.[1];
}

function itemsOf(value: Value): readonly Value[] | undefined {
  if (value.kind === "list" || value.kind === "tuple" || value.kind === "set") return value.items;
  return value.kind === "object" ? value.items : undefined;
}

function fieldsOf(value: Value): readonly (readonly [Value, Value])[] | undefined {
  if (value.kind === "map") return value.entries;
  if (value.kind === "object") return value.fields.map(([key, field]) => [{ kind: "text", value: key }, field]);
  return undefined;
}

function compareParts(state: ComparisonState, at: string, original: Value, twin: Value): void {
  if (original.kind === "set" && twin.kind === "set") return compareSets(state, { at, original, twin });
  if (original.kind === "set" || twin.kind === "set") return state.report(at, "type", { original, twin });
  // A named tuple answers as a list to a list and as an object to an object.
  const [originalFields, twinFields] = [fieldsOf(original), fieldsOf(twin)];
  if (originalFields && twinFields) return compareFields(state, { at, original, twin }, originalFields, twinFields);
  const [originalItems, twinItems] = [itemsOf(original), itemsOf(twin)];
  if (originalItems && twinItems) {
    const tuples = original.kind === "tuple" || twin.kind === "tuple";
    if (state.equality.tupleList === "strict" && tuples && original.kind !== twin.kind) {
      return state.report(at, "type", { original, twin });
    }
    return compareLists(state, at, originalItems, twinItems);
  }
  // Fields with something in them are none of an empty list.
  const isNothingInside = (originalItems ?? originalFields)?.length === 0 && (twinItems ?? twinFields)?.length === 0;
  if (isNothingInside && state.equality.emptyKinds === "relaxed") return;
  const kind =
    originalItems || twinItems || originalFields || twinFields
      ? mixedKind(original, twin)
      : compareScalars(original, twin, state.equality);
  if (kind) state.report(at, kind, { original, twin });
}

function mixedKind(original: Value, twin: Value): string {
  if (original.kind === "opaque" || twin.kind === "opaque") return "opaque";
  return original.kind === "none" || twin.kind === "none" ? "null" : "type";
}

function compareLists(state: ComparisonState, at: string, original: readonly Value[], twin: readonly Value[]): void {
  if (original.length === twin.length) {
    for (const [index, item] of original.entries()) {
      const partner = twin[index];
      if (partner) compareValues(state, `${at}.${index}`, item, partner);
    }
    return;
  }
  state.report(`${at}.length`, "length", { original: int(original.length), twin: int(twin.length) });
  const keys = (items: readonly Value[]) => items.map((item) => canonicalText(item, state.equality));
  for (const hunk of alignItems(keys(original), keys(twin))) {
    const paired = Math.min(hunk.originalTo - hunk.originalFrom, hunk.twinTo - hunk.twinFrom);
    for (let step = 0; step < paired; step++) {
      const [item, partner] = [original[hunk.originalFrom + step], twin[hunk.twinFrom + step]];
      if (item && partner) compareValues(state, `${at}.${hunk.originalFrom + step}`, item, partner);
    }
    for (let index = hunk.originalFrom + paired; index < hunk.originalTo; index++) {
      state.report(`${at}.${index}`, "missing", { original: original[index] ?? null, twin: null });
    }
    for (let index = hunk.twinFrom + paired; index < hunk.twinTo; index++) {
      state.report(`${at}.${index}`, "extra", { original: null, twin: twin[index] ?? null });
    }
  }
}

function compareSets(state: ComparisonState, both: Both): void {
  const [original, twin] = [itemsOf(both.original) ?? [], itemsOf(both.twin) ?? []];
  const keysOf = (items: readonly Value[]) => new Map(items.map((item) => [canonicalText(item, state.equality), item]));
  const [originalKeys, twinKeys] = [keysOf(original), keysOf(twin)];
  let index = 0;
  for (const [key, item] of originalKeys) {
    if (!twinKeys.has(key)) state.report(`${both.at}.${index}`, "missing", { original: item, twin: null });
    index++;
  }
  for (const [key, item] of twinKeys) {
    if (!originalKeys.has(key)) state.report(`${both.at}.${index++}`, "extra", { original: null, twin: item });
  }
}

type Fields = readonly (readonly [Value, Value])[];

function compareFields(state: ComparisonState, both: Both, original: Fields, twin: Fields): void {
  const { at } = both;
  if (both.original.kind === "object" && both.twin.kind === "object" && state.equality.classNames === "strict") {
    if (both.original.name !== both.twin.name) {
      state.report(at, "class", { original: text(both.original.name), twin: text(both.twin.name) });
    }
  }
  const renamed = state.allowances.length > 0 ? keysAllowed(state, at) : null;
  const twinByKey = new Map(twin.map(([key, field]) => [keyText(key, state.equality), { key, field }]));
  const met = new Set<string>();
  for (const [key, field] of original) {
    const own = keyText(key, state.equality);
    const other = renamed && key.kind === "text" ? renamed.names.get(key.value) : undefined;
    const wanted = !twinByKey.has(own) && other !== undefined ? JSON.stringify(other) : own;
    const partner = twinByKey.get(wanted);
    const path = joinPath(at, partLabel(key));
    if (!partner || (isUndefined(partner.field) && field.kind !== "none")) {
      if (partner) met.add(wanted);
      if (!isUndefined(field)) state.report(path, "missing", { original: field, twin: null });
      continue;
    }
    if (isUndefined(field) && partner.field.kind !== "none") continue;
    met.add(wanted);
    if (wanted !== own && renamed) {
      state.write(path, "key", { original: partLabel(key), twin: partLabel(partner.key) }, { allowance: renamed.id });
    }
    compareValues(state, path, field, partner.field);
  }
  for (const [wanted, { key, field }] of twinByKey) {
    if (!met.has(wanted) && !isUndefined(field))
      state.report(joinPath(at, partLabel(key)), "extra", { original: null, twin: field });
  }
  if (state.equality.keyOrder === "strict") compareKeyOrder(state, at, present(original), present(twin));
}

/** A key that holds undefined equals no key, and one that holds null or the like on the other side. */
const isUndefined = (field: Value): boolean => field.kind === "none" && field.form === "undefined";
const present = (fields: Fields): Fields => fields.filter(([, field]) => !isUndefined(field));

function compareKeyOrder(state: ComparisonState, at: string, original: Fields, twin: Fields): void {
  const order = (fields: Fields) => fields.map(([key]) => partLabel(key));
  const [one, other] = [order(original), order(twin)];
  const sameKeys = one.length === other.length && one.every((key) => other.includes(key));
  if (sameKeys && one.some((key, index) => key !== other[index])) {
    state.report(at, "key-order", { original: list(one), twin: list(other) });
  }
}

function keysAllowed(state: ComparisonState, at: string): { id: string; names: ReadonlyMap<string, string> } | null {
  const [found] = findAt(state.allowances, splitPath(at), (kind) => kind.key === "keys");
  const names = found?.allowance.allow.keys;
  return found && names ? { id: found.allowance.id, names: new Map(Object.entries(names)) } : null;
}

const partLabel = (key: Value): string => (key.kind === "text" ? key.value : keyLabel(key));
const keyLabel = (key: Value): string => {
  const written = canonicalText(key, DEFAULT_EQUALITY);
  return written.startsWith("n:") ? written.slice(2) : written;
};

const int = (value: number): Value => ({ kind: "int", value: BigInt(value) });
const text = (value: string): Value => ({ kind: "text", value });
const list = (items: readonly string[]): Value => ({ kind: "list", items: items.map(text) });
