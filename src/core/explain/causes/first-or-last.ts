import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { type AnyPair, inputOf, leavesOf } from "@/core/explain/facets";
import type { Json } from "@/core/formats/json";

/** The list given from whose items both answers come, by the places of these items. */
type Places = { readonly original: number; readonly twin: number; readonly isShared: boolean };

export const firstOrLast: Cause = {
  name: "first-or-last",
  title: "The first of several on one side, the last on the other",
  note: "Of several items with the same key one side keeps the first and the other lets a later one take its place, or one search stops at the first match and the other goes on. Fix: keep what is there already, or stop as the original does.",
  inCode: {
    strength: "slight",
    original: {
      any: /setdefault|not in\b|\bbreak\b|next\(|\[0\]|\.find\(|\.first|putIfAbsent|or_insert|isset|\?\?=|\|\|=/,
    },
    twin: { any: /\[\w[\w.[\]"']*\]\s*=[^=]|\.set\(|\.put\(|\.insert\(|\[-1\]|\.last\b|findLast|\.pop\(|\.at\(-1\)/ },
  },
  examine: ({ all }) => {
    const found = new Map(all.map((pair) => [pair, placesOf(pair)]));
    const isFirst = (pair: AnyPair) => (found.get(pair)?.original ?? 0) < (found.get(pair)?.twin ?? 0);
    const isLast = (pair: AnyPair) => (found.get(pair)?.original ?? 0) > (found.get(pair)?.twin ?? 0);
    const isShared = all.every((pair) => found.get(pair)?.isShared);
    const weight = isShared ? 0.93 : 0.6;
    const of = isShared ? "items with the same key" : "the items given";
    return bestOf([
      findingFrom(all, isFirst, { weight, evidence: `of ${of} the original gives an earlier one` }),
      findingFrom(all, isLast, { weight, evidence: `of ${of} the twin gives an earlier one` }),
    ]);
  },
  fires: [
    [
      {
        original: { a: 1 },
        twin: { a: 2 },
        args: [
          [
            ["a", 1],
            ["a", 2],
          ],
        ],
      },
      {
        original: { b: 5, c: 3 },
        twin: { b: 4, c: 3 },
        args: [
          [
            ["b", 5],
            ["c", 3],
            ["b", 4],
          ],
        ],
      },
    ],
    [
      {
        original: "Bo",
        twin: "Cy",
        args: [
          [
            { team: "x", name: "Bo" },
            { team: "x", name: "Cy" },
          ],
          "x",
        ],
      },
    ],
  ],
  staysQuiet: [[{ original: 1, twin: 2, args: [1, 2] }], [{ original: 3, twin: 4, args: [[1, 2]] }]],
};

/** Null unless both answers are values of different items of one list given. */
function placesOf({ original, twin, facts }: AnyPair): Places | null {
  if (original === undefined || twin === undefined || isHolder(original) || isHolder(twin)) return null;
  for (const list of inputOf(facts.item).flatMap((item) => listsIn(item))) {
    const leaves = list.map((item) => leavesOf(item));
    const one = leaves.findIndex((values) => values.includes(original));
    const other = leaves.findIndex((values) => values.includes(twin));
    if (one === -1 || other === -1 || one === other) continue;
    const isShared = (leaves[one] ?? []).some((value) => (leaves[other] ?? []).includes(value));
    return { original: one, twin: other, isShared };
  }
  return null;
}

const isHolder = (value: Json): boolean => typeof value === "object" && value !== null;

/** The lists of several items within a value, outer ones first. */
function listsIn(value: Json): (readonly Json[])[] {
  if (typeof value !== "object" || value === null) return [];
  const inner = Object.values(value).flatMap((item) => listsIn(item));
  return Array.isArray(value) && value.length > 1 ? [value, ...inner] : inner;
}
