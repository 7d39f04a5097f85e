/** Targets of generated inputs: the functions of a module, and its classes with their methods as steps. */
import { literalsOf } from "@/core/exploring/literals";
import { textsOfPatterns } from "@/core/exploring/patterns";
import type { Random } from "@/core/exploring/random";
import { type Shape, shapeOf } from "@/core/exploring/shapes";
import { type Parameter, readParameters } from "@/core/exploring/signature";
import { changeValue, makeFor, type Pool } from "@/core/exploring/values";
import type { CallCase, SharedCase, Step, StepsCase } from "@/core/formats/case-line";
import { isRunCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Section, SourceLanguage } from "@/core/source/section";

/** A section that can be given inputs. */
export type Target = {
  readonly module: string;
  /** A function's or static method's name; a class's where inputs are steps. */
  readonly name: string;
  /** A fresh input. */
  readonly make: (random: Random) => CallCase | StepsCase;
  /** The input with a small change. */
  readonly vary: (item: CallCase | StepsCase, random: Random) => CallCase | StepsCase;
  /** Remembers the arguments of an input that reached something, for parameters of these names anywhere. */
  readonly learn: (item: CallCase | StepsCase) => void;
};

/** A file of the original's module, with its sections. */
export type TargetSource = {
  readonly module: string;
  readonly lines: readonly string[];
  readonly sections: readonly Section[];
};

/** State shared by all targets of a search. */
export type TargetTerms = {
  readonly makers: readonly string[];
  readonly hasInts: boolean;
  readonly hasNamed: boolean;
  /** Comment delimiters of the language. */
  readonly comments: SourceLanguage["comments"];
  /** Literals of the other modules. */
  readonly elsewhere: ReturnType<typeof literalsOf>;
  /** Answers of calls; grows during the search. */
  readonly seen: readonly Json[];
  /** Parameter name → values that reached something; it grows while the search goes on. */
  readonly learned: Map<string, Json[]>;
  /** Values are made from types and names alone. */
  readonly isPlain?: boolean;
};

const NO_LITERALS = { numbers: [], texts: [] } as const;

const MAX_STEPS = 6;
const MAX_KNOWN = 40;

/** The targets of a file; `calls` limits them to these names. Private methods and those of the language's own use are none. */
export function targetsOf(
  { module, lines, sections }: TargetSource,
  cases: readonly SharedCase[],
  all: TargetTerms,
): Target[] {
  const text = (section: Section) => lines.slice(section.from - 1, section.to).join("\n");
  const classes = new Map<string, readonly Parameter[]>();
  for (const section of sections.filter(({ kind }) => kind === "class")) {
    const maker = sections.find(({ name }) => all.makers.some((own) => name === `${section.name}.${own}`));
    classes.set(
      section.name,
      maker ? (readParameters(text(maker), lastOf(maker.name)) ?? []) : fieldsOf(text(section)),
    );
  }
  const ofFile = all.isPlain ? [] : textsOfPatterns(lines.join("\n"));
  const poolFor = (section: Section): Pool => {
    const hints = (code: string) => (all.isPlain ? NO_LITERALS : literalsOf(code, all.comments));
    const own = hints(text(section));
    const rest = hints(lines.join("\n"));
    const matching = all.isPlain ? [] : textsOfPatterns(text(section));
    const code = text(section);
    const shapes = new Map<string, Shape | null>();
    const known = (name: string): Shape | null => {
      const shape = shapes.get(name) ?? (shapes.has(name) ? null : shapeOf(code, name));
      shapes.set(name, shape);
      return shape;
    };
    return {
      ...(all.isPlain ? {} : { shapeOf: known }),
      numbers: mix(own.numbers, rest.numbers, all.elsewhere.numbers),
      texts: mix([...own.texts, ...matching], [...rest.texts, ...ofFile], all.elsewhere.texts),
      seen: all.seen,
      learned: all.learned,
      byName: knownValues(cases, sections, module),
      classes,
      hasInts: all.hasInts,
    };
  };
  return sections.flatMap((section) => {
    // A function that hangs on another one, or on an object, is called as it is written.
    const isCallable = section.kind === "method" && !classes.has(section.name.split(".").slice(0, -1).join("."));
    if (section.kind === "function" || isCallable) {
      const params = readParameters(text(section), lastOf(section.name));
      return params ? [callTarget(module, section.name, params, poolFor(section), all)] : [];
    }
    if (section.kind !== "class") return [];
    const methods = sections.filter(({ kind, name }) => kind === "method" && name.startsWith(`${section.name}.`));
    return classTargets({
      module,
      section,
      methods,
      text,
      params: classes.get(section.name) ?? [],
      pool: poolFor(section),
      all,
    });
  });
}

