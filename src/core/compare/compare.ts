/**
 * Compares two answers to the same case. Default equality comes first, then allowances: a case agrees if nothing
 * differs under the defaults, and is allowed if allowances excuse every difference.
 */
import type { Excuse, ScopedAllowance } from "@/core/allowances/allowances";
import type { Answer, CallAnswer, Observed, RunAnswer, StepAnswer, StepsAnswer, Thrown } from "@/core/compare/answer";
import { ComparisonState } from "@/core/compare/comparison-state";
import { bytesOf, type Content } from "@/core/compare/document";
import { compareDocuments, type KindsByPath, kindSetFor } from "@/core/compare/documents";
import { sameNotation } from "@/core/compare/same-notation";
import { compareTimes } from "@/core/compare/times";
import { compareValues } from "@/core/compare/values";
import { assertNever } from "@/core/errors";
import type { Json } from "@/core/formats/json";
import type { Divergence } from "@/core/formats/report";
import type { Equality } from "@/core/values/equality";
import { matchesFile } from "@/core/values/file-pattern";
import { fromNotation, type Value } from "@/core/values/value";

/** The outcome of comparing two answers, with its divergences and excuses. */
export type Comparison = {
  readonly outcome: "agree" | "allowed" | "differ";
  readonly divergences: readonly Divergence[];
  /** The number of divergences beyond those kept. */
  readonly more: number;
  readonly excuses: readonly Excuse[];
};

/** The equality and allowances that apply to a case, and what is observed. */
export type CompareTerms = {
  readonly equality: Equality;
  readonly allowances: readonly ScopedAllowance[];
  /** For runs, the observed parts: `exit`, `stdout`, `stderr`, `files:GLOB`. */
  readonly observe?: readonly string[];
  /** Kinds of documents set by the person. */
  readonly kinds?: KindsByPath;
  /** False if a hookup gave the twin different arguments, which are then not comparable. */
  readonly compareArguments?: boolean;
};

/** Compares two answers of the same form. Cost grows with the size of the answers; nothing is rounded first. */
export function compareAnswers(original: Answer, twin: Answer, terms: CompareTerms): Comparison {
  const state = new ComparisonState(terms.equality, terms.allowances);
  switch (original.kind) {
    case "call":
      if (twin.kind === "call") compareCalls(state, original, twin, terms);
      break;
    case "steps":
      if (twin.kind === "steps") compareSteps(state, original, twin, terms);
      break;
    case "run":
      if (twin.kind === "run") compareRuns(state, original, twin, terms);
      break;
    default:
      assertNever(original);
  }
  const outcome = state.unexcused > 0 ? "differ" : state.divergences.length > 0 ? "allowed" : "agree";
  return { outcome, divergences: state.divergences, more: state.more, excuses: state.excuses };
}

function compareCalls(state: ComparisonState, original: CallAnswer, twin: CallAnswer, terms: CompareTerms): void {
  compareResults(state, { value: "value", thrown: "thrown" }, original, twin);
  compareCalled(state, "called", original.called, twin.called);
  if (terms.compareArguments ?? true) compareArgumentsAfter(state, "", original, twin);
  comparePrinted(state, original, twin, terms);
  compareObserved(state, original, twin);
}

/** Compares the extra observations that both sides report. */
function compareObserved(state: ComparisonState, original: Observed, twin: Observed): void {
  const whats = new Set([...Object.keys(original.leaks ?? {}), ...Object.keys(twin.leaks ?? {})]);
  if (original.leaks && twin.leaks)
    for (const what of whats) compareNotation(state, `leaks.${what}`, original.leaks[what] ?? 0, twin.leaks[what] ?? 0);
  if (original.errno !== undefined && twin.errno !== undefined)
    compareNotation(state, "errno", original.errno, twin.errno);
}

/** Calls of callbacks, one by one; a callback that was called once has given the answer, and is not noted. */
function compareCalled(
  state: ComparisonState,
  at: string,
  original: readonly Json[] | undefined,
  twin: readonly Json[] | undefined,
): void {
  if (!original && !twin) return;
  const [one, other] = [original ?? twin?.slice(0, 1) ?? [], twin ?? original?.slice(0, 1) ?? []];
  for (let index = 0; index < Math.max(one.length, other.length); index++) {
    const [mine, theirs] = [one[index], other[index]];
    const value = (call: Json | undefined) => (call === undefined ? null : fromNotation(call));
    const [first, second] = [value(mine), value(theirs)];
    if (first && second) compareValues(state, `${at}.${index}`, first, second);
    else state.report(`${at}.${index}`, first ? "missing" : "extra", { original: first, twin: second });
  }
}

/** Printed output is compared as lines unless a kind is set. */
function comparePrinted(
  state: ComparisonState,
  original: CallAnswer | StepsAnswer,
  twin: CallAnswer | StepsAnswer,
  { kinds = {} }: CompareTerms,
): void {
  const as = kindSetFor("printed", kinds) ?? "text";
  compareDocuments(state, "printed", { original: original.printed, twin: twin.printed }, { as });
}

function compareSteps(state: ComparisonState, original: StepsAnswer, twin: StepsAnswer, terms: CompareTerms): void {
  for (let index = 0; index < Math.max(original.steps.length, twin.steps.length); index++) {
    const [one, other] = [original.steps[index], twin.steps[index]];
    if (!one || !other) continue;
    compareResults(state, { value: `steps.${index}.value`, thrown: `steps.${index}.thrown` }, one, other);
    compareCalled(state, `steps.${index}.called`, one.called, other.called);
    if (one.args && other.args) {
      const after = (step: typeof one) => ({ args: step.args ?? [], kwargs: step.kwargs ?? {} });
      compareArgumentsAfter(state, `steps.${index}.`, after(one), after(other));
    }
  }
  comparePrinted(state, original, twin, terms);
  compareObserved(state, original, twin);
}

