import { type Cause, findingFrom } from "@/core/explain/cause";

export const escaping: Cause = {
  name: "escaping",
  title: "Characters are escaped on one side only",
  note: "Libraries escape different characters in HTML, URLs, JSON and CSV, or a text was escaped twice. Fix: escape the same set, once, where the text is written.",
  inCode: {
    strength: "slight",
    original: { any: /escape|quote|encode|dumps|replace/i },
    twin: { any: /escape|quote|encode|stringify|replace|\$\{/i },
  },
  examine: ({ texts }) =>
    findingFrom(
      texts,
      ({ original, twin }) =>
        original !== twin &&
        FORMS.some((undo) =>
          undo(original) !== original || undo(twin) !== twin ? undo(undo(original)) === undo(undo(twin)) : false,
        ),
      { weight: 0.97, evidence: "equal once escapes are undone" },
    ),
  fires: [
    [{ original: "a &amp; b", twin: "a & b" }],
    [{ original: "a%20b", twin: "a b" }],
    [{ original: "\\u00e9", twin: "é" }],
    [{ original: 'say "hi"', twin: 'say ""hi""' }],
  ],
  staysQuiet: [[{ original: "a & b", twin: "a + c" }], [{ original: "a", twin: "b" }]],
};

const ENTITIES: Readonly<Record<string, string>> = { amp: "&", lt: "<", gt: ">", quot: '"', apos: "'", nbsp: "\u00a0" };

const FORMS: readonly ((text: string) => string)[] = [
  (text) =>
    text
      .replace(/&#x([0-9a-f]+);/gi, (_all, code: string) => String.fromCodePoint(Number.parseInt(code, 16)))
      .replace(/&#(\d+);/g, (_all, code: string) => String.fromCodePoint(Number(code)))
      .replace(/&(amp|lt|gt|quot|apos|nbsp);/g, (_all, name: string) => ENTITIES[name] ?? ""),
  (text) => {
    try {
      return decodeURIComponent(text.replaceAll("+", " "));
    } catch {
      // A lone percent sign: nothing is escaped here.
      return text;
    }
  },
  (text) =>
    text
      .replace(/\\u\{?([0-9a-f]{4,6})\}?/gi, (_all, code: string) =>
        String.fromCodePoint(Number.parseInt(code, 16) % 0x110000),
      )
      .replace(/\\x([0-9a-f]{2})/gi, (_all, code: string) => String.fromCharCode(Number.parseInt(code, 16)))
      .replaceAll("\\n", "\n")
      .replaceAll("\\t", "\t")
      .replaceAll("\\r", "\r")
      .replace(/\\(["'\\/.*+?^${}()|[\]-])/g, "$1"),
  (text) => text.replaceAll('""', '"').replaceAll("''", "'"),
  (text) => text.replace(/^(["'])(.*)\1$/s, "$2"),
];
