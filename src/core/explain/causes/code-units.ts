import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { type CaseFacts, inputOf, leavesOf, type NumberPair, type TextPair, toText } from "@/core/explain/facets";

export const codeUnits: Cause = {
  name: "code-units",
  title: "Text length counted in different units",
  note: "Length and position count characters, UTF-16 code units or bytes: they part at emoji and at letters beyond ASCII. Fix: iterate by code point ([...text]) or count bytes, as the original does.",
  inCode: {
    strength: "slight",
    original: { any: /\blen\(|ljust|rjust|center|\.length|size\(|\[[^\]]*:[^\]]*\]|slice|textwrap/ },
    twin: { any: /\.length|pad(Start|End|Left|Right)|slice|substr\w*|charAt|\blen\(|strlen|\.size\(/ },
  },
  examine: ({ cases, numbers, texts, lists, controls }) => {
    const isCount = (pair: NumberPair) =>
      wideTexts(pair.facts).some((text) => {
        const gaps = sizes(text);
        const gap = Math.abs(pair.original.value - pair.twin.value);
        return gaps.some((one) => gaps.some((other) => one !== other && Math.abs(one - other) === gap));
      });
    // Characters beyond 16 bits part code units from code points; the others only bytes from both.
    const isWide = cases.every((facts) => wideTexts(facts).some(isAstral)) ? isAstral : () => true;
    const holdsWide = ({ facts }: { facts: CaseFacts }) => wideTexts(facts).some(isWide);
    const plain = controls.filter((facts) => wideTexts(facts).some(isWide)).length;
    const lone = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]|\ufffd/;
    const telling = isWide === isAstral && plain === 0;
    const only = {
      weight: telling ? 0.985 : plain === 0 ? 0.8 : 0.5,
      contradicted: plain,
      evidence: `only where a text given has characters ${telling ? "beyond 16 bits" : "beyond ASCII"}`,
    };
    return bestOf([
      findingFrom(numbers, isCount, {
        weight: 0.985,
        evidence: "as far apart as the counts of characters, code units and bytes of a text given",
      }),
      findingFrom(texts, ({ original, twin }) => lone.test(original) !== lone.test(twin), {
        weight: 0.96,
        evidence: "one side holds half a character",
      }),
      findingFrom(texts, isCutByUnits, {
        weight: 0.96,
        evidence: "one side ends after as many units as the other has characters",
      }),
      findingFrom(texts, holdsWide, only),
      findingFrom(lists, holdsWide, only),
    ]);
  },
  fires: [
    [{ original: 1, twin: 2, args: ["🐦"] }],
    [
      { original: 4, twin: 5, args: ["café"] },
      { original: 3, twin: 6, args: ["éèê"] },
    ],
  ],
  staysQuiet: [[{ original: 1, twin: 2, args: ["a"] }], [{ original: "a", twin: "b", args: ["x"] }]],
};

/** Both were cut at the same count, of characters on one side and of code units or bytes on the other. */
function isCutByUnits({ original, twin }: TextPair): boolean {
  const [short, long] = original.length < twin.length ? [original, twin] : [twin, original];
  const count = [...long].length;
  return (
    short.length < long.length &&
    long.startsWith(short) &&
    ((isAstral(long) && short.length === count) || (/\P{ASCII}/u.test(short) && bytesOf(short) === count))
  );
}

const isAstral = (text: string): boolean => /[\u{10000}-\u{10ffff}]/u.test(text);

const wideTexts = (facts: CaseFacts): string[] =>
  inputOf(facts.item)
    .flatMap((item) => leavesOf(item))
    .flatMap((leaf) => toText(leaf) ?? [])
    .filter((text) => /\P{ASCII}/u.test(text));

function sizes(text: string): number[] {
  const points = [...text];
  const bytes = bytesOf(text);
  const marks = points.filter((point) => /\p{M}|\u200d|[\ufe00-\ufe0f]/u.test(point)).length;
  return [...new Set([points.length, text.length, bytes, points.length - marks, text.length * 2])];
}

const bytesOf = (text: string): number =>
  [...text].reduce((sum, point) => sum + byteLength(point.codePointAt(0) ?? 0), 0);

const byteLength = (point: number): number => (point < 0x80 ? 1 : point < 0x800 ? 2 : point < 0x10000 ? 3 : 4);
