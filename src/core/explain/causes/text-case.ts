import { type Cause, findingFrom } from "@/core/explain/cause";

export const textCase: Cause = {
  name: "text-case",
  title: "Large against small letters",
  note: "A fold, a title case or a comparison that ignores case works otherwise, or the words of a language begin large (True, None). Fix: change case as the original does, by the same rule for all letters.",
  inCode: {
    original: { any: /lower|upper|casefold|title\(|capitali[sz]e|swapcase/i },
    twin: { any: /lower|upper|casefold|capitali[sz]e/i },
  },
  examine: ({ texts }) =>
    findingFrom(texts, ({ original, twin }) => original !== twin && fold(original) === fold(twin), {
      weight: 0.98,
      evidence: "equal but for large and small letters",
    }),
  fires: [[{ original: "Tern", twin: "tern" }], [{ original: ["STRASSE"], twin: ["straße"] }]],
  staysQuiet: [[{ original: "Tern", twin: "Fern" }], [{ original: "a b", twin: "ab" }]],
};

const fold = (text: string): string => text.toUpperCase().toLowerCase().replaceAll("ß", "ss");