/** Literals of the section itself come first, then those of its file; others are limited to as many as both. */
function mix<T>(near: readonly T[], file: readonly T[], elsewhere: readonly T[]): T[] {
  const own = [...near, ...near, ...near, ...file];
  return [...own, ...elsewhere.slice(0, Math.max(10, own.length))];
}

const lastOf = (name: string): string => name.split(".").at(-1) ?? name;

/** The fields of a data class: `name: type = default` on lines of their own. */
function fieldsOf(text: string): Parameter[] {
  if (
    !/@dataclass|NamedTuple/.test(
      text.split(/^\s*class /m)[0] + (text.split("\n").find((line) => /class /.test(line)) ?? ""),
    )
  )
    return [];
  return [...text.matchAll(/^[ \t]+(\w+)\s*:\s*([^=\n#]+?)\s*(?:=\s*([^\n#]+))?\s*(?:#.*)?$/gm)].map(
    ([, name = "", type = "", usual]) => ({
      name,
      type,
      default: usual ?? null,
      isNamed: false,
      isRest: false,
    }),
  );
}

/** Parameter name → values that cases gave it. */
function knownValues(
  cases: readonly SharedCase[],
  sections: readonly Section[],
  module: string,
): ReadonlyMap<string, readonly Json[]> {
  const known = new Map<string, Json[]>();
  const add = (name: string | undefined, value: Json) => {
    const list = known.get(name ?? "") ?? [];
    if (name !== undefined && list.length < MAX_KNOWN) known.set(name, [...list, value]);
  };
  for (const item of cases) {
    if (isRunCase(item) || item.module !== module || !("call" in item)) continue;
    const params = sections.find(({ name }) => name === item.call)?.params ?? [];
    for (const [index, value] of item.args.entries()) add(params[index], value);
    for (const [name, value] of Object.entries(item.kwargs)) add(name, value);
  }
  return known;
}

type Arguments = { args: Json[]; kwargs: { [name: string]: Json } };

function makeArguments(params: readonly Parameter[], random: Random, pool: Pool, hasNamed: boolean): Arguments {
  const made: Arguments = { args: [], kwargs: {} };
  let isLeftOut = false;
  for (const param of params) {
    const isOptional = param.default !== null || param.isRest;
    if (isOptional && random.chance(0.5)) {
      isLeftOut = true;
      continue;
    }
    const count = param.isRest ? random.below(4) : 1;
    for (let index = 0; index < count; index++) {
      const value = makeFor(param, random, pool);
      if (param.isNamed || (isLeftOut && hasNamed && !param.isRest)) made.kwargs[param.name] = value;
      else if (!isLeftOut) made.args.push(value);
    }
  }
  return made;
}

function varyArguments(
  given: Arguments,
  params: readonly Parameter[],
  random: Random,
  pool: Pool,
  hasNamed: boolean,
): Arguments {
  if (random.chance(0.15)) return makeArguments(params, random, pool, hasNamed);
  const args = [...given.args];
  const kwargs = { ...given.kwargs };
  const names = Object.keys(kwargs);
  const at = random.below(args.length + names.length + 1);
  const param = params[at];
  if (at < args.length) {
    const now = args[at] ?? null;
    args[at] = param && random.chance(0.3) ? makeFor(param, random, pool) : changeValue(now, random, pool);
  } else if (at < args.length + names.length) {
    const name = names[at - args.length] ?? "";
    if (random.chance(0.3)) delete kwargs[name];
    else kwargs[name] = changeValue(kwargs[name] ?? null, random, pool);
  } else if (args.length < params.length) {
    const next = params[args.length];
    if (next && !(next.name in kwargs)) {
      if (next.isNamed) kwargs[next.name] = makeFor(next, random, pool);
      else args.push(makeFor(next, random, pool));
    }
  } else if (args.length > 0 && params[args.length - 1]?.default) args.pop();
  return { args, kwargs };
}

function callTarget(
  module: string,
  name: string,
  params: readonly Parameter[],
  pool: Pool,
  { hasNamed, learned }: TargetTerms,
): Target {
  const id = "generated";
  return {
    module,
    name,
    make: (random) => ({ id, module, call: name, ...makeArguments(params, random, pool, hasNamed) }),
    vary: (item, random) =>
      "call" in item
        ? {
            id,
            module,
            call: name,
            ...varyArguments({ args: item.args, kwargs: item.kwargs }, params, random, pool, hasNamed),
          }
        : item,
    learn: (item) => {
      if ("call" in item) learnArguments(learned, params, item);
    },
  };
}

const MAX_LEARNED = 12;

function learnArguments(
  learned: Map<string, Json[]>,
  params: readonly Parameter[],
  {
    args = [],
    kwargs = {},
  }: { readonly args?: readonly Json[] | undefined; readonly kwargs?: { readonly [name: string]: Json } | undefined },
): void {
  const given = [...args.map((value, index) => [params[index]?.name, value] as const), ...Object.entries(kwargs)];
  for (const [name, value] of given) {
    if (name === undefined || value === null || value === "") continue;
    const known = learned.get(name) ?? [];
    if (!known.some((other) => JSON.stringify(other) === JSON.stringify(value)))
      learned.set(name, [...known.slice(-MAX_LEARNED), value]);
  }
}

type Method = { readonly name: string; readonly params: readonly Parameter[]; readonly isField: boolean };

function classTargets(of: {
  readonly module: string;
  readonly section: Section;
  readonly methods: readonly Section[];
  readonly text: (section: Section) => string;
  readonly params: readonly Parameter[];
  readonly pool: Pool;
  readonly all: TargetTerms;
}): Target[] {
  const { module, section, methods, text, params, pool, all } = of;
  const statics: Target[] = [];
  const own: Method[] = [];
  for (const method of methods) {
    const name = lastOf(method.name);
    if (all.makers.includes(name) || /^__|^#/.test(name)) continue;
    const written = text(method);
    const given = readParameters(written, name) ?? [];
    const head = written.slice(0, written.indexOf(name) + name.length);
    if (/@(static|class)method\b|\bstatic\s/.test(head))
      statics.push(callTarget(module, method.name, given, pool, all));
    else if (!/\.setter\b|\bset\s+\w+$/.test(head))
      own.push({ name, params: given, isField: /@\w*property\b|\bget\s+\w+$/.test(head) });
  }
  const step = (random: Random): Step => {
    const method = random.of(own);
    if (method.isField) return { get: method.name, on: "it" };
    return { call: method.name, on: "it", ...withoutEmpty(makeArguments(method.params, random, pool, all.hasNamed)) };
  };
  const make = (random: Random): StepsCase => ({
    id: "generated",
    module,
    steps: [
      { new: section.name, ...withoutEmpty(makeArguments(params, random, pool, all.hasNamed)), as: "it" },
      ...Array.from({ length: own.length === 0 ? 0 : 1 + random.below(3) }, () => step(random)),
    ],
  });
  const vary = (item: CallCase | StepsCase, random: Random): CallCase | StepsCase => {
    if (!("steps" in item)) return item;
    const steps = [...item.steps];
    if (own.length > 0 && steps.length < MAX_STEPS && random.chance(0.4))
      return { ...item, id: "generated", steps: [...steps, step(random)] };
    const at = random.below(steps.length);
    const now = steps[at];
    if (!now || !("args" in now || "kwargs" in now || "new" in now || "call" in now)) return make(random);
    const given = { args: [...(now.args ?? [])], kwargs: { ...now.kwargs } };
    const wanted = "new" in now ? params : (own.find(({ name }) => "call" in now && name === now.call)?.params ?? []);
    const { args: _args, kwargs: _kwargs, ...rest } = now;
    steps[at] = { ...rest, ...withoutEmpty(varyArguments(given, wanted, random, pool, all.hasNamed)) } as Step; // the same step with other arguments
    return { ...item, id: "generated", steps };
  };
  const learn = (item: CallCase | StepsCase) => {
    for (const step of "steps" in item ? item.steps : []) {
      if ("new" in step) learnArguments(all.learned, params, step);
      if ("call" in step) learnArguments(all.learned, own.find(({ name }) => name === step.call)?.params ?? [], step);
    }
  };
  return [...statics, { module, name: section.name, make, vary, learn }];
}

const withoutEmpty = ({ args, kwargs }: Arguments): Partial<Arguments> => ({
  ...(args.length > 0 ? { args } : {}),
  ...(Object.keys(kwargs).length > 0 ? { kwargs } : {}),
});
