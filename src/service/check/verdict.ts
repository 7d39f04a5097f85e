/** The verdict of a check on one case and twin. */

import { allowancesFor, type Excuse } from "@/core/allowances/allowances";
import {
  comparesArguments,
  isHooked,
  readOriginalAnswer,
  readTwinAnswer,
  sectionOf,
  type TwinTerms,
} from "@/core/cases/hand-over";
import type { Answer, Broken, SideResult, Skipped } from "@/core/compare/answer";
import { type CompareTerms, compareAnswers } from "@/core/compare/compare";
import { isSideTwinError } from "@/core/errors";
import type { CaseFacts } from "@/core/explain/facets";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { PortFile } from "@/core/formats/port-file";
import type { CaseReport, Divergence, Outcome } from "@/core/formats/report";
import { equalityOn } from "@/core/values/equality";
import { fromNotation } from "@/core/values/value";
import { workers } from "@/engine/workers/worker-pool";

/** The verdict on one case and twin. */
export type Verdict = {
  readonly item: SharedCase;
  readonly module: string | null;
  readonly section: string;
  readonly twin: string;
  readonly outcome: Outcome;
  readonly divergences: readonly Divergence[];
  readonly more: number;
  readonly excuses: readonly Excuse[];
  readonly side?: "original" | "twin" | "both";
  readonly why?: string;
  readonly lastOutput?: string;
  readonly ms: { readonly original: number | null; readonly twin: number | null };
  /** The sides whose answer came from the cache. */
  readonly reused: readonly ("original" | "twin")[];
};

/** Both answers as they are compared: the original's keys converted, the twin's result read back. */
export type JudgedAnswers = {
  readonly original: Answer | null;
  readonly twin: Answer | null;
  /** Both texts after `{"kind":"call",`, when they are calls that are known to agree by their text. */
  readonly texts?: { readonly original: string; readonly twin: string };
};

/** Two answers that agree by their text, parsed on first use. */
class TextAnswers implements JudgedAnswers {
  constructor(
    private readonly sides: { readonly original: SideResult; readonly twin: SideResult },
    readonly texts: { readonly original: string; readonly twin: string },
  ) {}
  get original(): Answer | null {
    return answerOf(this.sides.original.result);
  }
  get twin(): Answer | null {
    return answerOf(this.sides.twin.result);
  }
}

/** The result of a case on a side, and whether it came from the cache. */
export type JudgedResult = SideResult & { readonly text?: string };

/** The parts of a port that decide a verdict. */
export type JudgeTerms = {
  readonly port: PortFile;
  readonly twin: TwinTerms;
  readonly reused?: { readonly original: boolean; readonly twin: boolean };
};

/** A verdict with the answers it was made from. */
export type Judged = { readonly verdict: Verdict; readonly answers: JudgedAnswers };

/** Compares both sides' results of one case. An answer that is not value notation makes the case broken. */
export function judge(item: SharedCase, original: JudgedResult, twin: JudgedResult, terms: JudgeTerms): Judged {
  try {
    const weighed = weigh(item, original, twin, terms);
    return "verdict" in weighed ? weighed : compareNow(weighed);
  } catch (error) {
    return unreadable(item, { original, twin }, { terms, error });
  }
}

function compareNow({ answers, base, compare }: Open): Judged {
  return { verdict: { ...base, ...compareAnswers(answers.original, answers.twin, compare) }, answers };
}

/** Whether all values of an answer are value notation. */
function isReadable({ result }: JudgedResult): boolean {
  const answer = answerOf(result);
  if (!answer || answer.kind === "run") return true;
  const parts = answer.kind === "call" ? [answer] : answer.steps;
  try {
    for (const part of parts) {
      for (const value of [
        "value" in part ? part.value : undefined,
        ...(part.args ?? []),
        ...Object.values(part.kwargs ?? {}),
      ])
        if (value !== undefined) fromNotation(value);
    }
    return true;
  } catch {
    return false;
  }
}

