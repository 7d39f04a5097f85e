import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { AnyPair } from "@/core/explain/facets";

export const lineEnding: Cause = {
  name: "line-ending",
  title: "Line endings differ",
  note: "Text is written with \\r\\n or \\n, or ends with a line ending on one side only. Fix: open files without translation, and write the ending that the original writes.",
  examine: ({ texts, all }) => {
    const plain = (text: string) => text.replace(/\r\n?/g, "\n").replace(/\n+$/, "");
    const isLast = ({ kind, original, twin }: AnyPair) =>
      (kind === "extra" && twin === "") || (kind === "missing" && original === "");
    return bestOf([
      findingFrom(texts, ({ original, twin }) => original !== twin && plain(original) === plain(twin), {
        weight: 0.985,
        evidence: "equal but for line endings",
      }),
      findingFrom(all, (pair) => isLast(pair) && /^(printed|stdout|stderr|files)/.test(pair.at), {
        weight: 0.9,
        evidence: "a last line ending on one side only",
      }),
    ]);
  },
  fires: [[{ original: "a\r\nb", twin: "a\nb" }], [{ original: "a\n", twin: "a" }]],
  staysQuiet: [[{ original: "a\nb", twin: "a\nc" }], [{ original: "a b", twin: "ab" }]],
};
