import { type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair, CaseFacts } from "@/core/explain/facets";

export const sharedState: Cause = {
  name: "shared-state",
  title: "State is shared that was separate, or the other way round",
  note: "A default value, a class field or a module variable lives on between calls or objects on one side only. Fix: make the state where the original makes it, once for each object or once for all.",
  examine: ({ all, cases, controls }) => {
    const several = (facts: CaseFacts) =>
      "steps" in facts.item && (facts.item.steps.filter((step) => "new" in step).length > 1 || repeated(facts));
    const kept = (facts: CaseFacts) => facts.item.state === "kept";
    const single = controls.filter((facts) => !several(facts)).length;
    const isIt = (pair: AnyPair) => several(pair.facts) || kept(pair.facts);
    const alone = cases.filter((facts) => !several(facts) && !kept(facts)).length;
    return findingFrom(all, isIt, {
      weight: alone > 0 ? 0.3 : single > 0 ? 0.9 : 0.78,
      evidence: "only where several objects or calls follow each other",
    });
  },
  fires: [
    [{ original: { "~steps": [1, 1] }, twin: { "~steps": [1, 2] } }],
    [{ original: { "~steps": [["a"], ["b"]] }, twin: { "~steps": [["a"], ["a", "b"]] } }],
  ],
  staysQuiet: [[{ original: 1, twin: 2 }], [{ original: [1], twin: [2] }]],
};

/** The same function called several times, not on an object. */
function repeated(facts: CaseFacts): boolean {
  if (!("steps" in facts.item)) return false;
  const names = facts.item.steps.flatMap((step) => ("call" in step && step.on === undefined ? [step.call] : []));
  return new Set(names).size < names.length;
}
