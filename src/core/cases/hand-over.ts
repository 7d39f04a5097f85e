/**
 * Translates a shared case, which is written for the original, into the call for each side: spelling, hookups, argument
 * order. Translates the twin's answer back before both are compared.
 */
import type { Answer } from "@/core/compare/answer";
import type { CallCase, SharedCase, Step, StepsCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Hookup, Names, PortFile } from "@/core/formats/port-file";
import { changesArguments, fillHookup, findHookup, readBack } from "@/core/pairing/hookups";
import { convertKeys, convertRecord, fieldCandidates, nameCandidates, nameWithoutOwner } from "@/core/pairing/naming";
import { findLanguage } from "@/core/source/languages/index";

/** A call for a driver. `names` are tried in order; `module` limits the files to look in. */
export type CallOrder = {
  readonly kind: "call";
  readonly module: string;
  readonly names: readonly string[];
  readonly args: readonly Json[];
  readonly kwargs: { readonly [name: string]: Json };
} & Gaps;

/** Places of `args`, from 0, that are not given though a later one is, and the hookup that makes them so. */
type Gaps = { readonly gaps?: readonly number[]; readonly hookup?: string };

/** One step of a sequence, as it is sent to a driver. */
export type StepOrder = {
  readonly new?: readonly string[];
  readonly call?: readonly string[];
  readonly get?: readonly string[];
  readonly set?: readonly string[];
  readonly value?: Json;
  readonly on?: string;
  readonly as?: string;
  readonly args?: readonly Json[];
  readonly kwargs?: { readonly [name: string]: Json };
} & Gaps;

/** A sequence of steps on objects, in one module. */
export type StepsOrder = { readonly kind: "steps"; readonly module: string; readonly steps: readonly StepOrder[] };

/** A request to a driver, before it has an id. */
export type Order = CallOrder | StepsOrder;

/** The call for the original: names and arguments unchanged. */
export function orderForOriginal(item: CallCase | StepsCase): Order {
  if ("call" in item) {
    return { kind: "call", module: item.module, names: [item.call], args: item.args, kwargs: item.kwargs };
  }
  return { kind: "steps", module: item.module, steps: item.steps.map((step) => plainStep(step)) };
}

type Arguments = Pick<CallOrder, "args" | "kwargs"> & Gaps;

function plainStep(step: Step): StepOrder {
  const given = { args: "args" in step ? (step.args ?? []) : [], kwargs: "kwargs" in step ? (step.kwargs ?? {}) : {} };
  const as = "as" in step && step.as !== undefined ? { as: step.as } : {};
  if ("new" in step) return { new: [step.new], ...given, ...as };
  if ("call" in step) return { call: [step.call], ...(step.on === undefined ? {} : { on: step.on }), ...given, ...as };
  if ("get" in step) return { get: [step.get], on: step.on, ...as };
  return { set: [step.set], on: step.on, value: step.value };
}

/** Everything of a port that decides how a case is called on a twin. */
export type TwinTerms = {
  readonly twin: string;
  readonly names: Names;
  readonly hookups: readonly Hookup[];
  /** Names of all modules, to split `module.name`. */
  readonly modules: readonly string[];
  /** In the original's language, methods are functions named after the type that take the object first. */
  readonly methodsAreFunctions: boolean;
};

/** Collects the terms of one twin from the port file. */
export const twinTerms = (port: PortFile, twin: string, modules: readonly string[]): TwinTerms => ({
  twin,
  names: port.names,
  hookups: [...port.hookups, ...saidNames(port, twin)],
  modules,
  methodsAreFunctions: findLanguage(port.original.language)?.methodsAreFunctions ?? false,
});

/** A pair made by hand is called by its own name, unless a hookup is more specific. */
const saidNames = (port: PortFile, twin: string): Hookup[] =>
  port.pairs.flatMap(({ original, twin: name, on }) =>
    original !== null && name !== null && !findHookup(port.hookups, original, twin)
      ? [{ original, twin: name, ...(on === undefined ? {} : { on }) }]
      : [],
  );

