import { javascript } from "@/core/source/languages/javascript";
import type { SourceLanguage } from "@/core/source/section";

/** TypeScript's trees name their statements as JavaScript's do, with types beside them. */
export const typescript: SourceLanguage = {
  ...javascript,
  name: "typescript",
  title: "TypeScript",
  endings: ["ts", "mts", "cts"],
  makers: ["constructor"],
  hasOneNumber: true,
  grammar: "tree-sitter-typescript.wasm",
  colours: {
    texts: ["string", "template_string", "regex"],
    inserted: ["template_substitution"],
    numbers: ["number"],
    types: ["type_identifier", "predefined_type"],
    words: ["null", "undefined", "true", "false", "this", "super"],
  },
};

export const tsx: SourceLanguage = {
  ...typescript,
  name: "tsx",
  title: "TypeScript",
  endings: ["tsx"],
  grammar: "tree-sitter-tsx.wasm",
};
