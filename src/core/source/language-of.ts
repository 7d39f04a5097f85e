/** The language of a file by its ending. */

const ENDINGS: Readonly<Record<string, string>> = {
  py: "python",
  pyi: "python",
  js: "javascript",
  mjs: "javascript",
  cjs: "javascript",
  jsx: "javascript",
  ts: "typescript",
  mts: "typescript",
  cts: "typescript",
  tsx: "tsx",
  java: "java",
  c: "c",
  h: "c",
  cc: "cpp",
  cpp: "cpp",
  cxx: "cpp",
  hpp: "cpp",
  hh: "cpp",
  hxx: "cpp",
  inl: "cpp",
  ipp: "cpp",
  tpp: "cpp",
  cs: "csharp",
  go: "go",
  rs: "rust",
  rb: "ruby",
  php: "php",
  sh: "bash",
  bash: "bash",
  css: "css",
  pl: "perl",
  pm: "perl",
};

/** Null for a file that is not source code that we know. */
export function languageOf(file: string): string | null {
  const ending = /\.([^./]+)$/.exec(file)?.[1]?.toLowerCase();
  return ending === undefined ? null : (ENDINGS[ending] ?? null);
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

const TITLES: Readonly<Record<string, string>> = {
  python: "Python",
  javascript: "JavaScript",
  typescript: "TypeScript",
  tsx: "TypeScript",
  java: "Java",
  c: "C",
  cpp: "C++",
  csharp: "C#",
  go: "Go",
  rust: "Rust",
  ruby: "Ruby",
  php: "PHP",
  bash: "Shell",
  css: "CSS",
  perl: "Perl",
};

/** A language as people write it. */
export const languageTitle = (language: string): string => TITLES[language] ?? language;
