import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import { rounds } from "@/core/explain/code";
import type { NumberPair, TextPair } from "@/core/explain/facets";
import { isShifted, otherBounds } from "@/core/explain/loop-bounds";

const DAY_MS = 86_400_000;

export const offByOne: Cause = {
  name: "off-by-one",
  title: "Off by one",
  note: "Counting from 0 against from 1, an end that is included against one that is not, or a loop that runs once too often. Fix: look at the bounds of the loop or slice in the twin.",
  examine: ({ all, numbers, texts, times }, code) => {
    const by = (step: number) => (pair: NumberPair) =>
      pair.twin.value - pair.original.value === step && Number.isInteger(pair.original.value);
    // Both sides round or cut here: one more or less is what comes of another rule for that.
    const share = code && rounds(code.original) && rounds(code.twin) ? 0.8 : 1;
    const weight = share * (numbers.length > 1 ? 0.76 : 0.6);
    const bounds = code ? otherBounds(code) : null;
    return bestOf([
      code && isShifted(code)
        ? findingFrom(times, ({ original, twin }) => Math.abs(twin - original) === DAY_MS, {
            weight: 0.93,
            evidence: "a day apart, and the twin's loop counts from another number",
          })
        : null,
      isCutTwice(texts)
        ? findingFrom(texts, (pair) => Math.abs(lettersLost(pair)) === 1, {
            weight: 0.93,
            evidence: "texts of unlike lengths are cut one letter apart",
          })
        : null,
      bounds === null ? null : findingFrom(all, () => true, { weight: 0.92, evidence: bounds }),
      findingFrom(numbers, by(1), { weight, evidence: "the twin is one more" }),
      findingFrom(numbers, by(-1), { weight, evidence: "the twin is one less" }),
    ]);
  },
  fires: [
    [
      { original: 3, twin: 4 },
      { original: 7, twin: 8 },
    ],
    [
      { original: 10, twin: 9 },
      { original: 5, twin: 4 },
    ],
  ],
  staysQuiet: [[{ original: 3, twin: 5 }], [{ original: 1.5, twin: 2.5 }]],
};

const withoutEnd = (text: string): string => text.replace(/(\.\.\.|…)$/, "");

/** How many letters the original keeps more than the twin, where one is the beginning of the other; else 0. */
function lettersLost({ original, twin }: TextPair): number {
  const [one, other] = [withoutEnd(original), withoutEnd(twin)];
  return one.startsWith(other) || other.startsWith(one) ? one.length - other.length : 0;
}

/** Several texts, each cut by the same one letter, at a length that both sides share. */
const isCutTwice = (texts: readonly TextPair[]): boolean =>
  texts.length > 1 &&
  texts.every((pair) => pair.original !== withoutEnd(pair.original)) &&
  new Set(texts.map(lettersLost)).size === 1;
