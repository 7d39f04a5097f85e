/** The language support of the editor, loaded when a file of that language is edited. */
import { LanguageSupport, StreamLanguage } from "@codemirror/language";

const LOADERS: Readonly<Record<string, () => Promise<LanguageSupport>>> = {
  javascript: async () => (await import("@codemirror/lang-javascript")).javascript({ jsx: true }),
  typescript: async () => (await import("@codemirror/lang-javascript")).javascript({ typescript: true }),
  python: async () => (await import("@codemirror/lang-python")).python(),
  java: async () => (await import("@codemirror/lang-java")).java(),
  c: async () => (await import("@codemirror/lang-cpp")).cpp(),
  cpp: async () => (await import("@codemirror/lang-cpp")).cpp(),
  rust: async () => (await import("@codemirror/lang-rust")).rust(),
  php: async () => (await import("@codemirror/lang-php")).php(),
  go: async () => (await import("@codemirror/lang-go")).go(),
  ruby: async () =>
    new LanguageSupport(StreamLanguage.define((await import("@codemirror/legacy-modes/mode/ruby")).ruby)),
};

/** Null for a language without support: its text is edited plain. */
export const editorLanguage = async (language: string | null): Promise<LanguageSupport | null> =>
  (await LOADERS[language ?? ""]?.()) ?? null;
