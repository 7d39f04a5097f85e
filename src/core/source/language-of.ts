/** The language of a file by its extension, and the titles of languages. */
import { LANGUAGES } from "@/core/source/languages/index";
import type { SourceLanguage } from "@/core/source/section";

/** Languages that are counted, though their sections are not read. */
const UNREAD: readonly Pick<SourceLanguage, "name" | "title" | "endings">[] = [
  { name: "bash", title: "Shell", endings: ["sh", "bash"] },
  { name: "css", title: "CSS", endings: ["css"] },
  { name: "perl", title: "Perl", endings: ["pl", "pm"] },
];

const KNOWN = [...LANGUAGES, ...UNREAD];

const ENDINGS: ReadonlyMap<string, string> = new Map(
  KNOWN.flatMap(({ name, endings }) => endings.map((ending) => [ending, name] as const)),
);

/** Null for a file that is not source code that we know. */
export function languageOf(file: string): string | null {
  const ending = /\.([^./]+)$/.exec(file)?.[1]?.toLowerCase();
  return ending === undefined ? null : (ENDINGS.get(ending) ?? null);
}

const COMMENTS = /\/\*[\s\S]*?\*\/|\/\/.*/g;
/** Never in C headers: classes, namespaces, templates, library headers without an extension. */
const CPP =
  /^[ \t]*(?:class\s+\w+[^;(]*[{:]|(?:inline\s+)?namespace\b|template\s*<|using\s+(?:namespace\b|\w+\s*=)|(?:public|private|protected)\s*:|#\s*include\s*<(?:c(?:assert|math|stdint|stdio|stdlib|string)|algorithm|array|deque|functional|iostream|list|map|memory|set|sstream|stdexcept|string|string_view|type_traits|utility|vector)>)|\b\w+::\w/m;

/**
 * Detects the language of a file by its extension and, where that is ambiguous, its text: C++ headers often end like
 * C's.
 */
export function languageIn(file: string, text: string): string | null {
  const language = languageOf(file);
  if (language !== "c" || !/\.h$/i.test(file)) return language;
  return CPP.test(text.replace(COMMENTS, "")) ? "cpp" : "c";
}

const TITLES: ReadonlyMap<string, string> = new Map(KNOWN.map(({ name, title }) => [name, title]));

/** A language as people write it. */
export const languageTitle = (language: string): string => TITLES.get(language) ?? language;
