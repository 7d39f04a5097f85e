/**
 * How a program is likely built and started, from what its tree holds: manifests and build files first, then files with a
 * name or a text that starts programs. A guess that is shown and can be corrected, never run unasked.
 */
import { parse } from "jsonc-parser";
import { isTestFile } from "@/core/survey/test-files";

/** A command as program and arguments. */
export type Command = readonly string[];
/** A command that starts the original's program. */
export type EntryPoint = {
  readonly prepare: readonly Command[];
  readonly run: Command | null;
  /** The evidence, in words. */
  readonly from: string;
};

/** The files of a tree, with the texts in which entry points are looked for. */
export type TreeTexts = {
  readonly files: readonly string[];
  /** Texts of manifests and of files that may start a program, by path. */
  readonly texts: ReadonlyMap<string, string>;
};

const NOTHING: EntryPoint = { prepare: [], run: null, from: "" };

/** Files whose text is worth reading for this, given all of a tree. */
export function isTelling(file: string): boolean {
  const depth = file.split("/").length;
  // Sources of Java lie deep by custom, and programs of Go below cmd/.
  return (
    (depth <= 2 || file.endsWith(".java") || /^cmd\/[^/]+\/[^/]+\.go$/.test(file)) &&
    /(^|\/)(package\.json|pyproject\.toml|setup\.cfg|Cargo\.toml|go\.mod|[Mm]akefile|GNUmakefile|composer\.json|pom\.xml|build\.gradle|CMakeLists\.txt|[^/]+\.csproj|[^/]+\.(py|rb|php|java|go|rs|c|cc|cpp|cs|[cm]?js|ts|sh|pl))$/.test(
      file,
    )
  );
}

/** By language of the original. An entry without a command states that none was found. Tests start no program. */
export function guessEntryPoint(language: string, { files, texts }: TreeTexts): EntryPoint {
  const tree = {
    files: files.filter((file) => !isTestFile(file)),
    texts: new Map([...texts].filter(([file]) => !isTestFile(file))),
  };
  const guess = GUESSES[language]?.(tree) ?? null;
  return guess ?? NOTHING;
}

type Guess = (tree: TreeTexts) => EntryPoint | null;

const javascript: Guess = (tree) =>
  fromPackage(tree) ?? named(withoutLibraries(tree), /\.[cm]?js$/, (file) => ["node", file]);

