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
