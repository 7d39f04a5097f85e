import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import {
  type AnyPair,
  type CaseFacts,
  inputOf,
  type ListPair,
  leavesOf,
  type TextPair,
  toList,
  toText,
} from "@/core/explain/facets";
import { keysOf } from "@/core/explain/orders";

export const firstOnly: Cause = {
  name: "first-only",
  title: "Only the first one is dealt with",
  note: "A replace or a search of one language takes the first match only, that of the other all of them. Fix: replaceAll, a pattern with the global flag, or the original's count.",
  inCode: {
    original: { any: /replace|sub\(|find|index/i },
    twin: { any: /\.replace\(|indexOf|find\(|search\(|match\(/ },
  },
  examine: ({ lists, texts, all }) => {
    const isOne = (many: unknown, one: unknown) => {
      const items = toList(many as AnyPair["original"]);
      return (
        toText(many as AnyPair["original"]) === null &&
        items !== null &&
        items.length > 1 &&
        JSON.stringify(items[0]) === JSON.stringify(one)
      );
    };
    const onlyFirst = ({ original, twin }: ListPair) => {
      const [short, long] = [keysOf(original), keysOf(twin)].sort((one, other) => one.length - other.length);
      return short?.length === 1 && (long?.length ?? 0) > 1 && short[0] === long?.[0];
    };
    const varied =
      new Set(lists.filter(onlyFirst).map((pair) => Math.max(pair.original.length, pair.twin.length))).size > 1;
    return bestOf([
      findingFrom(
        texts,
        ({ original, twin, facts }: TextPair) =>
          isRest(original, twin, textsGiven(facts)) || isRest(twin, original, textsGiven(facts)),
        {
          weight: 0.96,
          evidence: "one side changes the first occurrence only",
        },
      ),
      findingFrom(all, (pair) => isOne(pair.original, pair.twin) || isOne(pair.twin, pair.original), {
        weight: 0.93,
        evidence: "one side gives the first of several",
      }),
      findingFrom(lists, onlyFirst, { weight: varied ? 0.965 : 0.8, evidence: "one side holds the first item only" }),
    ]);
  },
  fires: [
    [
      { original: "a_b_c", twin: "a_b c", args: ["a b c"] },
      { original: "x_y_z", twin: "x_y z", args: ["x y z"] },
    ],
    [{ original: "abc", twin: "a b c".replace(" ", ""), args: ["a b c"] }],
  ],
  staysQuiet: [[{ original: "a_b", twin: "a b" }], [{ original: "abc", twin: "abd" }]],
};

/**
 * Whether `less` becomes `more` by replacing what follows the first difference, and the first occurrence was replaced
 * already: shown by an input text, or by the replacement earlier in the text.
 */
function isRest(more: string, less: string, given: readonly string[]): boolean {
  let at = 0;
  while (at < more.length && more[at] === less[at]) at++;
  for (let taken = 1; taken <= 4; taken++) {
    const from = less.slice(at, at + taken);
    if (from.length < taken) return false;
    for (let length = 0; length <= 6; length++) {
      const to = more.slice(at, at + length);
      if (to === from || less.slice(0, at) + less.slice(at).replaceAll(from, to) !== more) continue;
      if (given.some((text) => text.replaceAll(from, to) === more && text.replace(from, to) === less)) return true;
      if (to !== "" && more.slice(0, at).includes(to)) return true;
    }
  }
  return false;
}

const textsGiven = (facts: CaseFacts): string[] =>
  inputOf(facts.item)
    .flatMap((item) => leavesOf(item))
    .flatMap((leaf) => toText(leaf) ?? []);
