/**
 * The survey of a source tree, assembled from facts of each file: imports resolved to files, outside uses, modules in
 * layers, dependency cycles, snags, tests, and mentions in other files. Pure.
 */
import { findLayers } from "@/core/order/layers";
import { findUntie, type Untie } from "@/core/order/untie";
import { groupModules } from "@/core/pairing/group-modules";
import { findLanguage } from "@/core/source/languages/index";
import type { Import, Section } from "@/core/source/section";
import type { FileFacts, ResolvedImport, SurveyedFile } from "@/core/survey/file-facts";
import { type DeclaredNames, declaredName, FileIndex, type Manifests, NO_MANIFESTS } from "@/core/survey/file-index";
import { findMentions, type Mention, type PlainText } from "@/core/survey/mentions";
import { findOutside, OutsideCache, type OutsideUse } from "@/core/survey/outside";
import { findSnags, type Snag } from "@/core/survey/snags";
import { isTestFile } from "@/core/survey/test-files";

/** A module in the survey. */
export type SurveyedModule = {
  readonly name: string;
  readonly files: readonly string[];
  readonly lines: number;
  readonly needs: readonly string[];
  readonly layer: number;
  readonly isTest: boolean;
};

/** The survey of a tree. */
export type Survey = {
  readonly languages: Readonly<Record<string, { readonly files: number; readonly lines: number }>>;
  readonly files: readonly SurveyedFile[];
  readonly outside: readonly OutsideUse[];
  readonly modules: readonly SurveyedModule[];
  readonly knots: readonly { readonly members: readonly string[]; readonly untie: Untie }[];
  readonly mentions: readonly Mention[];
  readonly snags: readonly Snag[];
  readonly tests: readonly { readonly file: string; readonly touches: readonly string[] }[];
};

/** The files of a tree and their facts. */
export type SurveyInput = {
  readonly files: readonly FileFacts[];
  readonly manifests?: Manifests;
  /** The name of the tree's own folder. */
  readonly rootName?: string;
  /** Files that are not code, with their text. */
  readonly texts?: readonly PlainText[];
  /** Imports that were resolved before, for files that have not changed; used as long as the tree has the same files. */
  readonly resolved?: ResolvedCache;
};

/** State kept between surveys of a tree; invalidated when a file's imports change. */
export class ResolvedCache {
  tree = "";
  /** Counts how often the imports of the tree changed, or the names by which files see each other. */
  generation = 0;
  files = new Map<FileFacts, SurveyedFile>();
  byPath = new Map<string, { readonly shape: string; readonly file: SurveyedFile }>();
  graph: { readonly generation: number; readonly graph: Graph } | null = null;
  readonly outside = new OutsideCache();
}

/** The modules of a tree and what needs what. */
type Graph = {
  readonly modules: readonly Omit<SurveyedModule, "lines">[];
  readonly knots: Survey["knots"];
};

/** Linear in files, imports and uses; unchanged parts are taken from the cache. */
export function makeSurvey(input: SurveyInput): Survey {
  const { files, texts = [], resolved: cache = new ResolvedCache() } = input;
  const resolved = resolveAll(input, cache);
  const graph = cache.graph?.generation === cache.generation ? cache.graph.graph : makeGraph(resolved);
  cache.graph = { generation: cache.generation, graph };
  const lines = new Map(files.map(({ path, lines: count }) => [path, count]));
  const modules = graph.modules.map((module) => ({
    ...module,
    lines: module.files.reduce((sum, file) => sum + (lines.get(file) ?? 0), 0),
  }));
  const outside = findOutside(resolved, { cache: cache.outside, generation: cache.generation });
  return {
    languages: countLanguages(files),
    files: resolved,
    outside,
    modules,
    knots: graph.knots,
    mentions: findMentions(texts, { modules, packages: [...new Set(outside.map((entry) => entry.package))] }),
    snags: findSnags(resolved, outside),
    tests: modules
      .filter((module) => module.isTest)
      .map(({ files: own, needs }) => ({ file: own[0] ?? "", touches: needs })),
  };
}

function makeGraph(files: readonly SurveyedFile[]): Graph {
  const modules = makeModules(files);
  const names = new Map(modules.map((module) => [module.name, module.needs]));
  const { layer, knots } = findLayers(names);
  return {
    modules: modules.map((module) => ({ ...module, layer: layer.get(module.name) ?? 0 })),
    knots: knots.map((members) => ({ members, untie: findUntie(members, names) })),
  };
}

/** Resolves new imports; a re-read file with the same imports keeps its resolution. */
export function resolveAll(
  { files, manifests = NO_MANIFESTS, rootName }: SurveyInput,
  cache: ResolvedCache,
): SurveyedFile[] {
  const paths = files.map(({ path }) => path);
  const declared = declaredIn(files);
  const tree = `${paths.join("\n")}\n${JSON.stringify(manifests)}\n${[...declared.places].join("\n")}`;
  if (cache.tree !== tree) {
    cache.tree = tree;
    cache.generation++;
    cache.files.clear();
    cache.byPath.clear();
  }
  let index: FileIndex | null = null;
  const all = files.map((file): SurveyedFile => {
    const known = cache.files.get(file);
    if (known) return known;
    const shape = shapeOf(file);
    const before = cache.byPath.get(file.path);
    const isSame = before?.shape === shape;
    if (!isSame) {
      cache.generation++;
      index ??= new FileIndex(paths, { manifests, rootName: rootName ?? null, declared });
    }
    const at = index;
    const imports =
      isSame || !at ? (before?.file.imports ?? []) : file.imports.map((written) => resolve(at, file, written));
    const made = { ...file, imports };
    cache.byPath.set(file.path, { shape, file: made });
    return made;
  });
  cache.files = new Map(files.map((file, place) => [file, all[place] as SurveyedFile])); // of one length
  return all;
}