/** Rethrows errors that the answers did not cause. */
function unreadable(
  item: SharedCase,
  { original, twin }: { readonly original: JudgedResult; readonly twin: JudgedResult },
  { terms, error }: { readonly terms: JudgeTerms; readonly error: unknown },
): Judged {
  if (!isSideTwinError(error)) throw error;
  const what = `its answer cannot be read: ${error.what}`;
  const broken: Broken = { kind: "broken", why: "crashed", what, lastOutput: "" };
  const judged = (result: JudgedResult) => (isReadable(result) ? result : { result: broken, ms: result.ms });
  const [one, other] = [judged(original), judged(twin)];
  // Each can be read by itself: it is the twin's answer, read back through its hookup, that cannot.
  const isClear = one !== original || other !== twin;
  return weigh(item, one, isClear ? other : { result: broken, ms: twin.ms }, terms) as Judged; // a broken side needs no comparing
}

/** Answers from this many characters are compared on another thread. */
const LARGE = 200_000;

/** As `judge`; what would take long is compared on a worker thread, and the verdict comes later. */
export function judgeOrWait(
  item: SharedCase,
  original: JudgedResult,
  twin: JudgedResult,
  terms: JudgeTerms,
): Judged | Promise<Judged> {
  const failed = (error: unknown) => unreadable(item, { original, twin }, { terms, error });
  try {
    const weighed = weigh(item, original, twin, terms);
    if ("verdict" in weighed) return weighed;
    const { answers, base, compare } = weighed;
    if (sizeOf(answers.original, original) + sizeOf(answers.twin, twin) < LARGE) return compareNow(weighed);
    return workers
      .run("compareAnswers", answers.original, answers.twin, compare)
      .then((comparison) => ({ verdict: { ...base, ...comparison }, answers }), failed);
  } catch (error) {
    return failed(error);
  }
}

/** Estimates whether an answer is large: printed output and files. */
export const isLarge = (answer: Answer | null): boolean => answer !== null && sizeOf(answer) > LARGE;

/** Characters of an answer, all of it. */
export const lengthOfAnswer = (answer: Answer): number =>
  answer.kind === "run" ? sizeOf(answer) : JSON.stringify(answer).length;

/** Characters of an answer, as far as known without a walk; `text` is the driver's own for a call. */
function sizeOf(answer: Answer, { text = "" }: { readonly text?: string } = {}): number {
  if (answer.kind !== "run") return text.length + answer.printed.length;
  const files = Object.values(answer.files).map((file) =>
    "removed" in file ? 0 : (Object.values(file)[0]?.length ?? 0),
  );
  return files.reduce((sum, length) => sum + length, answer.stdout.length + answer.stderr.length);
}

/** Two answers that are still to be compared, and under which terms. */
type Open = {
  readonly answers: { readonly original: Answer; readonly twin: Answer };
  readonly base: Base;
  readonly compare: CompareTerms;
};

/** Settles what needs no comparing. */
function weigh(item: SharedCase, original: JudgedResult, twin: JudgedResult, terms: JudgeTerms): Judged | Open {
  const base: Omit<Verdict, "outcome"> = {
    item,
    module: item.module ?? null,
    section: sectionOf(item),
    twin: terms.twin.twin,
    divergences: NOTHING,
    more: 0,
    excuses: NOTHING,
    ms: { original: original.ms, twin: twin.ms },
    reused: reusedOf(terms.reused),
  };
  if (original.text !== undefined && twin.text !== undefined && isSameText(item, original.text, twin.text, terms)) {
    const texts = { original: original.text, twin: twin.text };
    return { verdict: { ...base, outcome: "agree" }, answers: new TextAnswers({ original, twin }, texts) };
  }
  const plain = { original: answerOf(original.result), twin: answerOf(twin.result) };
  // A missing twin counts as not ported; a broken original is an error, whatever the twin did.
  if (original.result.kind === "broken" || original.result.kind === "skipped" || twin.result.kind === "broken") {
    const waits = twin.result.kind === "skipped" && original.result.kind !== "skipped";
    const verdict = waits ? skipped(base, twin.result) : broken(base, original.result, twin.result);
    return { verdict, answers: plain };
  }
  if (twin.result.kind === "skipped") return { verdict: skipped(base, twin.result), answers: plain };
  const answers = isRunCase(item)
    ? { original: original.result, twin: twin.result }
    : {
        original: readOriginalAnswer(original.result, terms.port.names),
        twin: readTwinAnswer(item, twin.result, terms.twin),
      };
  const scope = { id: item.id, module: base.module, call: base.section, twin: terms.twin.twin };
  const compare = {
    equality: equalityOn(terms.port, terms.twin.twin),
    allowances: allowancesFor(terms.port.allowances, scope),
    kinds: kindsFor(item, terms.port),
    ...(isRunCase(item) ? { observe: item.observe } : { compareArguments: comparesArguments(item, terms.twin) }),
  };
  return { answers, base, compare };
}

