import { type Cause, findingFrom } from "@/core/explain/cause";
import type { SectionCode, SideCode } from "@/core/explain/code";
import { type AnyPair, type CaseFacts, inputOf, leavesOf } from "@/core/explain/facets";
import { isEmpty, isNothing } from "@/core/explain/values";

export const emptyAndMissing: Cause = {
  name: "empty-and-missing",
  title: "Empty against nothing",
  note: "An empty text, an empty list or zero is treated as missing, or the other way round: each language has its own false values. Fix: compare with null (or None) instead of testing truth.",
  inCode: {
    strength: "slight",
    twin: { any: /\|\||\?\?|\bor\b|\?\.|null|None|undefined|!\w|not \w/ },
  },
  examine: ({ all, cases, controls }, code) => {
    const isIt = (one: AnyPair["original"], other: AnyPair["original"]) =>
      isEmpty(one) && (other === undefined || isNothing(other));
    const isPair = ({ original, twin }: AnyPair) => isIt(original, twin) || isIt(twin, original);
    const hasZero = all.some(
      (pair) =>
        isPair(pair) && (pair.original === 0 || pair.twin === 0 || pair.original === false || pair.twin === false),
    );
    // `a || b` takes b where a is nothing, and where it is empty, 0 or false too.
    const isReplaced = (empty: AnyPair["original"], other: AnyPair["original"]) =>
      isEmpty(empty) && other !== undefined && typeof other !== "boolean" && !isEmpty(other) && !isNothing(other);
    const hasOr = (side: "original" | "twin") =>
      code?.[side].lines.some(({ text }) => /\|\||\bor\b/.test(text)) ?? false;
    const byTwin = ({ original, twin }: AnyPair) => isReplaced(original, twin);
    const byOriginal = ({ original, twin }: AnyPair) => isReplaced(twin, original);
    if (controls.length > 0) {
      const fits =
        hasOr("twin") && all.every(byTwin) ? byTwin : hasOr("original") && all.every(byOriginal) ? byOriginal : null;
      if (fits)
        return findingFrom(all, fits, { weight: 0.9, evidence: "what is empty, 0 or false is taken for nothing" });
    }
    const asked = code ? emptyInputs(cases, controls, code) : null;
    if (asked !== null) return findingFrom(all, () => true, { weight: 0.9, evidence: asked });
    return findingFrom(all, isPair, {
      weight: hasZero ? 0.8 : 0.98,
      evidence: "empty on one side, nothing on the other",
    });
  },
  fires: [
    [{ original: "", twin: null }],
    [{ original: { a: [] }, twin: { a: null } }],
    [{ original: { a: [] }, twin: {} }],
  ],
  staysQuiet: [[{ original: "x", twin: null }], [{ original: "", twin: "x" }]],
};

const TESTS_TRUTH = /\|\||\bor\b|\bif not \w+\b|\(!\w+\)/;
const TESTS_NULL = /\?\?|\bis (?:not )?None\b|[!=]==? ?(?:null|undefined)\b/;

/** Only inputs with something empty differ, and one side asks for truth where the other asks for null; in words, or null. */
function emptyInputs(cases: readonly CaseFacts[], controls: readonly CaseFacts[], code: SectionCode): string | null {
  const has = (side: SideCode, sign: RegExp) => side.lines.some(({ text }) => sign.test(text));
  const isOdd = (one: SideCode, other: SideCode) =>
    has(one, TESTS_NULL) && has(other, TESTS_TRUTH) && !has(other, TESTS_NULL);
  if (!isOdd(code.original, code.twin) && !isOdd(code.twin, code.original)) return null;
  const isGiven = ({ item }: CaseFacts) => inputOf(item).some((input) => leavesOf(input).some(isEmpty));
  return cases.every(isGiven) && controls.length > 0 && !controls.some(isGiven)
    ? "only inputs with something empty differ, and one side alone tests for null"
    : null;
}