type Result = { readonly value?: Json; readonly thrown?: Thrown } | StepAnswer;

function compareResults(
  state: ComparisonState,
  at: { value: string; thrown: string },
  original: Result,
  twin: Result,
): void {
  const [originalThrown, twinThrown] = [thrownOf(original), thrownOf(twin)];
  if (originalThrown && twinThrown) {
    if (state.equality.errorKind === "strict" && originalThrown.kind !== twinThrown.kind) {
      state.report(`${at.thrown}.kind`, "error-kind", texts(originalThrown.kind, twinThrown.kind));
    }
    if (state.equality.errorMessage === "strict" && originalThrown.message !== twinThrown.message) {
      state.report(`${at.thrown}.message`, "error-message", texts(originalThrown.message, twinThrown.message));
    }
    return;
  }
  if (originalThrown || twinThrown) {
    state.report(at.thrown, "thrown", { original: asValue(original), twin: asValue(twin) });
    return;
  }
  compareNotation(state, at.value, valueIn(original), valueIn(twin));
}

const thrownOf = (result: Result): Thrown | undefined => ("thrown" in result ? result.thrown : undefined);
const valueIn = (result: Result): Json => ("value" in result ? (result.value ?? null) : null);

function asValue(result: Result): Value {
  const thrown = thrownOf(result);
  if (!thrown) return fromNotation(valueIn(result));
  return {
    kind: "object",
    name: "thrown",
    fields: [
      ["kind", text(thrown.kind)],
      ["message", text(thrown.message)],
    ],
  };
}

type Arguments = Pick<CallAnswer, "args" | "kwargs">;

function compareArgumentsAfter(state: ComparisonState, prefix: string, original: Arguments, twin: Arguments): void {
  for (let index = 0; index < Math.max(original.args.length, twin.args.length); index++) {
    compareNotation(state, `${prefix}args.${index}`, original.args[index] ?? null, twin.args[index] ?? null);
  }
  for (const name of Object.keys(original.kwargs)) {
    const after = twin.kwargs[name];
    if (after !== undefined) compareNotation(state, `${prefix}kwargs.${name}`, original.kwargs[name] ?? null, after);
  }
}

function compareNotation(state: ComparisonState, at: string, original: Json, twin: Json): void {
  // Most answers agree to the letter; those need no tree of values.
  if (state.equality.keyOrder === "relaxed" && sameNotation(original, twin, state.equality.intFloat === "relaxed"))
    return;
  compareValues(state, at, fromNotation(original), fromNotation(twin));
}

function compareRuns(state: ComparisonState, original: RunAnswer, twin: RunAnswer, terms: CompareTerms): void {
  const { observe = ["exit", "stdout"], kinds = {} } = terms;
  for (const what of observe) {
    if (what === "exit" && original.exit !== twin.exit) {
      state.report("exit", "exit", { original: int(original.exit), twin: int(twin.exit) });
    } else if (what === "stdout" || what === "stderr") {
      compareDocuments(state, what, { original: original[what], twin: twin[what] }, { as: kindSetFor(what, kinds) });
    } else if (what === "times") compareTimes(state, original, twin);
    else if (what.startsWith("files")) {
      compareFiles(state, { original: original.files, twin: twin.files }, what.slice("files:".length) || "**", kinds);
    }
  }
}

type Files = RunAnswer["files"];

function compareFiles(
  state: ComparisonState,
  both: { original: Files; twin: Files },
  glob: string,
  kinds: KindsByPath,
): void {
  const names = [...new Set([...Object.keys(both.original), ...Object.keys(both.twin)])].sort();
  for (const name of names.filter((path) => matchesFile(path, glob))) {
    const [original, twin] = [both.original[name], both.twin[name]];
    const at = `files.${name}`;
    const [one, other] = [contentOf(original), contentOf(twin)];
    if (one !== null && other !== null) {
      const contents = sameForm(one, other);
      compareDocuments(state, at, contents, { name, as: kindSetFor(at, kinds) });
    } else if (!original || !twin) {
      state.report(at, original ? "missing" : "extra", { original: fileValue(original), twin: fileValue(twin) });
    } else if (one !== null || other !== null) {
      state.report(at, "removed", { original: fileValue(original), twin: fileValue(twin) });
    }
  }
}

/** A file that is text on one side and no UTF-8 on the other is bytes on both. */
export function sameForm(original: Content, twin: Content): { original: Content; twin: Content } {
  if (typeof original === typeof twin) return { original, twin };
  return { original: bytesOf(original), twin: bytesOf(twin) };
}

/** Null when the file was removed, or is not there. */
export function contentOf(file: Files[string] | undefined): Content | null {
  if (!file || "removed" in file) return null;
  return "text" in file ? file.text : Uint8Array.from(atob(file.bytes), (character) => character.charCodeAt(0));
}

function fileValue(file: RunAnswer["files"][string] | undefined): Value | null {
  if (!file) return null;
  if ("text" in file) return text(file.text);
  return "bytes" in file ? { kind: "bytes", base64: file.bytes } : { kind: "none", form: "removed" };
}

const text = (value: string): Value => ({ kind: "text", value });
const texts = (original: string, twin: string) => ({ original: text(original), twin: text(twin) });
const int = (value: number): Value => ({ kind: "int", value: BigInt(value) });
