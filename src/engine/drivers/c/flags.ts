/** The flags with which a side's C or C++ is compiled: those of the port, else those that the tree's build system names. */
import { existsSync } from "node:fs";
import { mkdir, readFile } from "node:fs/promises";
import path from "node:path";
import { z } from "zod";
import type { BuildSide } from "@/engine/drivers/driver";
import { findProgram } from "@/engine/find-program";

/** Flags for all files, for single files, and for the linker. */
export type NativeFlags = {
  readonly common: readonly string[];
  readonly byFile: ReadonlyMap<string, readonly string[]>;
  readonly link: readonly string[];
};

const MAX_FOLDERS = 200;

/** Build files that define compiler flags. */
export const BUILD_FILES = [
  "compile_commands.json",
  "build/compile_commands.json",
  "Makefile",
  "makefile",
  "CMakeLists.txt",
];

const commandsSchema = z.array(
  z.object({
    directory: z.string(),
    file: z.string(),
    command: z.string().optional(),
    arguments: z.array(z.string()).optional(),
  }),
);

/** Include folders outside the side. */
export const outsideFolders = ({ folder, call }: BuildSide): string[] =>
  (call.include ?? [])
    .map((entry) => path.resolve(folder, entry))
    .filter((place) => path.relative(folder, place).startsWith(".."));

/** Cost: reads the build system's files; a CMake project is configured in `home`. */
export async function findFlags(side: BuildSide, home: string): Promise<NativeFlags> {
  const { call, folder } = side;
  const include = (call.include ?? []).flatMap((entry) => ["-I", path.resolve(folder, entry)]);
  const byFile = await compileCommands(side, home);
  const make = byFile.size > 0 ? { compile: [], link: [] } : await makefileFlags(folder);
  return {
    common: [...(call.flags ?? make.compile), ...include, ...foldersOfHeaders(side)],
    byFile,
    link: [...(call.link ?? make.link), "-lm", "-lpthread"],
  };
}

/**
 * Folders with headers, for `#include "…"` alone: a header of the side that is named like one of the system must not hide
 * it. `include` folders serve both kinds.
 */
function foldersOfHeaders({ files, folder }: BuildSide): string[] {
  const folders = new Set(
    files.filter((file) => /\.(h|hh|hpp|hxx|inc|inl)$/.test(file)).map((file) => path.posix.dirname(file)),
  );
  const shown = [...folders].sort((left, right) => left.length - right.length).slice(0, MAX_FOLDERS);
  const roots = [...new Set(shown.flatMap((entry) => /^(.*?\binclude)(?:\/|$)/.exec(entry)?.[1] ?? []))];
  return [
    ...[".", ...shown].flatMap((entry) => ["-iquote", path.join(folder, entry)]),
    ...roots.flatMap((entry) => ["-I", path.join(folder, entry)]),
  ];
}

async function compileCommands(side: BuildSide, home: string): Promise<ReadonlyMap<string, readonly string[]>> {
  const known = ["compile_commands.json", "build/compile_commands.json"].map((file) => path.join(side.folder, file));
  let file = known.find((candidate) => existsSync(candidate));
  if (!file && side.files.includes("CMakeLists.txt") && findProgram("cmake")) {
    const out = path.join(home, "cmake");
    await mkdir(out, { recursive: true });
    await side.run(["cmake", "-S", ".", "-B", out, "-DCMAKE_EXPORT_COMPILE_COMMANDS=ON"], home);
    file = path.join(out, "compile_commands.json");
  }
  const found = new Map<string, readonly string[]>();
  if (!file || !existsSync(file)) return found;
  const parsed = commandsSchema.safeParse(JSON.parse(await readFile(file, "utf8")));
  for (const entry of parsed.success ? parsed.data : []) {
    const words = entry.arguments ?? splitWords(entry.command ?? "");
    const own = path.relative(side.folder, path.resolve(entry.directory, entry.file));
    found.set(own.split(path.sep).join("/"), keptFlags(words.slice(1), entry.directory));
  }
  return found;
}

/** The flags that decide what the code means; those of one output, of warnings and of dependencies are left out. */
function keptFlags(words: readonly string[], directory: string): string[] {
  const kept: string[] = [];
  for (let at = 0; at < words.length; at++) {
    const word = words[at] ?? "";
    const joined = /^(-I|-isystem|-iquote|-include|-D|-U)(.*)$/.exec(word);
    if (joined) {
      const [, flag = "", rest] = joined;
      const value = rest || (words[++at] ?? "");
      const isPath = !/^-[DU]/.test(flag);
      kept.push(flag, isPath ? path.resolve(directory, value) : value);
    } else if (/^(-std=|-f|-m|-O|-pthread|-ansi)/.test(word) && !/^-f(sanitize|profile|test-coverage|lto)/.test(word)) {
      kept.push(word);
    }
  }
  return kept;
}

/** Words of a command as a shell reads them, without its expansions. */
export function splitWords(text: string): string[] {
  const words = text.match(/(?:[^\s"'\\]|\\.|"(?:[^"\\]|\\.)*"|'[^']*')+/g) ?? [];
  return words.map((word) =>
    word.replace(/"((?:[^"\\]|\\.)*)"|'([^']*)'|\\(.)/g, (_, double?: string, single?: string, escaped?: string) =>
      double !== undefined ? double.replace(/\\(["\\$`])/g, "$1") : (single ?? escaped ?? ""),
    ),
  );
}

/** The flags of a Makefile's usual variables, without what it computes. */
async function makefileFlags(folder: string): Promise<{ compile: string[]; link: string[] }> {
  const text =
    (await readFile(path.join(folder, "Makefile"), "utf8").catch(() => null)) ??
    (await readFile(path.join(folder, "makefile"), "utf8").catch(() => ""));
  const words = (names: RegExp) =>
    [...text.replace(/\\\n/g, " ").matchAll(/^\s*(?:export\s+)?(\w+)\s*[:?+]?=\s*(.*)$/gm)]
      .filter(([, name = ""]) => names.test(name))
      .flatMap(([, , value = ""]) => splitWords(value.replace(/#.*/, "")))
      .filter((word) => !word.includes("$"));
  return {
    compile: keptFlags(words(/^(CFLAGS|CPPFLAGS|CXXFLAGS|DEFS|DEFINES|INCLUDES|INC)$/), folder),
    link: words(/^(LDLIBS|LIBS|LDFLAGS)$/).filter((word) => /^-[lL]/.test(word)),
  };
}
