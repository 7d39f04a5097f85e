import { type Cause, findingFrom } from "@/core/explain/cause";
import { hasSameItems, orderedLists } from "@/core/explain/orders";

export const orderOnly: Cause = {
  name: "order-only",
  title: "The same items in another order",
  note: "The order comes from a set, a map, a folder or a race and was never promised, or one side goes through the items backwards. Fix: sort on both sides where the order matters, else allow it as unordered.",
  examine: (facets) =>
    findingFrom(orderedLists(facets), hasSameItems, { weight: 0.8, evidence: "same items, another order" }),
  fires: [[{ original: [3, 1, 2], twin: [2, 3, 1] }], [{ original: ["b", "a", "c"], twin: ["c", "a", "b"] }]],
  staysQuiet: [[{ original: [1, 2], twin: [1, 3] }], [{ original: [1, 1, 2], twin: [1, 2] }]],
};
