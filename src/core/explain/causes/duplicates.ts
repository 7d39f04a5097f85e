import { type Cause, findingFrom } from "@/core/explain/cause";
import type { ListPair } from "@/core/explain/facets";
import { keysOf } from "@/core/explain/orders";

export const duplicates: Cause = {
  name: "duplicates",
  title: "Repeated items are kept on one side only",
  note: "One side gathers in a set or a map, or skips what it has met, and the other does not. Fix: remove repeats in the twin as the original does, or keep them.",
  examine: ({ lists }) => {
    const isIt = ({ original, twin }: ListPair) => {
      const [ones, others] = [keysOf(original), keysOf(twin)];
      const [set, otherSet] = [new Set(ones), new Set(others)];
      return (
        ones.length !== others.length &&
        set.size === otherSet.size &&
        [...set].every((key) => otherSet.has(key)) &&
        (set.size === ones.length || otherSet.size === others.length)
      );
    };
    return findingFrom(lists, isIt, { weight: 0.97, evidence: "the same items, repeated on one side only" });
  },
  fires: [[{ original: [1, 2], twin: [1, 2, 2] }], [{ original: ["a", "b", "a"], twin: ["a", "b"] }]],
  staysQuiet: [[{ original: [1, 2], twin: [1, 2, 3] }], [{ original: [1, 2], twin: [2, 1] }]],
};
