/**
 * Shapes of a function's arguments, for sides whose driver does not read them itself (docs/formats.md, sections 17 and 20): adds
 * the parameters that a case leaves out, and turns out parameters into results.
 */
import type { Thrown } from "@/core/compare/answer";
import type { Json } from "@/core/formats/json";

/** One parameter. `lengthOf` is the place of the parameter that it counts the items of, or `return`. */
type Parameter = {
  readonly way: "in" | "out" | "in-out" | null;
  readonly type: string | null;
  readonly lengthOf: number | "return" | null;
  /** Number of items of a buffer to be filled. */
  readonly room: number;
};

/** The shapes of a function's parameters, in order, and of its result. */
export type ArgumentShapes = {
  readonly parameters: readonly Parameter[];
  readonly result: { readonly type: string | null };
};

const PLAIN: Parameter = { way: null, type: null, lengthOf: null, room: 0 };
const TYPES = new Set(["text", "bytes", "list", "one", "record", "handle"]);

/**
 * Reads the shapes that the port gives a function with these parameters. Names that are none of them are passed over: the
 * same shapes are for a function of either side. Throws Error for an unknown word.
 */
export function readShapes(given: Readonly<Record<string, string>>, names: readonly string[]): ArgumentShapes {
  const parameters: Parameter[] = names.map(() => PLAIN);
  let type: string | null = null;
  for (const [name, text] of Object.entries(given)) {
    for (const word of text.split(",").map((part) => part.trim())) {
      const [, relation, partner = ""] = /^(length of|room of|room|freed by)\s+(\S+)$/.exec(word) ?? [];
      if (relation === "freed by") continue;
      if (name === "return") {
        if (!TYPES.has(word)) throw new Error(`its shape of "return" has an unknown word ${JSON.stringify(word)}`);
        type = word;
        continue;
      }
      const change = changeOf(word, relation, partner, names);
      const at = names.indexOf(name);
      if (at !== -1) parameters[at] = { ...(parameters[at] ?? PLAIN), ...change };
    }
  }
  return { parameters, result: { type } };
}

function changeOf(
  word: string,
  relation: string | undefined,
  partner: string,
  names: readonly string[],
): Partial<Parameter> {
  if (relation === "room" && /^\d+$/.test(partner)) return { room: Number(partner) };
  if (relation === "length of" && partner === "return") return { lengthOf: "return", way: "out" };
  if (relation === "length of" || relation === "room of") {
    const at = names.indexOf(partner);
    return at === -1 ? {} : { lengthOf: at };
  }
  if (word === "in" || word === "out" || word === "in-out") return { way: word };
  if (TYPES.has(word)) return { type: word };
  throw new Error(`its shape has an unknown word ${JSON.stringify(word)}`);
}

/** Whether a case has no argument for a parameter. */
const isLeftOut = ({ way, lengthOf }: Parameter): boolean => way === "out" || lengthOf !== null;

/** Arguments for all parameters that the function has. `isTyped`: the language declares their types. */
export function addArguments(passed: readonly Json[], { parameters }: ArgumentShapes, isTyped: boolean): Json[] {
  const given = [...passed];
  const args: Json[] = [];
  const places = new Map<number, Json>();
  for (const [at, parameter] of parameters.entries()) {
    if (isLeftOut(parameter)) continue;
    if (given.length === 0) break;
    places.set(at, given.shift() ?? null);
  }
  for (const [at, parameter] of parameters.entries()) {
    const { lengthOf } = parameter;
    if (places.has(at)) args.push(places.get(at) ?? null);
    else if (typeof lengthOf === "number")
      args.push(places.has(lengthOf) ? countOf(places.get(lengthOf) ?? null) : (parameters[lengthOf]?.room ?? 0));
    else if (parameter.way === "out") args.push(emptyFor(parameter, isTyped));
  }
  return [...args, ...given];
}

/** Number of items, of bytes, or of a text's bytes in UTF-8. */
function countOf(value: Json): number {
  if (Array.isArray(value)) return value.length;
  if (typeof value === "string") return new TextEncoder().encode(value).length;
  const bytes = bytesOf(value);
  return bytes === null ? 0 : atob(bytes).length;
}

function bytesOf(value: Json): string | null {
  if (typeof value !== "object" || value === null || !("~bytes" in value)) return null;
  return typeof value["~bytes"] === "string" ? value["~bytes"] : null;
}

/** The argument for an out parameter: a buffer with room, or an empty value of its type. */
function emptyFor({ type, room }: Parameter, isTyped: boolean): Json {
  if (type === "bytes") return { "~bytes": btoa("\0".repeat(room)) };
  if (type === "text") return "";
  if (type === "record" || type === "one") return {};
  if (type === "list" || room > 0 || !isTyped) return Array.from({ length: room }, () => 0);
  return 0;
}

/** The result of a call, of a case or of a step. */
export type Returned = { readonly value?: Json; readonly thrown?: Thrown; readonly args?: readonly Json[] };

/** The result as the case's author sees it: only the arguments of the case (`passed`), and outs behind the value. */
export function moveOuts<T extends Returned>(answer: T, passed: readonly Json[], shapes: ArgumentShapes): T {
  const { parameters, result } = shapes;
  const after = answer.args ?? [];
  const args: Json[] = [];
  const outs: Json[] = [];
  for (const [at, parameter] of parameters.slice(0, after.length).entries()) {
    const value = retype(after[at] ?? null, parameter.type);
    if (parameter.way === "out" && parameter.lengthOf === null) outs.push(value);
    else if (!isLeftOut(parameter)) args.push(parameter.way === "in" ? (passed[args.length] ?? null) : value);
  }
  args.push(...after.slice(parameters.length));
  if (answer.thrown) return { ...answer, args };
  const own = retype(answer.value ?? null, result.type);
  const all = own === null ? outs : [own, ...outs];
  const value = outs.length === 0 ? own : all.length === 1 ? (all[0] ?? null) : { "~tuple": all };
  return { ...answer, args, value };
}

/** Text that the shape calls bytes, or bytes that it calls text. */
function retype(value: Json, type: string | null): Json {
  if (type === "bytes" && typeof value === "string") {
    return { "~bytes": btoa(String.fromCharCode(...new TextEncoder().encode(value))) };
  }
  const bytes = type === "text" ? bytesOf(value) : null;
  if (bytes === null) return value;
  try {
    const decoder = new TextDecoder("utf-8", { fatal: true });
    return decoder.decode(Uint8Array.from(atob(bytes), (letter) => letter.charCodeAt(0)));
  } catch {
    // Not UTF-8: it stays bytes.
    return value;
  }
}
