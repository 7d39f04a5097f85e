/** Argument shapes that a port declares (docs/formats.md, sections 17 and 20). */
import type { CDeclarations, CFunction, CType } from "@/engine/drivers/c/declarations";

/** Shape words for what a pointer points to. */
const KINDS = {
  text: "ST_AS_TEXT",
  bytes: "ST_AS_BYTES",
  list: "ST_AS_LIST",
  one: "ST_AS_ONE",
  record: "ST_AS_ONE",
  handle: "ST_AS_HANDLE",
};

/** The shape of a parameter or result. Parameters are numbered from 0. */
export type Shape = {
  readonly kind: string;
  readonly way: "ST_IN" | "ST_OUT" | "ST_IN_OUT";
  /** The parameter with the number of its items. */
  readonly length: number | null;
  /** The parameter that it is a length of, or `return`. */
  readonly lengthOf: number | "return" | null;
  readonly room: number;
  readonly freedBy: string | null;
};

/** The shapes of a function; `error` names a contradiction. */
export type Shapes = { readonly parameters: readonly Shape[]; readonly result: Shape; readonly error: string | null };

const PLAIN: Shape = { kind: "ST_ANY", way: "ST_IN", length: null, lengthOf: null, room: 0, freedBy: null };

/** Follows the names of a type to what it is. */
export function resolve(type: CType, { typedefs }: Pick<CDeclarations, "typedefs">): CType {
  let found = type;
  for (let steps = 0; found.kind === "named" && steps < 50; steps++) {
    const known = typedefs.get(found.name);
    if (!known) return found;
    found = known;
  }
  return found;
}

/** A whole number's type; `named` are those that the compiler has built in. */
export const isWhole = (type: CType): boolean =>
  type.kind === "number" && !/\b(float|double|bool|_Bool|_Complex)\b/.test(type.spelled);

const LENGTH =
  /^(n|len|length|size|count|num|cnt|total|nmemb|n_\w+|num_\w+|\w*_(n|len|length|size|count|num|cnt|room|capacity)|\w+(Len|Length|Size|Count)|room|capacity|cap)$/;

/** Whether a name is one that a number of items has. */
export const isLengthName = (name: string): boolean => LENGTH.test(name);

/** Derives shapes from types and names, then applies the port's own. */
export function shapesOf(
  { parameters }: CFunction,
  declarations: CDeclarations,
  given: Readonly<Record<string, string>> | undefined,
): Shapes {
  const shapes: Shape[] = parameters.map(({ type }) => {
    const found = resolve(type, declarations);
    return { ...PLAIN, way: found.kind === "pointer" && !found.isConst ? "ST_IN_OUT" : "ST_IN" };
  });
  const indexOf = (name: string) => parameters.findIndex((one) => one.name === name);
  const join = (at: number, length: number) => {
    shapes[at] = { ...(shapes[at] ?? PLAIN), length };
    shapes[length] = { ...(shapes[length] ?? PLAIN), lengthOf: at };
  };
  let result = PLAIN;
  let error: string | null = null;
  const isSaid = (at: number) => given?.[parameters[at]?.name ?? ""] !== undefined;
  for (const [at, { type }] of parameters.entries()) {
    const found = resolve(type, declarations);
    if (found.kind !== "pointer" || resolve(found.to, declarations).kind === "function") continue;
    const isLength = (index: number) => {
      const other = parameters[index];
      return (
        other !== undefined &&
        shapes[index]?.lengthOf === null &&
        !isSaid(index) &&
        isWhole(resolve(other.type, declarations)) &&
        isLengthName(other.name)
      );
    };
    if (isLength(at + 1)) join(at, at + 1);
    else if (isLength(at - 1)) join(at, at - 1);
  }
  for (const [name, text] of Object.entries(given ?? {})) {
    const at = name === "return" ? -1 : indexOf(name);
    if (name !== "return" && at === -1) error = `its shape names a parameter ${name} that it does not have`;
    for (const word of text.split(",").map((part) => part.trim())) {
      const [, relation, partner = ""] = /^(length of|room of|room|freed by)\s+(\S+)$/.exec(word) ?? [];
      const change = (values: Partial<Shape>) => {
        if (name === "return") result = { ...result, ...values };
        else if (at !== -1) shapes[at] = { ...(shapes[at] ?? PLAIN), ...values };
      };
      if (relation === "freed by") change({ freedBy: partner });
      else if (relation === "room" && /^\d+$/.test(partner)) change({ room: Number(partner) });
      else if (relation === "length of" && partner === "return") {
        change({ lengthOf: "return", way: "ST_OUT" });
        result = { ...result, length: at };
      } else if (relation) {
        const of = indexOf(partner);
        if (of === -1) error = `its shape names a parameter ${partner} that it does not have`;
        else join(of, at);
      } else if (word === "in") change({ way: "ST_IN" });
      else if (word === "out") change({ way: "ST_OUT" });
      else if (word === "in-out") change({ way: "ST_IN_OUT" });
      else if (word in KINDS) change({ kind: KINDS[word as keyof typeof KINDS] });
    }
  }
  return { parameters: shapes, result, error };
}
