/**
 * Which files of the original make up which module, and which files of each twin take their place: first what the port
 * file lists, then its moduleMap, then the likeness of file names.
 */
import picomatch from "picomatch";
import type { PortFile } from "@/core/formats/port-file";
import { mappedFile, plainForm } from "@/core/pairing/module-map";
import { languageOf } from "@/core/source/language-of";
import { type FileGroup, groupModules, shortNames } from "@/core/survey/group-modules";

export type PortModule = {
  readonly name: string;
  readonly original: readonly string[];
  /** Twin name → files; an empty list when nothing is ported. */
  readonly twins: Readonly<Record<string, readonly string[]>>;
  readonly leftOut?: string;
};

export type PortTree = {
  readonly original: readonly string[];
  readonly twins: Readonly<Record<string, readonly string[]>>;
};

/**
 * All modules of the port, in the order of the port file, then by path. Files are relative to their side's root.
 * Cost: linear in the files, and files times patterns where modules are listed by pattern.
 */
export function resolveModules(port: PortFile, tree: PortTree): PortModule[] {
  const listed = port.modules.map((module) => ({ ...module, original: expand(module.original, tree.original) }));
  const taken = new Set(listed.flatMap((module) => module.original));
  const sources = tree.original.filter((file) => isSourceOf(file, port.original.language) && !taken.has(file));
  const names = new Set(listed.map((module) => module.name));
  const groups = port.modulesBy === "folder" ? groupByFolder(sources, names) : groupModules(sources, { taken: names });
  const modules: Omit<PortModule, "twins">[] = [
    ...listed.map(({ name, original, leftOut }) => ({ name, original, ...(leftOut ? { leftOut } : {}) })),
    ...groups.map(({ name, files }) => ({ name, original: files })),
  ];
  const given = new Map(listed.map(({ name, twins }) => [name, twins]));
  const sides = port.twins.map((twin) => new TwinFiles(port, twin, tree.twins[twin.name] ?? []));
  return modules.map((module) => ({
    ...module,
    twins: Object.fromEntries(
      sides.map((side) => [side.name, side.filesOf(module, given.get(module.name)?.[side.name] ?? [])]),
    ),
  }));
}

/** Paths as they stand, and what each pattern among them matches. */
function expand(listed: readonly string[], files: readonly string[]): string[] {
  const found = listed.flatMap((entry) => matching(entry, files));
  return [...new Set(found)];
}

function matching(entry: string, files: readonly string[]): string[] {
  if (!/[*?{]/.test(entry)) return [entry];
  const matches = picomatch(entry, { dot: true });
  return files.filter((file) => matches(file));
}

/** The files of one twin, found by what is listed, by the moduleMap, and by their names. */
class TwinFiles {
  private readonly present: ReadonlySet<string>;
  /** File → all files of its group: a header goes with its source. */
  private readonly groupOf = new Map<string, readonly string[]>();
  private readonly byForm = new Map<string, FileGroup[]>();

  constructor(
    private readonly port: PortFile,
    private readonly twin: PortFile["twins"][number],
    private readonly files: readonly string[],
  ) {
    this.present = new Set(files);
    for (const group of groupModules(files.filter((file) => isSourceOf(file, twin.language)))) {
      for (const file of group.files) this.groupOf.set(file, group.files);
      const form = plainForm(group.files[0] ?? "");
      this.byForm.set(form, [...(this.byForm.get(form) ?? []), group]);
    }
  }

  get name(): string {
    return this.twin.name;
  }

  filesOf(module: Omit<PortModule, "twins">, given: readonly string[]): readonly string[] {
    if (given.length > 0) return expand(given, this.files);
    const mapped = module.original.flatMap((file) => mappedFile(this.port.moduleMap, file, this.present)?.there ?? []);
    if (mapped.length > 0) return [...new Set(mapped.flatMap((file) => this.groupOf.get(file) ?? [file]))];
    const forms = new Set([...module.original.map(plainForm), plainForm(module.name)]);
    const like = [...forms].flatMap((form) => this.byForm.get(form) ?? []);
    return like.length === 1 ? (like[0]?.files ?? []) : [];
  }
}

/** All files right in one folder are one module, named after it; those at the top are modules of their own. */
function groupByFolder(files: readonly string[], taken: ReadonlySet<string>): FileGroup[] {
  const folders = new Map<string, string[]>();
  for (const file of files) {
    const folder = file.split("/").slice(0, -1).join("/");
    folders.set(folder, [...(folders.get(folder) ?? []), file]);
  }
  const names = shortNames([...folders.keys()], taken);
  return [...folders].flatMap(([folder, own]) =>
    folder === "" ? groupModules(own, { taken }) : [{ name: names.get(folder) ?? folder, files: own }],
  );
}

/** JavaScript and TypeScript stand for each other: a port to TypeScript may leave a file in JavaScript for a while. */
export function isSourceOf(file: string, language: string): boolean {
  const found = languageOf(file);
  const family = (name: string | null) => (name === "typescript" || name === "tsx" ? "javascript" : name);
  const isHeader = language === "cpp" && file.endsWith(".h");
  return found !== null && (family(found) === family(language) || isHeader) && !file.endsWith(".d.ts");
}