/** One line a language. */
const GUESSES: Readonly<Record<string, Guess>> = {
  python: (tree) =>
    fromMainPackage(tree) ??
    findByMarker(tree, /\.py$/, /^if\s+__name__\s*==\s*["']__main__["']/m, (file) => ["python3", file]) ??
    named(tree, /\.py$/, (file) => ["python3", file]),
  javascript,
  typescript: javascript,
  tsx: javascript,
  c: (tree) => fromMake(tree) ?? compiled(tree, /\.c$/, "cc"),
  cpp: (tree) => fromMake(tree) ?? compiled(tree, /\.(cc|cpp|cxx)$/, "c++"),
  java: (tree) => fromJava(tree),
  go: (tree) => fromGo(tree),
  rust: (tree) => fromCargo(tree),
  ruby: (tree) => named(tree, /\.rb$/, (file) => ["ruby", file]) ?? only(tree, /\.rb$/, (file) => ["ruby", file]),
  php: (tree) => named(tree, /\.php$/, (file) => ["php", file]) ?? only(tree, /\.php$/, (file) => ["php", file]),
  csharp: (tree) => {
    const project = tree.files.find((file) => file.endsWith(".csproj"));
    return project
      ? { prepare: [["dotnet", "build"]], run: ["dotnet", "run", "--no-build", "--project", project], from: project }
      : null;
  },
  perl: (tree) => named(tree, /\.pl$/, (file) => ["perl", file]) ?? only(tree, /\.pl$/, (file) => ["perl", file]),
  bash: (tree) => named(tree, /\.sh$/, (file) => ["bash", file]) ?? only(tree, /\.sh$/, (file) => ["bash", file]),
};

function fromMainPackage({ files }: TreeTexts): EntryPoint | null {
  const main = files.find((file) => /^([^/]+\/)+__main__\.py$/.test(file));
  if (!main) return null;
  return { prepare: [], run: ["python3", "-m", main.split("/").slice(0, -1).join(".")], from: main };
}

const EXPORTS = /\b(module\.)?exports\b\s*[.=[]|^export\b/m;

/** Drops files with exports: those are libraries. */
const withoutLibraries = ({ files, texts }: TreeTexts): TreeTexts => ({
  files: files.filter((file) => !EXPORTS.test(texts.get(file) ?? "")),
  texts,
});

function fromPackage({ texts }: TreeTexts): EntryPoint | null {
  const text = texts.get("package.json");
  if (text === undefined) return null;
  const { main, bin, scripts } = (parse(text) ?? {}) as Record<string, unknown>;
  const script = (name: string): string | null => {
    const found = scripts && typeof scripts === "object" ? (scripts as Record<string, unknown>)[name] : null;
    return typeof found === "string" ? found : null;
  };
  const binary = typeof bin === "string" ? bin : bin && typeof bin === "object" ? Object.values(bin)[0] : null;
  const prepare = script("build") === null ? [] : [["npm", "run", "build"]];
  const started = /^node ([^\s;&|]+)$/.exec(script("start") ?? "")?.[1];
  const plain = (file: string) => file.replace(/^\.\//, "");
  const isProgram = typeof main === "string" && !EXPORTS.test(texts.get(plain(main)) ?? "");
  const file = started ?? (typeof binary === "string" ? binary : null) ?? (isProgram ? main : null);
  if (file === null) return null;
  return { prepare, run: ["node", plain(file)], from: "package.json" };
}

function fromMake({ files, texts }: TreeTexts): EntryPoint | null {
  const make = files.find((file) => /^(GNUm|[Mm])akefile$/.test(file));
  if (!make) return null;
  const text = texts.get(make) ?? "";
  const variables = new Map([...text.matchAll(/^(\w+)\s*[:?]?=\s*(\S+)\s*$/gm)].map((found) => [found[1], found[2]]));
  const filled = (word: string) =>
    word.replace(/\$[({](\w+)[)}]/g, (_all, name: string) => variables.get(name) ?? "").replace(/^\.\//, "");
  const first = /^(?:all|default|build)\s*:\s*(\S+)/m.exec(text)?.[1] ?? /^([\w$(){}./-]+)\s*:(?!=)/m.exec(text)?.[1];
  const program = first ? filled(first) : "";
  const isTarget = program !== "" && !/^(all|clean|test|install|\.PHONY)$/.test(program) && !program.includes("$");
  return { prepare: [["make"]], run: isTarget ? [`./${program}`] : null, from: make };
}

function compiled(tree: TreeTexts, ending: RegExp, compiler: string): EntryPoint | null {
  const sources = tree.files.filter((file) => ending.test(file));
  const main = sources.find((file) => /\bmain\s*\(/.test(tree.texts.get(file) ?? ""));
  if (!main || sources.length > 60) return null;
  return { prepare: [[compiler, "-o", "program", ...sources]], run: ["./program"], from: main };
}

function fromJava({ files, texts }: TreeTexts): EntryPoint | null {
  const main = [...texts].find(([file, text]) => file.endsWith(".java") && /\bstatic\s+void\s+main\s*\(/.test(text));
  const sources = files.filter((file) => file.endsWith(".java"));
  if (!main || sources.length > 200) return null;
  const [file, text] = main;
  const inside = /^\s*package\s+([\w.]+)\s*;/m.exec(text)?.[1];
  const name = (file.split("/").at(-1) ?? "").replace(/\.java$/, "");
  return {
    prepare: [["javac", "-d", "build", ...sources]],
    run: ["java", "-cp", "build", inside ? `${inside}.${name}` : name],
    from: file,
  };
}

/** A program of Go is a package main with a function main; a module without one is a library. */
function fromGo({ files, texts }: TreeTexts): EntryPoint | null {
  const [main] = [...texts]
    .filter(([file, text]) => file.endsWith(".go") && /^package main\b/m.test(text) && /^func main\(\)/m.test(text))
    .map(([file]) => file)
    .sort((one, other) => rank(one) - rank(other));
  if (!files.includes("go.mod")) return main ? { prepare: [], run: ["go", "run", main], from: main } : null;
  if (!main) return { prepare: [["go", "build", "./..."]], run: null, from: "go.mod, and no package main" };
  const folder = main.split("/").slice(0, -1).join("/");
  return {
    prepare: [["go", "build", "-o", "build/program", folder === "" ? "." : `./${folder}`]],
    run: ["build/program"],
    from: folder === "" ? "go.mod" : main,
  };
}

/** A crate is a library where it has neither a main file nor programs of other names. */
function fromCargo({ files, texts }: TreeTexts): EntryPoint | null {
  const text = texts.get("Cargo.toml");
  const name = text && /^\[package\][^[]*?^name\s*=\s*"([^"]+)"/ms.exec(text)?.[1];
  if (!name) return null;
  const listed = /^\[\[bin\]\][^[]*?^name\s*=\s*"([^"]+)"/ms.exec(text)?.[1];
  const inFolder = files.flatMap((file) => /^src\/bin\/([^/]+?)(?:\.rs|\/main\.rs)$/.exec(file)?.[1] ?? [])[0];
  const program = listed ?? (files.includes("src/main.rs") ? name : inFolder);
  return {
    prepare: [["cargo", "build", "--offline"]],
    run: program === undefined ? null : [`target/debug/${program}`],
    from: program === undefined ? "Cargo.toml, and no main file" : "Cargo.toml",
  };
}

const STARTING = /(^|\/)(main|app|cli|run|index|program|start|__main__)\.[^./]+$/i;

/** A file with a name that programs are started by, the one nearest to the top. */
function named({ files }: TreeTexts, ending: RegExp, run: (file: string) => Command): EntryPoint | null {
  const found = files
    .filter((file) => ending.test(file) && STARTING.test(file))
    .sort((one, other) => one.split("/").length - other.split("/").length)[0];
  return found ? { prepare: [], run: run(found), from: found } : null;
}

/** A file that contains a marker of a program start. */
function findByMarker(
  { texts }: TreeTexts,
  ending: RegExp,
  pattern: RegExp,
  run: (file: string) => Command,
): EntryPoint | null {
  const found = [...texts]
    .filter(([file, text]) => ending.test(file) && pattern.test(text))
    .sort(([one], [other]) => rank(one) - rank(other))[0];
  return found ? { prepare: [], run: run(found[0]), from: found[0] } : null;
}

const rank = (file: string): number => file.split("/").length * 2 - (STARTING.test(file) ? 1 : 0);

function only({ files }: TreeTexts, ending: RegExp, run: (file: string) => Command): EntryPoint | null {
  const found = files.filter((file) => ending.test(file));
  return found.length === 1 && found[0] ? { prepare: [], run: run(found[0]), from: found[0] } : null;
}
