/** Ladders that are proposed for a new port, by the language of its twin. */
import type { Rung } from "@/core/formats/port-file";

/** Rungs, and the files in the twin's folder that their checks need. */
export type ProposedLadder = {
  readonly rungs: readonly Rung[];
  readonly files: readonly { readonly name: string; readonly text: string }[];
};

const NOTHING: ProposedLadder = { rungs: [], files: [] };

/** All sources below the folder, for tools that take files. */
const all = (command: string, ...endings: string[]): string[] => [
  "sh",
  "-c",
  `${command} $(find . ${endings.map((ending) => `-name '*${ending}'`).join(" -o ")})`,
];

/** Every rung asks for what those below it ask for; the last one has every case agree. */
const closed = (rungs: readonly Rung[]): Rung[] =>
  rungs.map((rung, index) => (index === rungs.length - 1 ? { ...rung, cases: "agree" as const } : rung));

const TYPESCRIPT_RUNGS = [
  { name: "runs", gain: "it compiles loosely and starts", options: { strict: false, noImplicitAny: false } },
  { name: "typed", gain: "every argument has a type", options: { strict: false, noImplicitAny: true } },
  { name: "strict", gain: "nothing is null unawares", options: { strict: true } },
] as const;

const MYPY: readonly Rung[] = [
  { name: "typed", gain: "what has a type holds it", check: { command: ["mypy", "."], reads: "mypy" } },
  { name: "strict", gain: "everything has a type", check: { command: ["mypy", "--strict", "."], reads: "mypy" } },
];

const BY_LANGUAGE: Readonly<Record<string, (has: (program: string) => boolean) => ProposedLadder>> = {
  typescript: () => ({
    rungs: TYPESCRIPT_RUNGS.map(({ name, gain }) => ({
      name,
      gain,
      check: { command: ["npx", "tsc", "-p", `tsconfig.${name}.json`, "--pretty", "false"], reads: "tsc" },
    })),
    files: TYPESCRIPT_RUNGS.map(({ name, options }) => ({
      name: `tsconfig.${name}.json`,
      text: `${JSON.stringify({ compilerOptions: { target: "es2022", module: "nodenext", allowJs: name === "runs", noEmit: true, skipLibCheck: true, ...options } }, null, 2)}\n`,
    })),
  }),
  c: () => ({
    rungs: [
      { name: "builds", gain: "every file compiles", check: { command: all("cc -fsyntax-only", ".c"), reads: "gcc" } },
      {
        name: "warned",
        gain: "the usual warnings find nothing",
        check: { command: all("cc -fsyntax-only -Werror -Wall -Wextra", ".c"), reads: "gcc" },
      },
      {
        name: "exact",
        gain: "no value is narrowed or changes its sign unawares",
        check: { command: all("cc -fsyntax-only -Werror -Wall -Wextra -Wconversion -Wshadow", ".c"), reads: "gcc" },
      },
    ],
    files: [],
  }),
  cpp: () => ({
    rungs: [
      {
        name: "builds",
        gain: "every file compiles",
        check: { command: all("c++ -fsyntax-only", ".cpp", ".cc", ".cxx"), reads: "gcc" },
      },
      {
        name: "warned",
        gain: "the usual warnings find nothing",
        check: { command: all("c++ -fsyntax-only -Werror -Wall -Wextra", ".cpp", ".cc", ".cxx"), reads: "gcc" },
      },
    ],
    files: [],
  }),
  python: (has) => ({
    rungs: [
      {
        name: "runs",
        gain: "every file is Python",
        check: { command: all("python3 -m py_compile", ".py"), reads: "python" },
      },
      ...(has("mypy") ? MYPY : []),
    ],
    files: [],
  }),
  go: () => ({
    rungs: [
      { name: "builds", gain: "every package compiles", check: { command: ["go", "build", "./..."], reads: "go" } },
      { name: "vetted", gain: "what vet knows is not there", check: { command: ["go", "vet", "./..."], reads: "go" } },
    ],
    files: [],
  }),
  rust: () => ({
    rungs: [
      {
        name: "builds",
        gain: "every crate compiles",
        check: { command: ["cargo", "check", "--offline", "--message-format=json"], reads: "rustc-json" },
      },
    ],
    files: [],
  }),
  java: () => ({
    rungs: [
      {
        name: "builds",
        gain: "every class compiles",
        check: { command: all("javac -d build/check", ".java"), reads: "javac" },
      },
      {
        name: "linted",
        gain: "what the compiler warns of is not there",
        check: { command: all("javac -Xlint:all -Werror -d build/check", ".java"), reads: "javac" },
      },
    ],
    files: [],
  }),
};

/** Empty for languages without a checker that comes with them. `has` is whether a program is installed. */
export function proposeLadder(twin: string, has: (program: string) => boolean): ProposedLadder {
  const { rungs, files } = BY_LANGUAGE[twin]?.(has) ?? NOTHING;
  return { rungs: closed(rungs), files };
}
