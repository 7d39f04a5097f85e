import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";

export const unicodeForm: Cause = {
  name: "unicode-form",
  title: "Composed against decomposed letters",
  note: "An accented letter is one character or a letter with a mark, and they look the same. Fix: normalise to one form (NFC) where text comes in.",
  examine: ({ texts }) => {
    const strip = (text: string) => text.normalize("NFKD").replace(/\p{M}/gu, "");
    return bestOf([
      findingFrom(
        texts,
        ({ original, twin }) => original !== twin && original.normalize("NFC") === twin.normalize("NFC"),
        { weight: 0.99, evidence: "equal once both are normalised" },
      ),
      findingFrom(
        texts,
        ({ original, twin }) => original !== twin && original.normalize("NFKC") === twin.normalize("NFKC"),
        { weight: 0.97, evidence: "equal once compatible characters are normalised" },
      ),
      findingFrom(texts, ({ original, twin }) => original !== twin && strip(original) === strip(twin), {
        weight: 0.88,
        evidence: "equal without accents and marks",
      }),
    ]);
  },
  fires: [[{ original: "caf\u00e9", twin: "cafe\u0301" }], [{ original: "\ufb01n", twin: "fin" }]],
  staysQuiet: [[{ original: "café", twin: "cafi" }], [{ original: "a", twin: "b" }]],
};
