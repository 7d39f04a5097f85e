/**
 * Which files of the original make up which module, and which files of each twin take their place: first what the port
 * file lists, then its moduleMap, then the likeness of file names.
 */
import type { PortFile } from "@/core/formats/port-file";
import { assignByName, isGeneralName } from "@/core/pairing/by-name";
import { type FileGroup, groupModules, shortNames } from "@/core/pairing/group-modules";
import { mappedFile } from "@/core/pairing/module-map";
import { languageOf } from "@/core/source/language-of";
import { matchesFile } from "@/core/values/file-pattern";

/** A module with its files on every side. */
export type PortModule = {
  readonly name: string;
  readonly original: readonly string[];
  /** Twin name → files; an empty list when nothing is ported. */
  readonly twins: Readonly<Record<string, readonly string[]>>;
  /** Twins whose files were found by an uninformative name, such as `main`: their content decides. */
  readonly doubtful?: readonly string[];
  readonly leftOut?: string;
};

/** The files of every side, from which modules are made. */
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
  const places = port.twins.map((twin) => ({
    name: twin.name,
    ...placeModules(port, twin, { modules, given, files: tree.twins[twin.name] ?? [] }),
  }));
  return modules.map((module) => {
    const doubtful = places.flatMap(({ name, doubtful: own }) => (own.has(module.name) ? [name] : []));
    return {
      ...module,
      twins: Object.fromEntries(places.map(({ name, files }) => [name, files.get(module.name) ?? []])),
      ...(doubtful.length > 0 ? { doubtful } : {}),
    };
  });
}

/** Expands patterns among paths; plain paths are kept. */
function expand(listed: readonly string[], files: readonly string[]): string[] {
  const found = listed.flatMap((entry) => matching(entry, files));
  return [...new Set(found)];
}

function matching(entry: string, files: readonly string[]): string[] {
  if (!/[*?{]/.test(entry)) return [entry];
  return files.filter((file) => matchesFile(file, entry));
}

/** Module → its files on one twin: listed, by the moduleMap, or by name. A header goes with its source. */
function placeModules(
  port: PortFile,
  twin: PortFile["twins"][number],
  {
    modules,
    given,
    files,
  }: {
    readonly modules: readonly Omit<PortModule, "twins">[];
    readonly given: ReadonlyMap<string, Readonly<Record<string, readonly string[]>>>;
    readonly files: readonly string[];
  },
): { readonly files: Map<string, readonly string[]>; readonly doubtful: ReadonlySet<string> } {
  const present = new Set(files);
  const groups = groupModules(files.filter((file) => isSourceOf(file, twin.language)));
  const groupOf = new Map(groups.flatMap((group) => group.files.map((file) => [file, group.files] as const)));
  const placed = new Map<string, readonly string[]>();
  const left: { name: string; files: readonly string[] }[] = [];
  for (const { name, original } of modules) {
    const listed = expand(given.get(name)?.[twin.name] ?? [], files);
    const mapped = original.flatMap((file) => mappedFile(port.moduleMap, file, present)?.there ?? []);
    if (listed.length > 0) placed.set(name, listed);
    else if (mapped.length > 0) placed.set(name, [...new Set(mapped.flatMap((file) => groupOf.get(file) ?? [file]))]);
    else left.push({ name, files: original });
  }
  const taken = new Set([...placed.values()].flat());
  const free = groups.filter((group) => !group.files.some((file) => taken.has(file)));
  const doubtful = new Set<string>();
  for (const [name, own] of assignByName(left, free)) {
    placed.set(name, own);
    if (own.some(isGeneralName)) doubtful.add(name);
  }
  return { files: placed, doubtful };
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

/** JavaScript and TypeScript are interchangeable: a port to TypeScript may leave a file in JavaScript for a while. */
export function isSourceOf(file: string, language: string): boolean {
  const found = languageOf(file);
  const family = (name: string | null) => (name === "typescript" || name === "tsx" ? "javascript" : name);
  const isHeader = language === "cpp" && file.endsWith(".h");
  return found !== null && (family(found) === family(language) || isHeader) && !file.endsWith(".d.ts");
}
