/**
 * One verdict: two answers to the same case, compared part by part. Defaults are asked first, then allowances; a case
 * agrees when nothing differs after the defaults, and is allowed when nothing differs after the allowances.
 */
import type { ScopedAllowance } from "@/core/allowances/allowances";
import type { Answer, CallAnswer, RunAnswer, StepAnswer, StepsAnswer, Thrown } from "@/core/compare/answer";
import { compareDocuments } from "@/core/compare/documents";
import type { Equality } from "@/core/compare/equality";
import { sameNotation } from "@/core/compare/same-notation";
import { type Excuse, Trial } from "@/core/compare/trial";
import { compareValues } from "@/core/compare/values";
import { assertNever } from "@/core/errors";
import type { Json } from "@/core/formats/json";
import type { Divergence } from "@/core/formats/report";
import { matchesGlob } from "@/core/values/path";
import { fromNotation, type Value } from "@/core/values/value";

export type Comparison = {
  readonly outcome: "agree" | "allowed" | "differ";
  readonly divergences: readonly Divergence[];
  /** Divergences beyond the ones kept. */
  readonly more: number;
  readonly excuses: readonly Excuse[];
};

export type CompareTerms = {
  readonly equality: Equality;
  readonly allowances: readonly ScopedAllowance[];
  /** For runs: what is observed; `exit`, `stdout`, `stderr`, `files:GLOB`. */
  readonly observe?: readonly string[];
  /** False when a hookup gave the twin other arguments, which then say nothing. */
  readonly compareArguments?: boolean;
};

/** Compares two answers of the same form. Cost grows with the size of the answers; nothing is rounded first. */
export function compareAnswers(original: Answer, twin: Answer, terms: CompareTerms): Comparison {
  const trial = new Trial(terms.equality, terms.allowances);
  switch (original.kind) {
    case "call":
      if (twin.kind === "call") compareCalls(trial, original, twin, terms.compareArguments ?? true);
      break;
    case "steps":
      if (twin.kind === "steps") compareSteps(trial, original, twin);
      break;
    case "run":
      if (twin.kind === "run") compareRuns(trial, original, twin, terms.observe ?? ["exit", "stdout"]);
      break;
    default:
      assertNever(original);
  }
  const outcome = trial.unexcused > 0 ? "differ" : trial.divergences.length > 0 ? "allowed" : "agree";
  return { outcome, divergences: trial.divergences, more: trial.more, excuses: trial.excuses };
}

function compareCalls(trial: Trial, original: CallAnswer, twin: CallAnswer, compareArguments: boolean): void {
  compareResults(trial, { value: "value", thrown: "thrown" }, original, twin);
  if (compareArguments) compareArgumentsAfter(trial, "", original, twin);
  compareDocuments(trial, "printed", { original: original.printed, twin: twin.printed }, "text");
}

function compareSteps(trial: Trial, original: StepsAnswer, twin: StepsAnswer): void {
  for (let index = 0; index < Math.max(original.steps.length, twin.steps.length); index++) {
    const [one, other] = [original.steps[index], twin.steps[index]];
    if (!one || !other) continue;
    compareResults(trial, { value: `steps.${index}.value`, thrown: `steps.${index}.thrown` }, one, other);
    if (one.args && other.args) {
      const after = (step: typeof one) => ({ args: step.args ?? [], kwargs: step.kwargs ?? {} });
      compareArgumentsAfter(trial, `steps.${index}.`, after(one), after(other));
    }
  }
  compareDocuments(trial, "printed", { original: original.printed, twin: twin.printed }, "text");
}

type Result = { readonly value?: Json; readonly thrown?: Thrown } | StepAnswer;

function compareResults(trial: Trial, at: { value: string; thrown: string }, original: Result, twin: Result): void {
  const [originalThrown, twinThrown] = [thrownOf(original), thrownOf(twin)];
  if (originalThrown && twinThrown) {
    if (trial.equality.errorKind === "strict" && originalThrown.kind !== twinThrown.kind) {
      trial.report(`${at.thrown}.kind`, "error-kind", texts(originalThrown.kind, twinThrown.kind));
    }
    if (trial.equality.errorMessage === "strict" && originalThrown.message !== twinThrown.message) {
      trial.report(`${at.thrown}.message`, "error-message", texts(originalThrown.message, twinThrown.message));
    }
    return;
  }
  if (originalThrown || twinThrown) {
    trial.report(at.thrown, "thrown", { original: asValue(original), twin: asValue(twin) });
    return;
  }
  compareNotation(trial, at.value, valueIn(original), valueIn(twin));
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

function compareArgumentsAfter(trial: Trial, prefix: string, original: Arguments, twin: Arguments): void {
  for (let index = 0; index < Math.max(original.args.length, twin.args.length); index++) {
    compareNotation(trial, `${prefix}args.${index}`, original.args[index] ?? null, twin.args[index] ?? null);
  }
  for (const name of Object.keys(original.kwargs)) {
    const after = twin.kwargs[name];
    if (after !== undefined) compareNotation(trial, `${prefix}kwargs.${name}`, original.kwargs[name] ?? null, after);
  }
}

function compareNotation(trial: Trial, at: string, original: Json, twin: Json): void {
  // Most answers agree to the letter; those need no tree of values.
  if (trial.equality.keyOrder === "relaxed" && sameNotation(original, twin, trial.equality.intFloat === "relaxed"))
    return;
  compareValues(trial, at, fromNotation(original), fromNotation(twin));
}

function compareRuns(trial: Trial, original: RunAnswer, twin: RunAnswer, observe: readonly string[]): void {
  for (const what of observe) {
    if (what === "exit" && original.exit !== twin.exit) {
      trial.report("exit", "exit", { original: int(original.exit), twin: int(twin.exit) });
    } else if (what === "stdout" || what === "stderr") {
      compareDocuments(trial, what, { original: original[what], twin: twin[what] });
    } else if (what.startsWith("files")) {
      compareFiles(trial, original.files, twin.files, what.slice("files:".length) || "**");
    }
  }
}

function compareFiles(trial: Trial, original: RunAnswer["files"], twin: RunAnswer["files"], glob: string): void {
  const names = [...new Set([...Object.keys(original), ...Object.keys(twin)])].sort();
  for (const name of names.filter((path) => matchesFile(path, glob))) {
    const [one, other] = [original[name], twin[name]];
    const at = `files.${name}`;
    if (!one || !other) {
      trial.report(at, one ? "missing" : "extra", { original: fileValue(one), twin: fileValue(other) });
    } else if ("text" in one && "text" in other) {
      compareDocuments(trial, at, { original: one.text, twin: other.text });
    } else {
      compareValues(trial, at, fileValue(one) ?? text(""), fileValue(other) ?? text(""));
    }
  }
}

function matchesFile(path: string, glob: string): boolean {
  if (glob === "**" || glob === path) return true;
  const [head = "", ...tail] = glob.split("**");
  if (tail.length === 0) return matchesGlob(path, glob) && path.split("/").length === glob.split("/").length;
  return path.startsWith(head) && matchesGlob(path.slice(head.length), `*${tail.join("*").replace(/^\//, "")}`);
}

function fileValue(file: RunAnswer["files"][string] | undefined): Value | null {
  if (!file) return null;
  if ("text" in file) return text(file.text);
  return "bytes" in file ? { kind: "bytes", base64: file.bytes } : { kind: "none", form: "removed" };
}

const text = (value: string): Value => ({ kind: "text", value });
const texts = (original: string, twin: string) => ({ original: text(original), twin: text(twin) });
const int = (value: number): Value => ({ kind: "int", value: BigInt(value) });
