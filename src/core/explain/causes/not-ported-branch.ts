import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { missingBranches } from "@/core/explain/code";
import { type AnyPair, answersOf, type CaseFacts, inputOf, leavesOf } from "@/core/explain/facets";
import { numericInputs } from "@/core/explain/numbers";
import { isMessage, isNothing, throwsOnly } from "@/core/explain/values";
import type { Json } from "@/core/formats/json";

/** Words of a person's own error; a language's complaint about an operand or a format is another matter. */
const SAYS_SO =
  /not (yet )?(implemented|ported|supported)|unsupported(?! (operand|format))|unknown(?! (format|encoding))|todo/i;

export const notPortedBranch: Cause = {
  name: "not-ported-branch",
  title: "A branch of the original was not carried over",
  note: "For some inputs the twin gives nothing, or always the same: the branch that deals with them is not there yet. Fix: look for the lines of the original that these cases run and the others do not.",
  examine: ({ all, cases, controls }, code) => {
    const textOf = JSON.stringify;
    const isNone = ({ original, twin, kind }: AnyPair) =>
      kind !== "missing" &&
      kind !== "extra" &&
      isNothing(twin) &&
      original !== undefined &&
      !isNothing(original) &&
      original !== "" &&
      !(Array.isArray(original) && original.length === 0);
    const worded = (pair: AnyPair) => throwsOnly(pair) === "twin" && isMessage(pair.twin, SAYS_SO);
    const twins = new Set(all.map((pair) => textOf(pair.twin)));
    const originals = new Set(all.map((pair) => textOf(pair.original)));
    const isConstant = twins.size === 1 && originals.size > 1 && all.every((pair) => pair.kind !== "length");
    const lacked = code ? missingBranches(code) : [];
    const limit = lacked.find((word) => parts(word, cases, controls));
    const answer = lacked.find((word) => isAnsweredInstead(word, all, controls));
    return bestOf([
      limit === undefined
        ? null
        : findingFrom(all, () => true, {
            weight: 0.93,
            evidence: `only on one side of ${textOf(limit)}, with which the original branches and the twin does not`,
          }),
      answer === undefined
        ? null
        : findingFrom(all, () => true, {
            weight: 0.93,
            evidence: `the original answers ${textOf(answer)}, which the twin has nowhere`,
          }),
      findingFrom(all, worded, { weight: 0.98, evidence: "the twin reports that it cannot do this" }),
      findingFrom(all, isNone, { weight: 0.95, evidence: "the twin gives nothing" }),
      isConstant
        ? findingFrom(all, ({ twin }) => twin !== undefined, {
            weight: controls.length > 0 ? 0.84 : 0.7,
            evidence: `the twin always gives ${[...twins][0]?.slice(0, 60)}`,
          })
        : null,
    ]);
  },
  fires: [
    [
      { original: "big", twin: null },
      { original: 12, twin: null },
    ],
    [
      { original: 5, twin: 0 },
      { original: 9, twin: 0 },
    ],
    [{ original: 5, twin: { "~thrown": ["ValueError", "unsupported zone"] } }],
  ],
  staysQuiet: [
    [{ original: 5, twin: 6 }],
    [{ original: "5 kr", twin: { "~thrown": ["TypeError", "unsupported operand type(s) for +: 'float' and 'str'"] } }],
    [{ original: { "~thrown": ["E", "unknown zone"] }, twin: { "~thrown": ["E", "unknown area"] } }],
    [{ original: null, twin: 4 }],
  ],
};

/** Whether the original gives a word of its code where the sides differ, and nowhere else, and the twin never does. */
function isAnsweredInstead(word: number | string, all: readonly AnyPair[], controls: readonly CaseFacts[]): boolean {
  const gives = (value: Json | undefined) =>
    leavesOf(value ?? null).some((leaf) =>
      typeof word === "string" ? typeof leaf === "string" && leaf.includes(word) : leaf === word,
    );
  return (
    all.every(({ original, twin }) => gives(original) && !gives(twin)) &&
    !controls.some((facts) => answersOf(facts).some(gives))
  );
}

/** Whether a number or text of the code divides the inputs: all that differ lie on one side of it, and all that agree on the other. */
function parts(word: number | string, cases: readonly CaseFacts[], controls: readonly CaseFacts[]): boolean {
  if (controls.length === 0) return false;
  if (typeof word === "string") {
    const has = (facts: CaseFacts) =>
      inputOf(facts.item)
        .flatMap((item) => leavesOf(item))
        .includes(word);
    return (cases.every(has) && !controls.some(has)) || (!cases.some(has) && controls.every(has));
  }
  const count = Math.min(...[...cases, ...controls].map((facts) => numericInputs(facts).length));
  for (let place = 0; place < count; place++) {
    const at = (facts: CaseFacts) => numericInputs(facts)[place] ?? Number.NaN;
    const isApart = (test: (value: number) => boolean) =>
      cases.every((facts) => test(at(facts))) && !controls.some((facts) => test(at(facts)));
    if (
      [
        (n: number) => n > word,
        (n: number) => n >= word,
        (n: number) => n < word,
        (n: number) => n <= word,
        (n: number) => n === word,
      ].some(isApart)
    )
      return true;
  }
  return false;
}
