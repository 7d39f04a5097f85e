/** Makes an instrumented copy of a side's C or C++ (runtime/probe.h). */
import { mkdir, readFile, writeFile } from "node:fs/promises";
import path from "node:path";
import { withoutMacros } from "@/engine/drivers/c/empty-macros";
import type { BuildSide } from "@/engine/drivers/driver";
import { loadParser, probeSource } from "@/engine/source/parse";

/** The sources to compile, and the probe tables. */
export type Sources = {
  /** The absolute path of a file. */
  readonly path: (file: string) => string;
  /** Rewrites paths in flags from the side's folder to the copy's. */
  readonly flags: (flags: readonly string[]) => readonly string[];
  /** The probed text of a file; undefined for the original text. */
  readonly textOf: (file: string) => string | undefined;
  /** C source of the probe tables: file and line of each probe. */
  readonly table: string;
};

/** The sources as they are. */
export const plainSources = (side: BuildSide): Sources => ({
  path: (file) => path.join(side.folder, file),
  flags: (flags) => flags,
  textOf: () => undefined,
  table: tableOf([]),
});

/** Writes the copy to a folder. Cost: linear in the files' text. */
export async function probedSources(
  side: BuildSide,
  terms: {
    readonly folder: string;
    readonly language: "c" | "cpp";
    readonly files: readonly string[];
    readonly macros?: ReadonlySet<string>;
  },
): Promise<Sources> {
  const { folder, language, files, macros = new Set() } = terms;
  const parse = await loadParser([language]);
  const places: { file: string; line: number }[] = [];
  const texts = new Map<string, string>();
  for (const file of files) {
    const text = await readFile(path.join(side.folder, file), "utf8");
    const tree = /\.(inc|def)$/.test(file) ? null : parse(withoutMacros(text, macros), language);
    const first = places.length;
    const probed = tree && probeSource(tree.root, text, language, (index) => `st_hit(${first + index});`);
    tree?.free();
    for (const line of probed?.lines ?? []) places.push({ file, line });
    const made = `#line 1 ${JSON.stringify(path.join(side.folder, file))}\n${probed?.text ?? text}`;
    texts.set(file, made);
    const copy = path.join(folder, file);
    await mkdir(path.dirname(copy), { recursive: true });
    await writeFile(copy, made);
  }
  return {
    path: (file) => path.join(folder, file),
    flags: (flags) =>
      flags.map((flag) =>
        flag === side.folder || flag.startsWith(`${side.folder}${path.sep}`)
          ? path.join(folder, path.relative(side.folder, flag))
          : flag,
      ),
    textOf: (file) => texts.get(file),
    table: tableOf(places),
  };
}

function tableOf(places: readonly { readonly file: string; readonly line: number }[]): string {
  const files = [...new Set(places.map(({ file }) => file))];
  const numbers = new Map(files.map((file, at) => [file, at]));
  const list = (items: readonly (string | number)[]) => `{${[...items, 0].join(", ")}}`;
  return [
    `const char *const st_probe_files[] = ${list(files.map((file) => JSON.stringify(file)))};`,
    `const int st_probe_file[] = ${list(places.map(({ file }) => numbers.get(file) ?? 0))};`,
    `const int st_probe_line[] = ${list(places.map(({ line }) => line))};`,
    `const int st_probe_count = ${places.length};`,
    "",
  ].join("\n");
}
