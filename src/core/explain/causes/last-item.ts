import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { ListPair, TextPair } from "@/core/explain/facets";
import { keysOf } from "@/core/explain/orders";

export const lastItem: Cause = {
  name: "last-item",
  title: "The last item is left out or added",
  note: "An end that is included on one side and not on the other, or what is left after the loop was never flushed. Fix: look at the bounds and at what happens after the last turn.",
  examine: ({ lists, texts }) => {
    const isShort = (long: readonly unknown[], short: readonly unknown[]) =>
      long.length === short.length + 1 && short.every((item, index) => item === long[index]);
    const without = ({ original, twin }: ListPair) => isShort(keysOf(original), keysOf(twin));
    const added = ({ original, twin }: ListPair) => isShort(keysOf(twin), keysOf(original));
    const inText = ({ original, twin }: TextPair) =>
      isShort([...original], [...twin]) || isShort([...twin], [...original]);
    const inWords = ({ original, twin }: TextPair) => {
      const [ones, others] = [original.split(/[,;|\s]+/), twin.split(/[,;|\s]+/)];
      return ones.length > 1 && (isShort(ones, others) || isShort(others, ones));
    };
    return bestOf([
      findingFrom(lists, without, { weight: 0.94, evidence: "the twin lacks the last item" }),
      findingFrom(lists, added, { weight: 0.92, evidence: "the twin has one more item at the end" }),
      findingFrom(texts, inText, { weight: 0.8, evidence: "one side lacks the last character" }),
      findingFrom(texts, inWords, { weight: 0.88, evidence: "one side lacks the last of several words" }),
    ]);
  },
  fires: [
    [
      { original: [1, 2, 3], twin: [1, 2] },
      { original: [5, 6], twin: [5] },
    ],
    [{ original: ["a"], twin: ["a", "b"] }],
  ],
  staysQuiet: [[{ original: [1, 2, 3], twin: [1] }], [{ original: [1, 2], twin: [2] }]],
};
