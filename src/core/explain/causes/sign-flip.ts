import { type Cause, findingFrom } from "@/core/explain/cause";
import type { SectionCode, SideCode } from "@/core/explain/code";

export const signFlip: Cause = {
  name: "sign-flip",
  title: "The sign is turned",
  note: "Two operands changed places, or a direction is counted the other way. Fix: look for a subtraction or comparison with its sides swapped.",
  examine: ({ numbers }, code) => {
    // Ones of either sign come of rounding and comparing too.
    const isSmall = numbers.every(({ original }) => Math.abs(original.value) <= 1);
    return findingFrom(numbers, (pair) => pair.twin.value === -pair.original.value && pair.original.value !== 0, {
      weight: (isSmall ? 0.75 : numbers.length > 1 ? 0.96 : 0.85) * (code && subtractAlike(code) ? 0.75 : 1),
      evidence: "the twin is minus the original",
    });
  },
  fires: [
    [
      { original: 3, twin: -3 },
      { original: -7.5, twin: 7.5 },
    ],
    [{ original: 120, twin: -120 }],
  ],
  staysQuiet: [[{ original: 3, twin: -2 }], [{ original: 1, twin: 2 }]],
};

/** Whether both sections subtract, and the same from the same. */
function subtractAlike({ original, twin }: SectionCode): boolean {
  const [one, other] = [subtractionsOf(original), subtractionsOf(twin)];
  return one !== "" && one === other;
}

const subtractionsOf = ({ lines }: SideCode): string =>
  lines
    .flatMap(({ text }) => [...text.matchAll(/([\w.]+)\s*-\s*([\w.]+)/g)])
    .map(([, from = "", what = ""]) => `${plain(from)}-${plain(what)}`)
    .join(";");

/** A name, whichever way its words are set off. */
const plain = (name: string): string => name.replaceAll("_", "").toLowerCase();
