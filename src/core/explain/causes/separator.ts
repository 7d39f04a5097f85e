import { type Cause, findingFrom } from "@/core/explain/cause";
import type { TextPair } from "@/core/explain/facets";

export const separator: Cause = {
  name: "separator",
  title: "Another separator",
  note: "Parts are joined or split by another character: a comma against a semicolon, a slash against a backslash. Fix: take the original's separator.",
  inCode: {
    original: { any: /join|split|implode|explode|sep\b/i },
    twin: { any: /join|split|implode|explode|sep\b/i },
  },
  examine: ({ texts }) => {
    const gaps = new Set(texts.map((pair) => gapOf(pair)));
    const [first] = gaps;
    return findingFrom(texts, (pair) => gapOf(pair) !== null, {
      weight: gaps.size === 1 ? 0.93 : 0.8,
      evidence: gaps.size === 1 ? `always ${first}` : "the same parts, joined otherwise",
    });
  },
  fires: [
    [
      { original: "a,b,c", twin: "a;b;c" },
      { original: "x,y", twin: "x;y" },
    ],
    [{ original: "a/b", twin: "a\\b" }],
    [{ original: "a-b", twin: "a_b" }],
  ],
  staysQuiet: [[{ original: "a,b", twin: "a,c" }], [{ original: "ab", twin: "ac" }]],
};

/** `"," against ";"`, if the parts are equal and the separator differs throughout. */
function gapOf({ original, twin }: TextPair): string | null {
  const gap = /(?<=[\p{L}\p{N}])[^\p{L}\p{N}]+(?=[\p{L}\p{N}])/gu;
  if (original.replace(gap, "\0") !== twin.replace(gap, "\0")) return null;
  const [ones, others] = [original.match(gap) ?? [], twin.match(gap) ?? []];
  const differing = ones.flatMap((one, index) => {
    const other = others[index] ?? "";
    return one === other ? [] : [{ one, other, words: `${JSON.stringify(one)} against ${JSON.stringify(other)}` }];
  });
  const [first] = differing;
  if (!first || differing.some(({ words }) => words !== first.words)) return null;
  // Blanks alone are a matter of their own.
  return first.one.trim() === "" && first.other.trim() === "" ? null : first.words;
}