/** Kinds of documents, first match first: the case's patterns precede and override the port's. */
export const kindsFor = (item: SharedCase, port: PortFile) => ({ ...item.kinds, ...port.kinds, ...item.kinds });

const NOTHING: readonly never[] = [];

/** Whether both sides wrote identical text that nothing transforms before comparison. */
function isSameText(item: SharedCase, original: string, twin: string, terms: JudgeTerms): boolean {
  if (original !== twin) {
    if (terms.port.equality.intFloat === "strict") return false;
    if (withoutFloatTags(original) !== withoutFloatTags(twin)) return false;
  }
  if (original.includes('"~opaque"')) return false;
  const { keys } = terms.port.names;
  const isPlain = keys === "same" || (keys === "snake-to-camel" && !original.includes("_"));
  return isPlain && (terms.twin.hookups.length === 0 || !isHooked(item, terms.twin));
}

/**
 * `{"~float":"2.0"}` as 2, equal by default. Inside a text its quotes would be escaped, so it cannot be anything else.
 */
const withoutFloatTags = (text: string): string =>
  text.includes('"~float"') ? text.replace(/\{"~float":"(-?\d{1,15})\.0"\}/g, "$1") : text;

const NONE: Verdict["reused"] = [];
function reusedOf(reused: JudgeTerms["reused"]): Verdict["reused"] {
  if (!reused || (!reused.original && !reused.twin)) return NONE;
  return [...(reused.original ? (["original"] as const) : []), ...(reused.twin ? (["twin"] as const) : [])];
}

type Base = Omit<Verdict, "outcome">;
type Result = SideResult["result"];

const skipped = (base: Base, result: Skipped): Verdict => ({ ...base, outcome: "skipped", why: result.why });

function broken(base: Base, original: Result, twin: Result): Verdict {
  const first = asBroken(original) ?? asBroken(twin);
  const side = asBroken(original) ? (twin.kind === "broken" ? "both" : "original") : "twin";
  return {
    ...base,
    outcome: "broken",
    side,
    why: first ? `${first.why}: ${first.what}` : "no answer",
    ...(first?.lastOutput ? { lastOutput: first.lastOutput } : {}),
  };
}

/** A section that the original itself does not have is a broken case, not one that waits to be ported. */
function asBroken(result: Result): Broken | null {
  if (result.kind === "broken") return result;
  return result.kind === "skipped" ? { kind: "broken", why: "would-not-load", what: result.why, lastOutput: "" } : null;
}

/** Returns the answer of a result; null if there is none. */
export const answerOf = (result: Result): Answer | null =>
  result.kind === "broken" || result.kind === "skipped" ? null : result;

/** The verdict in the form of the report. */
export function toCaseReport(verdict: Verdict): CaseReport {
  const report: CaseReport = {
    id: verdict.item.id,
    module: verdict.module,
    twin: verdict.twin,
    outcome: verdict.outcome,
    divergences: verdict.divergences as CaseReport["divergences"], // the report is only ever read
    allowances: verdict.excuses.length === 0 ? [] : [...new Set(verdict.excuses.map((excuse) => excuse.allowance))],
    ms: { original: round(verdict.ms.original), twin: round(verdict.ms.twin) },
  };
  if (verdict.more > 0) report.more = verdict.more;
  if (verdict.side) report.side = verdict.side;
  if (verdict.why) report.why = verdict.why;
  if (verdict.lastOutput) report.lastOutput = verdict.lastOutput;
  if (verdict.reused.length > 0) report.reused = [...verdict.reused];
  return report;
}

const round = (ms: number | null): number | null => (ms === null ? null : Math.round(ms * 1000) / 1000);

/** The input for finding families. */
export const toFacts = ({ verdict, answers }: Judged): CaseFacts => ({
  id: verdict.item.id,
  item: verdict.item,
  original: answers.original,
  twin: answers.twin,
  divergences: verdict.divergences,
});
