/** How a case's arguments are handed to a twin whose signature differs, and how its answer is read back. */
import type { Json } from "@/core/formats/json";
import type { Hookup } from "@/core/formats/port-file";

type Arguments = { readonly args: readonly Json[]; readonly kwargs: { readonly [name: string]: Json } };

/** Arguments for the twin; `gaps` are placeholders that the case did not give. */
export type Filled = Arguments & {
  /** Places in `args`, from 0, that the case does not give though it gives a later one. */
  readonly gaps?: readonly number[];
};

/** The hookup for `module.name`, on a given twin when it names one. */
export function findHookup(hookups: readonly Hookup[], original: string, twin: string): Hookup | undefined {
  const fitting = hookups.filter((hookup) => hookup.original === original);
  return fitting.find((hookup) => hookup.on === twin) ?? fitting.find((hookup) => hookup.on === undefined);
}

const LEFT_OUT = Symbol("left out");
const NOT_GIVEN: Json = { "~none": "undefined" };

/**
 * Fills a hookup's templates. `"$1"` is a positional argument, `"$name"` a named one, `"$all"` spreads the positional
 * ones that no other placeholder took. A placeholder that the case does not give is left out at the end of the arguments,
 * and a gap before a given one. Without templates the arguments pass unchanged.
 */
export function fillHookup(hookup: Hookup | undefined, given: Arguments): Filled {
  if (!hookup || (hookup.args === undefined && hookup.kwargs === undefined)) return given;
  const taken = takenPositions([hookup.args ?? [], hookup.kwargs ?? {}]);
  const rest = given.args.filter((_item, index) => !taken.has(index + 1));
  const fill = (template: Json) => fillTemplate(template, { ...given, rest });
  const { items: args, gaps } =
    hookup.args === undefined ? { items: given.args, gaps: [] } : fillList(hookup.args, fill, rest);
  const noted = gaps.length > 0 ? { gaps } : {};
  if (hookup.kwargs === undefined) return { args, kwargs: hookup.args === undefined ? given.kwargs : {}, ...noted };
  return { args, kwargs: fillRecord(hookup.kwargs, fill), ...noted };
}

/** Whether the twin gets different arguments than the case holds, so that they are not comparable after the call. */
export const changesArguments = (hookup: Hookup | undefined): boolean =>
  hookup !== undefined && (hookup.args !== undefined || hookup.kwargs !== undefined);

/** Reads the twin's value back into the original's shape. A field that is not there leaves the answer as it is. */
export function readBack(hookup: Hookup | undefined, value: Json): Json {
  const result = hookup?.result;
  if (!result) return value;
  if ("take" in result) {
    let found: Json | undefined = value;
    for (const part of result.take.split(".")) found = found === undefined ? undefined : fieldOf(found, part);
    return found ?? { "~none": "undefined" };
  }
  return { "~tuple": result.fields.map((name) => fieldOf(value, name) ?? { "~none": "undefined" }) };
}

function fieldOf(value: Json, name: string): Json | undefined {
  if (typeof value !== "object" || value === null) return undefined;
  if (Array.isArray(value)) return value[Number(name)];
  const record = value as { readonly [key: string]: Json }; // not a list, not null
  const tuple = record["~tuple"];
  if (Array.isArray(tuple)) return tuple[Number(name)];
  const entries = record["~map"];
  if (Array.isArray(entries)) return entries.find((pair) => Array.isArray(pair) && pair[0] === name)?.[1];
  const fields = record.fields;
  const holder = "~obj" in record && typeof fields === "object" && fields !== null ? fields : record;
  return Object.hasOwn(holder, name) ? (holder as { readonly [key: string]: Json })[name] : undefined;
}

function takenPositions(template: Json): Set<number> {
  const taken = new Set<number>();
  const walk = (part: Json) => {
    if (typeof part === "string") {
      const position = /^\$(\d+)$/.exec(part)?.[1];
      if (position) taken.add(Number(position));
    } else if (typeof part === "object" && part !== null) Object.values(part).forEach(walk);
  };
  walk(template);
  return taken;
}

type Given = Arguments & { readonly rest: readonly Json[] };

function fillTemplate(template: Json, given: Given): Json | typeof LEFT_OUT {
  if (typeof template === "string") {
    const placeholder = /^\$(\d+|all|[A-Za-z_]\w*)$/.exec(template)?.[1];
    if (placeholder === undefined) return template;
    if (placeholder === "all") return [...given.rest];
    const found = /^\d+$/.test(placeholder) ? given.args[Number(placeholder) - 1] : given.kwargs[placeholder];
    return found === undefined ? LEFT_OUT : found;
  }
  if (typeof template !== "object" || template === null) return template;
  const fill = (part: Json) => fillTemplate(part, given);
  if (Array.isArray(template)) return [...fillList(template, fill, given.rest).items];
  return fillRecord(template as { readonly [key: string]: Json }, fill);
}

function fillList(
  templates: readonly Json[],
  fill: (part: Json) => Json | typeof LEFT_OUT,
  rest: readonly Json[],
): { readonly items: readonly Json[]; readonly gaps: readonly number[] } {
  const filled: (Json | typeof LEFT_OUT)[] = [];
  for (const template of templates) {
    if (template === "$all") filled.push(...rest);
    else filled.push(fill(template));
  }
  while (filled.at(-1) === LEFT_OUT) filled.pop();
  // Items before a given one keep their positions.
  const gaps = filled.flatMap((item, index) => (item === LEFT_OUT ? [index] : []));
  return { items: filled.map((item) => (item === LEFT_OUT ? NOT_GIVEN : item)), gaps };
}

function fillRecord(
  templates: { readonly [key: string]: Json },
  fill: (part: Json) => Json | typeof LEFT_OUT,
): { [key: string]: Json } {
  const filled: { [key: string]: Json } = {};
  for (const [key, template] of Object.entries(templates)) {
    const item = fill(template);
    if (item !== LEFT_OUT) filled[key] = item;
  }
  return filled;
}
