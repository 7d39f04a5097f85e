/** Kinds of values that a translation can infer; anything uncertain is unknown. */
import type { Json } from "@/core/formats/json";

/** `of` is the kind of what a list, tuple or dict holds. `int` is a `number` that is whole. */
export type Kind = {
  readonly k: "int" | "number" | "text" | "bool" | "none" | "list" | "dict" | "object" | "unknown";
  readonly of?: Kind;
  /** Of a list that is written out, as tuples are: the kinds of its items. */
  readonly parts?: readonly Kind[];
  /** Class of an object. */
  readonly name?: string;
};

export const UNKNOWN: Kind = { k: "unknown" };
export const INT: Kind = { k: "int" };
export const NUMBER: Kind = { k: "number" };
export const TEXT: Kind = { k: "text" };
export const BOOL: Kind = { k: "bool" };
export const NONE: Kind = { k: "none" };
export const listOf = (of: Kind): Kind => ({ k: "list", of });
export const dictOf = (of: Kind): Kind => ({ k: "dict", of });
export const heldBy = (kind: Kind): Kind => kind.of ?? UNKNOWN;
export const isNumber = ({ k }: Kind): boolean => k === "int" || k === "number";
/** Kinds whose values both languages compare with one sign. */
export const isPlain = ({ k }: Kind): boolean => ["int", "number", "text", "bool", "none"].includes(k);

/** The kind of a value that is one or the other. */
export function join(left: Kind | undefined, right: Kind): Kind {
  if (!left) return right;
  if (isNumber(left) && isNumber(right)) return left.k === "int" && right.k === "int" ? INT : NUMBER;
  if (left.k !== right.k || left.name !== right.name) return UNKNOWN;
  const { parts: _parts, ...plain } = left;
  const own = left.parts?.length === right.parts?.length ? left.parts : undefined;
  const parts = own?.map((part, index) => join(part, right.parts?.[index] ?? UNKNOWN));
  // An empty list gives no hint of its item kind.
  return { ...plain, ...(right.of ? { of: join(left.of, right.of) } : {}), ...(parts ? { parts } : {}) };
}

/** The kind of a value of a shared case (formats, section 3); notations other than of floats are unknown. */
export function kindOf(value: Json): Kind {
  if (value === null) return NONE;
  if (typeof value === "number") return Number.isInteger(value) ? INT : NUMBER;
  if (typeof value === "string") return TEXT;
  if (typeof value === "boolean") return BOOL;
  if (Array.isArray(value)) return holding("list", value.map(kindOf));
  const keys = Object.keys(value);
  if (keys.some((key) => key.startsWith("~"))) return keys[0] === "~float" ? NUMBER : UNKNOWN;
  return holding("dict", Object.values(value).map(kindOf));
}

/** A list or dict of values of these kinds. */
export function holding(k: "list" | "dict", kinds: readonly Kind[]): Kind {
  const of = kinds.reduce<Kind | undefined>(join, undefined);
  return of ? { k, of } : { k };
}
