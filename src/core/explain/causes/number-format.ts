import { type Cause, findingFrom } from "@/core/explain/cause";
import type { TextPair } from "@/core/explain/facets";

const NUMBER = /[-+]?(?:\d[\d.,'_\u00a0\u202f ]*\d|\d)(?:[eE][-+]?\d+)?|\b(?:inf(?:inity)?|nan)\b/gi;

export const numberFormat: Cause = {
  name: "number-format",
  title: "Numbers are written another way",
  note: "Languages differ in trailing zeros, exponents, group and decimal marks, and in the words for infinity and not-a-number. Fix: format with the original's rule, explicitly.",
  inCode: {
    strength: "slight",
    original: { any: /format|str\(|f"|f'|%|:\.?\d|round\(|join|print|["']\s*\+|\+\s*["']/ },
    twin: { any: /toFixed|toString|String\(|\$\{|format|join|toPrecision|toLocaleString|f["'].*\{|\bstr\(/ },
  },
  examine: ({ texts }) =>
    findingFrom(texts, isSameNumbers, { weight: 0.96, evidence: "the same numbers, written otherwise" }),
  fires: [
    [
      { original: "1.0", twin: "1" },
      { original: "total 2.50", twin: "total 2.5" },
    ],
    [{ original: "1,234", twin: "1234" }],
    [{ original: "1e+20", twin: "100000000000000000000" }],
    [{ original: "12.5", twin: "12,5" }],
  ],
  staysQuiet: [
    [{ original: "1.0", twin: "1.5" }],
    [{ original: "a 1", twin: "b 1" }],
    [{ original: "a,b", twin: "a;b" }],
  ],
};

function isSameNumbers({ original, twin }: TextPair): boolean {
  const rest = (text: string) => text.replace(NUMBER, "#").replace(/\s+/g, " ");
  if (rest(original) !== rest(twin)) return false;
  const [ones, others] = [original.match(NUMBER) ?? [], twin.match(NUMBER) ?? []];
  if (ones.length !== others.length) return false;
  const differing = ones.flatMap((one, index) => (one === others[index] ? [] : [[one, others[index] ?? ""] as const]));
  return (
    differing.length > 0 &&
    differing.every(([one, other]) => readings(one).some((value) => readings(other).includes(value)))
  );
}

/** Returns the possible readings of a written number, by either use of point and comma. */
function readings(text: string): number[] {
  if (/^inf/i.test(text)) return [Number.POSITIVE_INFINITY];
  if (/^nan$/i.test(text)) return [-0.5e-300];
  const bare = text.replace(/['_\u00a0\u202f ]/g, "");
  const forms = [bare, bare.replaceAll(",", ""), bare.replaceAll(".", "").replace(",", ".")];
  return forms.map(Number).filter((value) => !Number.isNaN(value));
}
