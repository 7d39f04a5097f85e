/** What code takes from outside the tree: package, name, and each place where it is used, through every alias. */
import { findLanguage } from "@/core/source/languages/index";
import type { Binding } from "@/core/source/section";
import { HEADERS } from "@/core/survey/c-headers";
import type { Place, ResolvedImport, SurveyedFile } from "@/core/survey/file-facts";

export type OutsideUse = { readonly package: string; readonly name: string; readonly uses: readonly Place[] };

/** Stands for what is imported and used under no name of its own. */
const ALL = "*";
/** So often is a name followed from file to file. */
const MOST_HOPS = 6;

type Origin = { readonly package: string; readonly path: readonly string[] };

/** In the order of packages and names. Cost: linear in imports and uses. */
export function findOutside(files: readonly SurveyedFile[]): OutsideUse[] {
  const found = new Map<string, { package: string; name: string; uses: Place[] }>();
  const add = (origin: Origin, rest: readonly string[], place: Place) => {
    const path = [...origin.path, ...rest].filter((part, index, all) => part !== "default" || index === all.length - 1);
    const name = path.join(".") || ALL;
    const key = `${origin.package}\0${name}`;
    const entry = found.get(key) ?? { package: origin.package, name, uses: [] };
    found.set(key, entry);
    if (!entry.uses.some(({ file, line }) => file === place.file && line === place.line)) entry.uses.push(place);
  };
  const byPath = new Map(files.map((file) => [file.path, file]));
  for (const file of files) {
    const origins = originsIn(file, byPath);
    const used = new Set<string>();
    for (const use of file.uses) {
      const [local = "", ...rest] = use.parts;
      const origin = origins.get(local);
      if (!origin) continue;
      used.add(origin.package);
      add(origin, rest, { file: file.path, line: use.line });
    }
    for (const { package: owner, place } of headerUses(file)) {
      used.add(owner.package);
      add(owner, [], place);
    }
    for (const written of file.imports)
      if (written.package !== null && !used.has(written.package))
        add(
          {
            package: written.package,
            path: written.names.length === 1 && written.names[0] !== "*" ? written.names : [],
          },
          [],
          { file: file.path, line: written.line },
        );
  }
  return [...found.values()].sort((one, other) => compare(one.package, other.package) || compare(one.name, other.name));
}

const compare = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);

/** Local name → what it stands for outside; names that come from a file of the tree are followed through it. */
function originsIn(file: SurveyedFile, byPath: ReadonlyMap<string, SurveyedFile>): Map<string, Origin> {
  const origins = new Map<string, Origin>();
  for (const root of findLanguage(file.language)?.uses.roots ?? []) origins.set(root, { package: root, path: [] });
  for (const written of file.imports) {
    for (const binding of written.bindings) {
      const origin = originOf(file, written, binding, byPath, MOST_HOPS);
      if (origin) origins.set(binding.local, origin);
    }
  }
  return origins;
}

function originOf(
  file: SurveyedFile,
  written: ResolvedImport,
  binding: Binding,
  byPath: ReadonlyMap<string, SurveyedFile>,
  hops: number,
): Origin | null {
  if (written.files.length === 0) {
    const outside = findLanguage(file.language)?.outside(binding.root);
    return outside ? { package: outside.package, path: [...outside.inside, ...binding.path] } : null;
  }
  const [name] = binding.path;
  const passed = written.files.flatMap((path) => byPath.get(path) ?? []);
  if (name === undefined || hops === 0) return null;
  for (const other of passed) {
    for (const inner of other.imports) {
      for (const candidate of inner.bindings)
        if (candidate.local === name) return originOf(other, inner, candidate, byPath, hops - 1);
      // Passed on without a name of its own: `export { a } from "b"`, `export * from "b"`.
      if (inner.bindings.length === 0 && (inner.names.includes(name) || inner.names.includes("*"))) {
        const origin = originOf(other, inner, { local: name, root: inner.specifier, path: [name] }, byPath, hops - 1);
        if (origin && (inner.names.includes(name) || inner.files.length === 0)) return origin;
      }
    }
  }
  return null;
}

/** C names no origin at a call: what the included headers of the standard library declare is known by a list. */
function headerUses(file: SurveyedFile): { package: Origin; place: Place }[] {
  if (file.language !== "c" && file.language !== "cpp") return [];
  const included = new Set(file.imports.flatMap(({ package: owner }) => owner ?? []));
  return file.uses.flatMap(({ parts: [name = ""], line }) => {
    const header = (HEADERS.get(name) ?? []).find((candidate) => included.has(candidate));
    return header ? [{ package: { package: header, path: [name] }, place: { file: file.path, line } }] : [];
  });
}
