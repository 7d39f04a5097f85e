/** Tests shared by several causes, for values of any kind. */
import type { AnyPair } from "@/core/explain/facets";
import type { Json } from "@/core/formats/json";
import { splitPath } from "@/core/values/path";

const isRecord = (value: Json | undefined): value is { readonly [key: string]: Json } =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** null, None, undefined and their like. */
export const isNothing = (value: Json | undefined): boolean =>
  value === null || (isRecord(value) && typeof value["~none"] === "string");

/** Values that some languages take as false: empty texts and containers, zero, false. */
export function isEmpty(value: Json | undefined): boolean {
  if (value === "" || value === 0 || value === false) return true;
  if (Array.isArray(value)) return value.length === 0;
  if (!isRecord(value)) return false;
  const items = value["~tuple"] ?? value["~set"] ?? value["~map"];
  return Object.keys(value).length === 0 || (Array.isArray(items) && items.length === 0);
}

/** Whether a missing or extra part is a key of an object, not an item of a list or a line of a text. */
export function isKeyPair({ at, kind }: AnyPair): boolean {
  if (kind !== "missing" && kind !== "extra") return false;
  const parts = splitPath(at);
  return !/^\d+$/.test(parts.at(-1) ?? "") && parts[0] !== "files" && parts.length > 1;
}

const isThrown = (value: Json | undefined): boolean => isRecord(value) && value["~obj"] === "thrown";

/** Which side alone throws, if one does. */
export function throwsOnly({ kind, original, twin }: AnyPair): "original" | "twin" | null {
  if (kind !== "thrown") return null;
  if (isThrown(original) && !isThrown(twin)) return "original";
  return isThrown(twin) && !isThrown(original) ? "twin" : null;
}

/** Whether a thrown error's message is one of these. */
export function isMessage(value: Json | undefined, pattern: RegExp): boolean {
  if (!isRecord(value) || !isThrown(value)) return false;
  const { fields } = value;
  return isRecord(fields) && typeof fields.message === "string" && pattern.test(fields.message);
}
