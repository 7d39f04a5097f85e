import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { ListPair, TextPair } from "@/core/explain/facets";
import { keysOf } from "@/core/explain/orders";

export const cutShort: Cause = {
  name: "cut-short",
  title: "Cut short on one side",
  note: "A width, a limit or a buffer cuts what the other side keeps whole, or a loop ends at the first odd item. Fix: look for slices, limits and early returns.",
  examine: ({ lists, texts }) => {
    const inText = ({ original, twin }: TextPair) => {
      const [short, long] = original.length < twin.length ? [original, twin] : [twin, original];
      const body = short.replace(/(\.\.\.|…)$/, "");
      // "1.0" beside "1" is the same number.
      const isSameNumber = /\d$/.test(short) && /^\.0+$/.test(long.slice(short.length));
      return long.length > short.length && body.length > 0 && long.startsWith(body) && !isSameNumber;
    };
    const inList = ({ original, twin }: ListPair) => {
      const [short, long] = [keysOf(original), keysOf(twin)].sort((one, other) => one.length - other.length);
      return (
        short !== undefined &&
        long !== undefined &&
        long.length > short.length &&
        short.every((key, index) => key === long[index])
      );
    };
    const steps = new Set(lists.filter(inList).map((pair) => pair.original.length - pair.twin.length));
    const limits = new Set(lists.filter(inList).map((pair) => Math.min(pair.original.length, pair.twin.length)));
    const isLimit = limits.size === 1 && lists.length > 1;
    return bestOf([
      findingFrom(texts, inText, { weight: 0.9, evidence: "one text is the beginning of the other" }),
      findingFrom(lists, inList, {
        weight: isLimit ? 0.96 : [...steps].every((step) => Math.abs(step) === 1) ? 0.75 : 0.93,
        evidence: isLimit ? `one list ends after ${[...limits][0]} items` : "one list is the beginning of the other",
      }),
    ]);
  },
  fires: [
    [
      { original: [1, 2, 3, 4, 5], twin: [1, 2] },
      { original: [1, 2, 3], twin: [1, 2] },
    ],
    [{ original: "a long sentence", twin: "a long" }],
  ],
  staysQuiet: [[{ original: [1, 2, 3], twin: [3] }], [{ original: "abc", twin: "xbc" }]],
};
