/** The programs that code of a language is built and run with, and whether this machine has them. */
import path from "node:path";
import { findProgram } from "@/engine/find-program";
import { environmentFor } from "@/engine/process/environment";
import { runToEnd } from "@/engine/process/run";
import { resolveProgram } from "@/engine/toolchains/toolchains";

/** A program that a language needs, with its version if it is installed. */
export type LanguageTool = {
  readonly language: string;
  readonly program: string;
  /** Null where it is missing. */
  readonly path: string | null;
  /** The first line of its version output. */
  readonly version: string | null;
  readonly get: string;
};

type Tool = { readonly programs: readonly string[]; readonly version: readonly string[]; readonly get: string };

const debian = (name: string) => `Debian: apt-get install ${name}`;

/** Any one of `programs` will do. One line a tool. */
const TOOLS: Readonly<Record<string, readonly Tool[]>> = {
  python: [{ programs: ["python3"], version: ["--version"], get: debian("python3") }],
  javascript: [{ programs: ["node"], version: ["--version"], get: debian("nodejs") }],
  typescript: [{ programs: ["node"], version: ["--version"], get: debian("nodejs") }],
  java: [{ programs: ["javac"], version: ["-version"], get: debian("default-jdk") }],
  c: [{ programs: ["cc", "gcc", "clang"], version: ["--version"], get: debian("gcc") }],
  cpp: [{ programs: ["c++", "g++", "clang++"], version: ["--version"], get: debian("g++") }],
  csharp: [{ programs: ["dotnet"], version: ["--version"], get: "from the maker of .NET" }],
  go: [{ programs: ["go"], version: ["version"], get: debian("golang") }],
  rust: [
    { programs: ["cargo"], version: ["--version"], get: debian("cargo") },
    { programs: ["rustc"], version: ["--version"], get: debian("rustc") },
  ],
  ruby: [{ programs: ["ruby"], version: ["--version"], get: debian("ruby") }],
  php: [{ programs: ["php"], version: ["--version"], get: debian("php-cli") }],
  perl: [{ programs: ["perl"], version: ["-e", 'print "perl $^V"'], get: debian("perl") }],
  bash: [{ programs: ["bash"], version: ["--version"], get: debian("bash") }],
};

/** Tools that a file of the tree asks for. */
const BY_FILE: readonly (readonly [RegExp, Tool])[] = [
  [/(^|\/)(GNUm|[Mm])akefile$/, { programs: ["make"], version: ["--version"], get: debian("make") }],
  [/(^|\/)CMakeLists\.txt$/, { programs: ["cmake"], version: ["--version"], get: debian("cmake") }],
  [/(^|\/)pom\.xml$/, { programs: ["mvn"], version: ["--version"], get: debian("maven") }],
  [/(^|\/)build\.gradle(\.kts)?$/, { programs: ["gradle"], version: ["--version"], get: debian("gradle") }],
];

/** Toolchains that a tree needs, by its languages and files. */
export async function findTools(languages: readonly string[], files: readonly string[]): Promise<LanguageTool[]> {
  const wanted = languages.flatMap((language) => {
    const known = language === "tsx" ? "typescript" : language;
    return (TOOLS[known] ?? []).map((tool) => ({ language: known, tool }));
  });
  const built = BY_FILE.filter(([pattern]) => files.some((file) => pattern.test(file)));
  const all = [...wanted, ...built.map(([, tool]) => ({ language: "", tool }))];
  const unique = new Map(all.map((one) => [one.tool.programs[0], one]));
  return Promise.all([...unique.values()].map(({ language, tool }) => ask(language, tool)));
}

async function ask(language: string, { programs, version, get }: Tool): Promise<LanguageTool> {
  const program = programs.find((name) => findProgram(name) !== null) ?? programs[0] ?? "";
  if (findProgram(program) === null) return { language, program, path: null, version: null, get };
  const [real = program] = await resolveProgram([program]);
  const found = findProgram(real) ?? real;
  const record = await runToEnd([found, ...version], {
    cwd: path.parse(found).root || "/",
    env: environmentFor(),
    limits: { timeMs: 5000, outputKb: 64 },
  });
  const firstLine = `${record.stdout.toString("utf8")}\n${record.stderr.toString("utf8")}`.trim().split("\n")[0] ?? "";
  return { language, program, path: found, version: record.end.kind === "exited" ? firstLine.slice(0, 80) : null, get };
}
