import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";
import { isEmpty, isNothing } from "@/core/explain/values";

export const emptyAndMissing: Cause = {
  name: "empty-and-missing",
  title: "Empty against nothing",
  note: "An empty text, an empty list or zero is treated as missing, or the other way round: each language has its own false values. Fix: compare with null (or None) instead of testing truth.",
  inCode: {
    strength: "slight",
    twin: { any: /\|\||\?\?|\bor\b|\?\.|null|None|undefined|!\w|not \w/ },
  },
  examine: ({ all, controls }, code) => {
    const isIt = (one: AnyPair["original"], other: AnyPair["original"]) =>
      isEmpty(one) && (other === undefined || isNothing(other));
    const isPair = ({ original, twin }: AnyPair) => isIt(original, twin) || isIt(twin, original);
    const hasZero = all.some(
      (pair) =>
        isPair(pair) && (pair.original === 0 || pair.twin === 0 || pair.original === false || pair.twin === false),
    );
    // `a || b` takes b where a is nothing, and where it is empty, 0 or false too.
    const isReplaced = ({ original, twin }: AnyPair) =>
      isEmpty(original) && twin !== undefined && !isEmpty(twin) && !isNothing(twin);
    const hasOr = code?.twin.lines.some(({ text }) => /\|\||\bor\b/.test(text)) ?? false;
    if (hasOr && controls.length > 0 && all.every(isReplaced))
      return findingFrom(all, isReplaced, { weight: 0.9, evidence: "what is empty, 0 or false is taken for nothing" });
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
