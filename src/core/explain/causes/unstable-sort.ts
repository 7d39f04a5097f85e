import { type Cause, findingFrom } from "@/core/explain/cause";
import { sortsByKey } from "@/core/explain/code";
import type { ListPair } from "@/core/explain/facets";
import { hasSameItems, ORDERS, orderedLists, projections } from "@/core/explain/orders";

export const unstableSort: Cause = {
  name: "unstable-sort",
  title: "Equal items in another order",
  note: "A stable sort leaves items with equal keys as they came, others do not, and a comparison that never answers 0 loses their order as well. Fix: a stable sort, or a second key that the original's order gives.",
  inCode: { original: { any: /sort\w*/i }, twin: { any: /sort\w*/i } },
  examine: (facets, code) => {
    const keyOf = (pair: ListPair) =>
      hasSameItems(pair)
        ? projections(pair).find(
            ({ original, twin, isField }) =>
              isField &&
              new Set(original).size < original.length &&
              original.every((key, index) => key === twin[index]) &&
              ORDERS.some((order) => order.isSorted(original)),
          )
        : undefined;
    const lists = orderedLists(facets);
    // Where all keys are one there may be no sorting at all.
    const varied = lists.some((pair) => new Set(keyOf(pair)?.original).size > 1);
    // The sort key may be missing from the answer; then the code must show that both sides sort by a key.
    const isKeyed = code !== undefined && sortsByKey(code.original) && sortsByKey(code.twin);
    const byKey = (pair: ListPair) => keyOf(pair) !== undefined;
    if (isKeyed && !lists.some(byKey))
      return findingFrom(lists, hasSameItems, {
        weight: 0.82,
        evidence: "same items; both sides sort by a key that is not seen",
      });
    return findingFrom(lists, byKey, {
      weight: varied ? 0.965 : 0.75,
      evidence: "same items in the order of one key; those with equal keys have changed places",
    });
  },
  fires: [
    [
      {
        original: [
          { n: "a", k: 1 },
          { n: "b", k: 1 },
          { n: "c", k: 2 },
        ],
        twin: [
          { n: "b", k: 1 },
          { n: "a", k: 1 },
          { n: "c", k: 2 },
        ],
      },
    ],
    [
      {
        original: [
          ["x", 1],
          ["w", 1],
        ],
        twin: [
          ["w", 1],
          ["x", 1],
        ],
      },
    ],
  ],
  staysQuiet: [[{ original: [1, 2], twin: [2, 1] }], [{ original: [{ k: 1 }], twin: [{ k: 2 }] }]],
};
