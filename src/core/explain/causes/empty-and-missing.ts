import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";
import { isEmpty, isNothing } from "@/core/explain/values";

export const emptyAndMissing: Cause = {
  name: "empty-and-missing",
  title: "Empty against nothing",
  note: "An empty text, list or nought is taken for nothing, or the other way round: what counts as false differs from language to language. Fix: ask for null (or None) where that is meant, not for truth.",
  examine: ({ all }) => {
    const isIt = (one: AnyPair["original"], other: AnyPair["original"]) =>
      isEmpty(one) && (other === undefined || isNothing(other));
    const isPair = ({ original, twin }: AnyPair) => isIt(original, twin) || isIt(twin, original);
    const nought = all.some(
      (pair) =>
        isPair(pair) && (pair.original === 0 || pair.twin === 0 || pair.original === false || pair.twin === false),
    );
    return findingFrom(all, isPair, { weight: nought ? 0.8 : 0.98, says: "empty on one side, nothing on the other" });
  },
  fires: [
    [{ original: "", twin: null }],
    [{ original: { a: [] }, twin: { a: null } }],
    [{ original: { a: [] }, twin: {} }],
  ],
  staysQuiet: [[{ original: "x", twin: null }], [{ original: "", twin: "x" }]],
};
