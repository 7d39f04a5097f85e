/** Features that one case reaches: lines of the original, kinds of values, kinds of errors. Two cases with the same features are alike. */
import type { Answer, Thrown } from "@/core/compare/answer";
import type { CallCase, StepsCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { fromNotation, type Value } from "@/core/values/value";

/** A feature, as one text: `line FILE NUMBER`, `passed FILE NUMBER`, `kind SECTION PLACE KIND`, `error SECTION KIND`. */
export type Feature = string;

/** The kinds and errors of an answered case. Cost: linear in its arguments and answer. */
export function featuresOf(item: CallCase | StepsCase, answer: Answer): Feature[] {
  if ("call" in item && answer.kind === "call") {
    const section = `${item.module}.${item.call}`;
    return [...givenKinds(section, item), ...answerKinds(section, answer)];
  }
  if (!("steps" in item) || answer.kind !== "steps") return [];
  return [
    ...item.steps.flatMap((step, index) => {
      const name = "new" in step ? step.new : "call" in step ? step.call : "get" in step ? step.get : step.set;
      const section = `${item.module}.${name}`;
      const given = "args" in step || "kwargs" in step ? givenKinds(section, step) : [];
      const own = answer.steps[index];
      return [...given, ...(own ? answerKinds(section, own) : [])];
    }),
  ];
}

/** The feature of one line. */
export const lineFeature = (file: string, line: number): Feature => `line ${file} ${line}`;

/**
 * Where a run went from an executable line past the next one: the branches that lines alone do not show. `executable` and `run` are
 * ascending.
 */
export function passedFeatures(file: string, executable: readonly number[], run: readonly number[]): Feature[] {
  const ran = new Set(run);
  return executable.flatMap((line, index) => {
    const next = executable[index + 1];
    return next !== undefined && ran.has(line) && !ran.has(next) ? [`passed ${file} ${line}`] : [];
  });
}

/** Errors that the language throws for arguments of a wrong kind. */
const OF_KINDS = /^(TypeError|AttributeError|NameError|UnboundLocalError)$/;

/** Whether an answer, or a step of it, is such an error, and `source` does not throw it on purpose. */
export function isOfWrongKind(answer: Answer, source: string): boolean {
  const thrown = answer.kind === "call" ? [answer.thrown] : answer.kind === "steps" ? answer.steps.map(thrownIn) : [];
  return thrown.some(
    (error) => error && OF_KINDS.test(error.kind) && !new RegExp(`(raise|throw new) ${error.kind}`).test(source),
  );
}

const thrownIn = (step: object): Thrown | undefined => ("thrown" in step ? (step.thrown as Thrown) : undefined); // a step's error

/** Whether a feature is of the code or an error, and not only another kind of value. */
export const isOfCode = (feature: Feature): boolean => !feature.startsWith("kind ");

/** Whether a feature is a line. */
export const isLine = (feature: Feature): boolean => feature.startsWith("line ");

type Given = {
  readonly args?: readonly Json[] | undefined;
  readonly kwargs?: { readonly [name: string]: Json } | undefined;
};

const givenKinds = (section: string, { args = [], kwargs = {} }: Given): Feature[] =>
  [...args.entries(), ...Object.entries(kwargs)].map(([place, value]) => `kind ${section} ${place} ${kindOf(value)}`);

type Answered = { readonly value?: Json; readonly thrown?: { readonly kind: string } };

const answerKinds = (section: string, answer: Answered): Feature[] =>
  "thrown" in answer && answer.thrown
    ? [`error ${section} ${answer.thrown.kind}`]
    : "value" in answer && answer.value !== undefined
      ? [`kind ${section} answer ${kindOf(answer.value)}`]
      : [];

/** A coarse kind: what a person would call another sort of value. */
export function kindOf(json: Json): string {
  return kindOfValue(fromNotation(json));
}

function kindOfValue(value: Value): string {
  switch (value.kind) {
    case "none":
      return "none";
    case "boolean":
      return String(value.value);
    case "int":
      return `int ${value.value === 0n ? "0" : value.value < 0n ? "-" : "+"}`;
    case "float":
      return Number.isFinite(value.value) ? `float ${Math.sign(value.value)}` : "float not finite";
    case "text":
      return value.value === "" ? "text empty" : /^\p{ASCII}*$/u.test(value.value) ? "text" : "text beyond ASCII";
    case "list":
    case "tuple":
    case "set": {
      const [first] = value.items;
      return first ? `${value.kind} of ${kindName(first)}` : `${value.kind} empty`;
    }
    case "map":
      return value.entries.length === 0 ? "map empty" : "map";
    case "object":
      return `object ${value.name}`;
    default:
      return value.kind;
  }
}

const kindName = (value: Value): string => (value.kind === "object" ? value.name : value.kind);