/** The order for the twin: names in its spelling, arguments through the hookup, keys converted. */
export function orderForTwin(item: CallCase | StepsCase, terms: TwinTerms): Order {
  if ("call" in item) {
    const target = targetOf(`${item.module}.${item.call}`, { module: item.module, name: item.call }, terms);
    const given = withCallback(twinArguments(item, target.hookup, terms), target.hookup);
    return { kind: "call", module: target.module, names: target.names, ...given };
  }
  return { kind: "steps", module: item.module, steps: twinSteps(item, terms).map(({ order }) => order) };
}

type Target = { readonly module: string; readonly names: readonly string[]; readonly hookup: Hookup | undefined };

function targetOf(reference: string, plain: { module: string; name: string }, terms: TwinTerms): Target {
  const hookup = findHookup(terms.hookups, reference, terms.twin);
  if (!hookup?.twin) return { module: plain.module, names: nameCandidates(plain.name, terms.names), hookup };
  const split = splitReference(hookup.twin, terms.modules) ?? { module: plain.module, name: hookup.twin };
  return { module: split.module, names: [split.name], hookup };
}

/** `module.name` with the longest module name that fits, as module names may hold dots and slashes themselves. */
function splitReference(reference: string, modules: readonly string[]): { module: string; name: string } | null {
  const fitting = modules
    .filter((module) => reference.startsWith(`${module}.`))
    .sort((one, other) => other.length - one.length);
  const module = fitting[0];
  return module === undefined ? null : { module, name: reference.slice(module.length + 1) };
}

function twinArguments(given: Arguments, hookup: Hookup | undefined, terms: TwinTerms): Arguments {
  const converted = {
    args: given.args.map((item) => convertKeys(item, terms.names)),
    // Template placeholders use the original's names, so the names of named arguments convert after filling.
    kwargs: Object.fromEntries(
      Object.entries(given.kwargs).map(([key, item]) => [key, convertKeys(item, terms.names)]),
    ),
  };
  if (hookup?.kwargs !== undefined || hookup?.args !== undefined) {
    const filled = fillHookup(hookup, converted);
    return filled.gaps ? { ...filled, hookup: hookup.original } : filled;
  }
  return { args: converted.args, kwargs: convertRecord(converted.kwargs, terms.names) };
}

/** Hands a callback over where the hookup asks for one and the case has none. Its style follows from how it is called. */
function withCallback(given: Arguments, hookup: Hookup | undefined): Arguments {
  if (hookup?.callback !== "last" || hasCallback(given)) return given;
  return { ...given, args: [...given.args, { "~callback": "auto" }] };
}

/** Whether some argument is a callback. */
export const hasCallback = ({ args, kwargs }: Pick<CallOrder, "args" | "kwargs">): boolean =>
  [...args, ...Object.values(kwargs)].some(isCallback);

/** Whether a value in notation is a callback, or holds one. */
function isCallback(value: Json): boolean {
  if (typeof value !== "object" || value === null) return false;
  if (!Array.isArray(value) && Object.hasOwn(value, "~callback")) return true;
  return Object.values(value).some(isCallback);
}

type TwinStep = { readonly order: StepOrder; readonly hookup: Hookup | undefined };

