import { type Cause, findingFrom } from "@/core/explain/cause";

export const whitespace: Cause = {
  name: "whitespace",
  title: "Spaces differ",
  note: "Trimming, splitting, padding and joining treat blanks otherwise, and what counts as a blank differs too. Fix: trim and split by the same rule; name the characters.",
  inCode: {
    strength: "slight",
    original: { any: /strip|trim|just\(|center|pad|\\s/i },
    twin: { any: /strip|trim|pad|\\s/i },
  },
  examine: ({ texts }) => {
    const bare = (text: string) => text.replace(/[\s\u00a0\u200b\ufeff]+/g, "");
    const noReturns = (text: string) => text.replaceAll("\r", "");
    return findingFrom(
      texts,
      ({ original, twin }) =>
        original !== twin && bare(original) === bare(twin) && noReturns(original) !== noReturns(twin),
      { weight: 0.975, evidence: "equal but for blanks" },
    );
  },
  fires: [[{ original: "a b", twin: "a  b" }], [{ original: " x", twin: "x" }]],
  staysQuiet: [[{ original: "a b", twin: "a c" }], [{ original: "a\r\nb", twin: "a\nb" }]],
};