/** Names that files declare in namespaces and packages, which do not depend on the file's path. */
function declaredIn(files: readonly FileFacts[]): DeclaredNames {
  const [places, namespaces] = [new Map<string, string>(), new Set<string>()];
  for (const { path, language, namespace, sections } of files) {
    if (namespace === null || !findLanguage(language)?.findNamespace) continue;
    // A namespace lies in all those that its name begins with.
    const parts = namespace.split(/[.\\]/);
    for (let length = 1; length <= parts.length; length++)
      namespaces.add(declaredName(language, parts.slice(0, length).join(".")));
    for (const name of topNames(sections)) places.set(declaredName(language, namespace, name), path);
  }
  return { places, namespaces };
}

/** Everything of a file that other files see: imports with places, namespace, names, words used. */
const shapeOf = ({ imports, namespace, words, sections }: FileFacts): string =>
  JSON.stringify([imports, namespace, words, words.length > 0 ? topNames(sections) : []]);

function resolve(index: FileIndex, file: FileFacts, written: Import): ResolvedImport {
  const language = findLanguage(file.language);
  const files = language ? index.resolve(language, written, file.path) : [];
  const { specifier, names } = written;
  const isOwn =
    files.length > 0 ||
    [specifier, ...names.map((name) => `${specifier}.${name}`)].some((name) => index.isNamespace(file.language, name));
  const outside = isOwn ? null : language?.outside(written.specifier);
  return { ...written, files, package: outside?.package ?? null };
}

function makeModules(files: readonly SurveyedFile[]): Omit<SurveyedModule, "layer" | "lines">[] {
  const groups = groupModules(files.map(({ path }) => path));
  const owner = new Map(groups.flatMap(({ name, files: own }) => own.map((file) => [file, name] as const)));
  const wanted = needsOfFiles(files);
  return groups.map(({ name, files: own }) => {
    const needs = new Set(own.flatMap((file) => wanted.get(file) ?? []).flatMap((file) => owner.get(file) ?? []));
    needs.delete(name);
    return { name, files: own, needs: [...needs], isTest: own.every(isTestFile) };
  });
}

/** File → the files of the tree that it needs: those it imports, and those whose names it sees without. */
export function needsOfFiles(files: readonly SurveyedFile[]): Map<string, readonly string[]> {
  const implied = impliedNeeds(files);
  return new Map(
    files.map(({ path, imports }) => [
      path,
      [...imports.flatMap((written) => written.files), ...(implied.get(path) ?? [])],
    ]),
  );
}

/** Files that see each other's names without an import: those of one folder or namespace whose sections' names they use. */
function impliedNeeds(files: readonly SurveyedFile[]): Map<string, string[]> {
  const definers = new Map<string, Map<string, string>>();
  const scopeOf = (file: SurveyedFile): string | null => {
    const language = findLanguage(file.language);
    if (language?.findNamespace && file.namespace !== null) return `${file.language} ${file.namespace}`;
    return language?.sharesFolder ? `${file.language} /${file.path.split("/").slice(0, -1).join("/")}` : null;
  };
  for (const file of files) {
    const scope = scopeOf(file);
    if (scope === null) continue;
    const names = definers.get(scope) ?? new Map<string, string>();
    definers.set(scope, names);
    // Declarations in tests are visible to tests only and hide nothing of other files.
    for (const name of topNames(file.sections))
      if (!isTestFile(file.path) || !names.has(name)) names.set(name, file.path);
  }
  return new Map(
    files.map((file) => {
      // A namespace that is imported as a whole, or that lies around one's own, is seen too.
      const imported = file.imports.map(({ specifier }) => `${file.language} ${specifier}`);
      const scopes = [scopeOf(file), ...imported].flatMap((scope) =>
        scope === null ? [] : (definers.get(scope) ?? []),
      );
      const seen = scopes.flatMap((names) => file.words.flatMap((word) => names.get(word) ?? []));
      const isSeen = (path: string) => path !== file.path && (isTestFile(file.path) || !isTestFile(path));
      return [file.path, [...new Set(seen)].filter(isSeen)];
    }),
  );
}

const topNames = (sections: readonly Section[]): string[] =>
  sections.map(({ name }) => name).filter((name) => !name.includes("."));

function countLanguages(files: readonly FileFacts[]): Survey["languages"] {
  const counts: Record<string, { files: number; lines: number }> = {};
  for (const { language, lines } of files) {
    const count = counts[language] ?? { files: 0, lines: 0 };
    counts[language] = { files: count.files + 1, lines: count.lines + lines };
  }
  return counts;
}