function twinSteps(item: StepsCase, terms: TwinTerms): TwinStep[] {
  const classOf = new Map<string, string>();
  return item.steps.map((step) => {
    const plain = plainStep(step);
    if ("get" in step) return { order: { ...plain, get: fieldCandidates(step.get, terms.names) }, hookup: undefined };
    if ("set" in step) {
      const order = {
        ...plain,
        set: fieldCandidates(step.set, terms.names),
        value: convertKeys(step.value, terms.names),
      };
      return { order, hookup: undefined };
    }
    const given = { args: plain.args ?? [], kwargs: plain.kwargs ?? {} };
    if ("new" in step) {
      if (step.as) classOf.set(step.as, step.new);
      const target = targetOf(`${item.module}.${step.new}`, { module: item.module, name: step.new }, terms);
      return {
        order: { ...plain, new: target.names, ...twinArguments(given, target.hookup, terms) },
        hookup: target.hookup,
      };
    }
    const owner = step.on === undefined ? undefined : classOf.get(step.on);
    const ofModule = `${item.module}.${step.call}`;
    const ofClass = owner ? `${item.module}.${owner}.${step.call}` : ofModule;
    const isFunction = terms.methodsAreFunctions && !findHookup(terms.hookups, ofClass, terms.twin);
    const target = targetOf(isFunction ? ofModule : ofClass, { module: item.module, name: step.call }, terms);
    const own = isFunction && owner && !target.hookup?.twin ? nameWithoutOwner(step.call, owner) : null;
    // Objects made by a function are classified by its name, like objects of a class.
    if (terms.methodsAreFunctions && step.as && step.on === undefined) classOf.set(step.as, step.call);
    const candidates = own === null ? target.names : [...target.names, ...nameCandidates(own, terms.names)];
    // On an object only the method's own name counts, whatever class the hookup names.
    const names = step.on === undefined ? candidates : candidates.map((name) => name.split(".").at(-1) ?? name);
    const handed = withCallback(twinArguments(given, target.hookup, terms), target.hookup);
    return { order: { ...plain, call: names, ...handed }, hookup: target.hookup };
  });
}

/** Whether the arguments after the call are comparable for the twin. */
export function comparesArguments(item: CallCase | StepsCase, terms: TwinTerms): boolean {
  if (!("call" in item)) return true;
  return !changesArguments(findHookup(terms.hookups, `${item.module}.${item.call}`, terms.twin));
}

/** Whether a hookup affects a case: its arguments, or how its answer is read. */
export function isHooked(item: SharedCase, terms: TwinTerms): boolean {
  if ("run" in item) return false;
  if ("steps" in item) return terms.hookups.length > 0;
  return findHookup(terms.hookups, `${item.module}.${item.call}`, terms.twin) !== undefined;
}

/** The twin's answer in the original's shape: results read back through hookups. */
export function readTwinAnswer(item: CallCase | StepsCase, answer: Answer, terms: TwinTerms): Answer {
  if (answer.kind === "call" && "call" in item) {
    const hookup = findHookup(terms.hookups, `${item.module}.${item.call}`, terms.twin);
    return hookup?.result && answer.value !== undefined ? { ...answer, value: readBack(hookup, answer.value) } : answer;
  }
  if (answer.kind === "steps" && "steps" in item && terms.hookups.length > 0) {
    const hooks = twinSteps(item, terms);
    const steps = answer.steps.map((step, index) => {
      const hookup = hooks[index]?.hookup;
      const plain = changesArguments(hookup) ? { ...step, args: undefined, kwargs: undefined } : step;
      return "value" in plain ? { ...plain, value: readBack(hookup, plain.value) } : plain;
    });
    return { ...answer, steps };
  }
  return answer;
}

/** The original's answer with its keys in the twin's spelling: only one side is ever converted. */
export function readOriginalAnswer(answer: Answer, names: Names): Answer {
  if (names.keys === "same" || answer.kind === "run") return answer;
  if (answer.kind === "call") {
    return {
      ...answer,
      ...(answer.called ? { called: answer.called.map((call) => convertKeys(call, names)) } : {}),
      ...(answer.value === undefined ? {} : { value: convertKeys(answer.value, names) }),
      args: answer.args.map((item) => convertKeys(item, names)),
      kwargs: convertRecord(answer.kwargs, names),
    };
  }
  const steps = answer.steps.map((step) => ({
    ...step,
    ...("value" in step ? { value: convertKeys(step.value, names) } : {}),
    ...(step.args ? { args: step.args.map((item) => convertKeys(item, names)) } : {}),
    ...(step.kwargs ? { kwargs: convertRecord(step.kwargs, names) } : {}),
  }));
  return { ...answer, steps };
}

/** The section a case exercises: the called name, the class of its first object, or `run`. */
export function sectionOf(item: { call: string } | { steps: readonly Step[] } | { run: unknown }): string {
  if ("call" in item) return item.call;
  if ("steps" in item) {
    for (const step of item.steps) {
      if ("new" in step) return step.new;
      if ("call" in step && step.on === undefined) return step.call;
    }
    return "steps";
  }
  return "run";
}
