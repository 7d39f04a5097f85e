/**
 * Modules and twin files that have the same name in any style. Where several have it, the folders around them decide: the
 * likeliest are taken first, and what stays undecided is left to their content.
 */
import type { FileGroup } from "@/core/pairing/group-modules";

/** A module by name, with its files. */
export type NamedModule = { readonly name: string; readonly files: readonly string[] };

type Candidate = { readonly module: NamedModule; readonly group: FileGroup; readonly score: number };

/** Module → the files of its twin. Each group of files goes to one module. Cost: modules and groups of one name. */
export const assignByName = (
  modules: readonly NamedModule[],
  groups: readonly FileGroup[],
): Map<string, readonly string[]> =>
  assign(modules, groups, {
    formOf: plainForm,
    formsOf: ({ name, files }) => [...files.map(plainForm), plainForm(name)],
  });

/** The same for files that are named after their folder, each in the manner of its language: `index.js`, `__init__.py`, `mod.rs`. */
export const assignFolderFiles = (
  modules: readonly NamedModule[],
  groups: readonly FileGroup[],
): Map<string, readonly string[]> =>
  assign(
    modules.filter(({ files }) => files.some((file) => FOLDER_FILE.test(file))),
    groups.filter(({ files }) => files.some((file) => FOLDER_FILE.test(file))),
    { formOf: () => "", formsOf: () => [""] },
  );

type Forms = {
  readonly formOf: (file: string) => string;
  readonly formsOf: (module: NamedModule) => readonly string[];
};

function assign(
  modules: readonly NamedModule[],
  groups: readonly FileGroup[],
  { formOf, formsOf }: Forms,
): Map<string, readonly string[]> {
  const byForm = new Map<string, FileGroup[]>();
  for (const group of groups) push(byForm, formOf(group.files[0] ?? ""), group);
  const candidates = modules.flatMap((module): Candidate[] => {
    return [...new Set(formsOf(module))].flatMap((form) =>
      (byForm.get(form) ?? []).map((group) => ({ module, group, score: alike(module.files, group) })),
    );
  });
  candidates.sort((one, other) => other.score - one.score);
  const found = new Map<string, readonly string[]>();
  const taken = new Set<FileGroup>();
  const isFree = ({ module, group }: Candidate) => !found.has(module.name) && !taken.has(group);
  for (let at = 0; at < candidates.length; ) {
    const { score } = candidates[at] ?? { score: 0 };
    const level = candidates.slice(at).filter((one) => one.score === score && isFree(one));
    at = candidates.findIndex((one) => one.score < score);
    for (const one of level) {
      const rivals = level.filter(
        (other) => other !== one && (other.module === one.module || other.group === one.group),
      );
      if (rivals.length > 0 || !isFree(one)) continue;
      found.set(one.module.name, one.group.files);
      taken.add(one.group);
    }
    if (at === -1) break;
  }
  return found;
}

/** A file's name without folder, ending and style. */
export const plainForm = (file: string): string =>
  (file.split("/").at(-1) ?? file)
    .replace(/\.[^.]+$/, "")
    .replace(/[^a-z0-9]/gi, "")
    .toLowerCase();

/** Names that files have for their role: two files of one such name need have nothing in common. */
const GENERAL = new Set([
  "main",
  "index",
  "init",
  "core",
  "util",
  "utils",
  "lib",
  "common",
  "helper",
  "helpers",
  "app",
  "mod",
  "base",
]);

/** Whether a file's name describes its role rather than its content. */
export const isGeneralName = (file: string): boolean => GENERAL.has(plainForm(file));

const FOLDER_FILE = /(^|\/)(__init__|index|mod|package-info)\.[^./]+$/;

/** Folder names that describe the layout, not the content. */
const PLAIN = new Set([
  "src",
  "lib",
  "source",
  "sources",
  "main",
  "app",
  "pkg",
  "internal",
  "js",
  "ts",
  "java",
  "python",
]);

/** How alike the folders around two sets of files are, from 0 to 1: shared words of them, both ways. */
function alike(files: readonly string[], group: FileGroup): number {
  const words = (list: readonly string[]) =>
    new Set(
      list.flatMap((file) =>
        file
          .split("/")
          .slice(0, -1)
          .map((folder) => folder.replace(/[^a-z0-9]/gi, "").toLowerCase())
          .filter((folder) => !PLAIN.has(folder)),
      ),
    );
  const [mine, theirs] = [words(files), words(group.files)];
  if (mine.size + theirs.size === 0) return 1;
  const shared = [...mine].filter((word) => theirs.has(word)).length;
  // The outermost folders are often the two projects' own names: what differs there weighs little.
  return (shared + 0.01) / (Math.min(mine.size, theirs.size) + 0.01 + 0.1 * Math.abs(mine.size - theirs.size));
}

function push(map: Map<string, FileGroup[]>, key: string, value: FileGroup): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
