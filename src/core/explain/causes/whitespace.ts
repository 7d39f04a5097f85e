import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { SectionCode, SideCode } from "@/core/explain/code";
import { type CaseFacts, inputOf, leavesOf } from "@/core/explain/facets";

export const whitespace: Cause = {
  name: "whitespace",
  title: "Spaces differ",
  note: "Trimming, splitting, padding and joining treat blanks otherwise, and what counts as a blank differs too. Fix: trim and split by the same rule; name the characters.",
  inCode: {
    strength: "slight",
    original: { any: /strip|trim|just\(|center|pad|\\s/i },
    twin: { any: /strip|trim|pad|\\s/i },
  },
  examine: ({ all, texts, cases, controls }, code) => {
    const bare = (text: string) => text.replace(/[\s\u00a0\u200b\ufeff]+/g, "");
    const noReturns = (text: string) => text.replaceAll("\r", "");
    const isOnlyPadded = cases.every(isPadded) && controls.length > 0 && !controls.some(isPadded);
    const equal = findingFrom(
      texts,
      ({ original, twin }) =>
        original !== twin && bare(original) === bare(twin) && noReturns(original) !== noReturns(twin),
      { weight: 0.975, evidence: "equal but for blanks" },
    );
    return bestOf([
      equal,
      isOnlyPadded && code && trimsOneSide(code)
        ? findingFrom(all, () => true, {
            weight: 0.9,
            evidence: "only where a text given begins or ends with blanks, and one side trims more",
          })
        : null,
    ]);
  },
  fires: [[{ original: "a b", twin: "a  b" }], [{ original: " x", twin: "x" }]],
  staysQuiet: [[{ original: "a b", twin: "a c" }], [{ original: "a\r\nb", twin: "a\nb" }]],
};

const isPadded = ({ item }: CaseFacts): boolean =>
  inputOf(item).some((input) => leavesOf(input).some((leaf) => typeof leaf === "string" && leaf !== leaf.trim()));

function trimsOneSide({ original, twin }: SectionCode): boolean {
  const count = ({ lines }: SideCode) => lines.flatMap(({ text }) => text.match(/strip|trim/gi) ?? []).length;
  return count(original) !== count(twin);
}
