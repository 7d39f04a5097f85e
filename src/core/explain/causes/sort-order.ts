import { bestOf, type Cause, type Finding, findingFrom } from "@/core/explain/cause";
import type { Facets, ListPair } from "@/core/explain/facets";
import { hasSameItems, ORDERS, orderedLists, projections } from "@/core/explain/orders";

export const sortOrder: Cause = {
  name: "sort-order",
  title: "Different sort order",
  note: "Text is ordered by code point, by locale or by its letters only, numbers as numbers or as text, and some orders run downwards. Fix: give the sort of the twin the comparison that the original uses.",
  inCode: {
    original: { any: /sort\w*|order_by|min\(|max\(|compare/i },
    twin: { any: /localeCompare|sort\w*|compareTo\w*|Collator|<=>|strcmp|min\(|max\(/i },
  },
  examine: (facets) =>
    bestOf(ORDERS.flatMap((one) => ORDERS.map((other) => (one === other ? null : byOrders(facets, one, other))))),
  fires: [
    [
      { original: ["Zeal", "arrow"], twin: ["arrow", "Zeal"] },
      { original: ["B", "a", "c"], twin: ["a", "B", "c"] },
    ],
    [{ original: [1, 2, 10], twin: [1, 10, 2] }],
    [{ original: [3, 2, 1], twin: [1, 2, 3] }],
  ],
  staysQuiet: [[{ original: [3, 1, 2], twin: [2, 3, 1] }], [{ original: [1, 2], twin: [1, 3] }]],
};

type Order = (typeof ORDERS)[number];

function byOrders(facets: Facets, one: Order, other: Order): Finding | null {
  const lists = orderedLists(facets);
  const isIt = (pair: ListPair) =>
    hasSameItems(pair) &&
    projections(pair).some(
      ({ original, twin }) =>
        one.isSorted(original) && other.isSorted(twin) && !one.isSorted(twin) && !other.isSorted(original),
    );
  const weight = lists.some((pair) => isIt(pair) && pair.original.length > 2) ? 0.97 : 0.9;
  return findingFrom(lists, isIt, {
    weight: weight - one.rank / 100 - other.rank / 100,
    evidence: `same items, the original ordered ${one.words}, the twin ${other.words}`,
  });
}
