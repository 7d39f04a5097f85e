/** Looks for the files that take the place of modules, where neither the port file nor their names say. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { type FileSketch, type ModuleSketch, pairFiles } from "@/core/pairing/file-pairing";
import { isSourceOf, type PortModule } from "@/core/pairing/modules";
import { plainNames } from "@/core/pairing/plain-names";
import { traceOf } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";
import { languageOf } from "@/core/source/language-of";
import { isTestFile } from "@/core/survey/test-files";
import { statNow } from "@/engine/files/tree";
import { parseSource } from "@/engine/source/parse";

type Side = {
  readonly name: string;
  readonly folder: string;
  readonly language: string;
  readonly files: readonly string[];
};

/** The modules with what was found for each twin. Reads nothing where every file of a twin has its place by name. */
export async function findLeftFiles(
  modules: readonly PortModule[],
  original: { readonly folder: string },
  twins: readonly Side[],
): Promise<PortModule[]> {
  let found = [...modules];
  for (const twin of twins) {
    const taken = new Set(found.flatMap((module) => module.twins[twin.name] ?? []));
    const sources = twin.files.filter((file) => isSourceOf(file, twin.language) && !isTestFile(file));
    if (sources.every((file) => taken.has(file))) continue;
    const present = new Set(twin.files);
    const files = await sketches(twin.folder, sources);
    const wanted = await Promise.all(
      found
        .filter((module) => module.leftOut === undefined && !module.original.every(isTestFile))
        .map(async (module) => ({
          name: module.name,
          files: await sketches(original.folder, module.original),
          twins: (module.twins[twin.name] ?? []).filter((file) => present.has(file)),
        })),
    );
    const pairs = pairOnce(`${original.folder}\0${twin.folder}\0${twin.name}`, wanted, files);
    found = found.map((module) => {
      const own = pairs.get(module.name);
      const before = module.twins[twin.name] ?? [];
      // What the port file names stays, also where the file is not there yet.
      return own === undefined || own.length <= before.length
        ? module
        : { ...module, twins: { ...module.twins, [twin.name]: own } };
    });
  }
  return found;
}

type Pairs = ReturnType<typeof pairFiles>;

const paired = new Map<
  string,
  { readonly modules: readonly ModuleSketch[]; readonly files: readonly FileSketch[]; readonly pairs: Pairs }
>();

/** Worked out again only when a file of either side, or what is known of a module, is another: every view asks. */
function pairOnce(sides: string, modules: readonly ModuleSketch[], files: readonly FileSketch[]): Pairs {
  const before = paired.get(sides);
  const isSame =
    before &&
    sameItems(before.files, files) &&
    before.modules.length === modules.length &&
    modules.every((module, index) => {
      const old = before.modules[index];
      return old?.name === module.name && sameItems(old.files, module.files) && sameItems(old.twins, module.twins);
    });
  if (isSame) return before.pairs;
  const pairs = pairFiles(modules, files);
  paired.set(sides, { modules, files, pairs });
  return pairs;
}

const sameItems = <T>(one: readonly T[], other: readonly T[]): boolean =>
  one.length === other.length && one.every((item, index) => item === other[index]);

const known = new Map<string, { readonly stamp: string; readonly sketch: FileSketch }>();

async function sketches(folder: string, files: readonly string[]): Promise<FileSketch[]> {
  const all = await Promise.all(files.map((file) => sketchOf(folder, file)));
  return all.flatMap((sketch) => sketch ?? []);
}

async function sketchOf(folder: string, file: string): Promise<FileSketch | null> {
  const full = path.join(folder, file);
  const facts = statNow(full);
  if (!facts?.isFile()) return null;
  const stamp = `${facts.size}:${facts.mtimeMs}`;
  const before = known.get(full);
  if (before?.stamp === stamp) return before.sketch;
  const text = await readFile(full, "utf8");
  const { sections } = await parseSource(text, languageOf(file));
  const own = sections.map((section) => ({ ...section, file }));
  // C has no other way to say where a function belongs than the beginning of its name.
  const plain = /\.[ch]$/.test(file) ? [...plainNames(own, []).values()] : own.map(({ name }) => name);
  const names = plain.map((name) => wordsOf(name.split(".").at(-1) ?? "").join(""));
  const sketch = { path: file, names: new Set(names), trace: traceOf(text) };
  known.set(full, { stamp, sketch });
  return sketch;
}
