/**
 * Which files of the original make up which module, and which files of each twin take their place: first what the port
 * file lists, then its moduleMap, then the likeness of file names.
 */

import type { PortFile } from "@/core/formats/port-file";
import { convertName } from "@/core/pairing/naming";
import { languageOf } from "@/core/source/language-of";

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

/** All modules of the port, in the order of the port file, then by path. Files are relative to their side's root. */
export function resolveModules(port: PortFile, tree: PortTree): PortModule[] {
  const listed = new Set(port.modules.flatMap((module) => module.original));
  const sources = tree.original.filter((file) => isSourceOf(file, port.original.language) && !listed.has(file));
  const names = moduleNames(sources, new Set(port.modules.map((module) => module.name)));
  const modules: PortModule[] = port.modules.map((module) => ({
    name: module.name,
    original: module.original,
    twins: Object.fromEntries(port.twins.map(({ name }) => [name, module.twins[name] ?? []])),
    ...(module.leftOut ? { leftOut: module.leftOut } : {}),
  }));
  for (const file of sources) modules.push({ name: names.get(file) ?? file, original: [file], twins: {} });
  return modules.map((module) => ({ ...module, twins: twinFiles(port, tree, module) }));
}

function twinFiles(port: PortFile, tree: PortTree, module: PortModule): Record<string, readonly string[]> {
  const found: Record<string, readonly string[]> = {};
  for (const twin of port.twins) {
    const given = module.twins[twin.name] ?? [];
    const present = tree.twins[twin.name] ?? [];
    const sources = present.filter((file) => isSourceOf(file, twin.language));
    const mapped = module.original.flatMap((file) => mappedFile(port, file, present) ?? []);
    const like = given.length > 0 || mapped.length > 0 ? [] : likeFiles(module, sources);
    found[twin.name] = given.length > 0 ? given : mapped.length > 0 ? mapped : like;
  }
  return found;
}

/** JavaScript and TypeScript stand for each other: a port to TypeScript may leave a file in JavaScript for a while. */
export function isSourceOf(file: string, language: string): boolean {
  const found = languageOf(file);
  const family = (name: string | null) => (name === "typescript" || name === "tsx" ? "javascript" : name);
  return found !== null && family(found) === family(language) && !file.endsWith(".d.ts");
}

/** The file's name without folder and ending when that is unique, else with folders; a package file takes its folder's. */
function moduleNames(files: readonly string[], taken: ReadonlySet<string> = new Set()): Map<string, string> {
  const stem = (file: string): string => {
    const withoutEnding = file.replace(/\.[^./]+$/, "");
    return withoutEnding.replace(/\/(__init__|index|mod)$/, "") || withoutEnding;
  };
  const short = (file: string): string => stem(file).split("/").at(-1) ?? file;
  const counts = new Map<string, number>();
  for (const file of files) counts.set(short(file), (counts.get(short(file)) ?? 0) + 1);
  return new Map(
    files.map((file) => {
      const unique = counts.get(short(file)) === 1 && !taken.has(short(file));
      return [file, unique ? short(file) : stem(file)];
    }),
  );
}

function mappedFile(port: PortFile, file: string, present: readonly string[]): string | null {
  for (const rule of port.moduleMap) {
    const captured = capture(file, rule.original);
    if (captured === null) continue;
    for (const spelling of spellings(captured)) {
      const wanted = rule.twin.replace(/\*+/, spelling);
      if (present.includes(wanted)) return wanted;
    }
  }
  return null;
}

/** What the first `*` of a pattern stands for in a path, or null. */
function capture(file: string, pattern: string): string | null {
  const [head = "", ...tail] = pattern.split(/\*+/);
  const end = tail.join("");
  if (tail.length === 0) return file === pattern ? "" : null;
  if (!file.startsWith(head) || !file.endsWith(end) || file.length < head.length + end.length) return null;
  const middle = file.slice(head.length, file.length - end.length);
  return middle.includes("/") && !pattern.includes("**") ? null : middle;
}

function spellings(name: string): string[] {
  const kebab = name.replaceAll("_", "-");
  const snake = convertName(name, "camel-to-snake").replaceAll("-", "_");
  return [...new Set([name, convertName(name, "snake-to-camel"), kebab, snake, convertName(name, "snake-to-pascal")])];
}

const plainForm = (file: string): string =>
  (file.split("/").at(-1) ?? file)
    .replace(/\.[^.]+$/, "")
    .replace(/[^a-z0-9]/gi, "")
    .toLowerCase();

function likeFiles(module: PortModule, sources: readonly string[]): string[] {
  const wanted = new Set([...module.original.map(plainForm), plainForm(module.name)]);
  const like = sources.filter((file) => wanted.has(plainForm(file)));
  return like.length === 1 ? like : [];
}
