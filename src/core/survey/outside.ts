/** Uses of names from outside the tree: package, name, and every place, through any alias. */
import { findLanguage } from "@/core/source/languages/index";
import type { Binding } from "@/core/source/section";
import { HEADERS } from "@/core/survey/c-headers";
import type { Place, ResolvedImport, SurveyedFile } from "@/core/survey/file-facts";

/** A name of a package with every place where it is used. */
export type OutsideUse = { readonly package: string; readonly name: string; readonly uses: readonly Place[] };

/** Marks an import that is used without a name of its own. */
const ALL = "*";

type Origin = { readonly package: string; readonly path: readonly string[] };

/** Outside uses by file, valid until an import in the tree changes. */
export class OutsideCache {
  readonly files = new WeakMap<SurveyedFile, { readonly generation: number; readonly uses: readonly FileUse[] }>();
}

/** All places of one name in one file. */
type FileUse = { readonly key: string; readonly package: string; readonly name: string; readonly uses: Place[] };

/** Sorted by package and name. `generation` changes when names may resolve differently. Linear in imports and uses. */
export function findOutside(
  files: readonly SurveyedFile[],
  { cache, generation }: { readonly cache: OutsideCache; readonly generation: number } = {
    cache: new OutsideCache(),
    generation: 0,
  },
): OutsideUse[] {
  const found = new Map<string, { package: string; name: string; uses: Place[] }>();
  let follower: Follower | null = null;
  for (const file of files) {
    const known = cache.files.get(file);
    follower ??= known?.generation === generation ? null : new Follower(files);
    const uses = known?.generation === generation ? known.uses : usesIn(file, follower ?? new Follower(files));
    if (uses !== known?.uses) cache.files.set(file, { generation, uses });
    for (const { key, package: owner, name, uses: places } of uses) {
      const entry = found.get(key);
      if (!entry) found.set(key, { package: owner, name, uses: [...places] });
      else for (const place of places) entry.uses.push(place);
    }
  }
  return [...found.values()].sort((one, other) => compare(one.package, other.package) || compare(one.name, other.name));
}

function usesIn(file: SurveyedFile, follower: Follower): FileUse[] {
  const found = new Map<string, FileUse>();
  const add = (origin: Origin, rest: readonly string[], place: Place) => {
    const path = [...origin.path, ...rest].filter((part, index, all) => part !== "default" || index === all.length - 1);
    const name = path.join(".") || ALL;
    const key = `${origin.package}\0${name}`;
    const entry = found.get(key) ?? { key, package: origin.package, name, uses: [] };
    found.set(key, entry);
    // Uses come by line: the same place can only be the last one.
    if (entry.uses.at(-1)?.line !== place.line) entry.uses.push(place);
  };
  const origins = follower.originsIn(file);
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
  return [...found.values()];
}

const compare = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);

/** Follows names to where they come from, through the files of the tree that pass them on. */
class Follower {
  private readonly byPath: ReadonlyMap<string, SurveyedFile>;
  /** File and name → origin; a name being resolved has none, which ends cycles. */
  private readonly known = new Map<string, Origin | null>();

  constructor(files: readonly SurveyedFile[]) {
    this.byPath = new Map(files.map((file) => [file.path, file]));
  }

  /** Local name → the outside name it is bound to. */
  originsIn(file: SurveyedFile): Map<string, Origin> {
    const origins = new Map<string, Origin>();
    for (const root of findLanguage(file.language)?.uses.roots ?? []) origins.set(root, { package: root, path: [] });
    for (const written of file.imports) {
      for (const binding of written.bindings) {
        const origin = this.originOf(file, written, binding);
        if (origin) origins.set(binding.local, origin);
      }
    }
    return origins;
  }

  private originOf(file: SurveyedFile, written: ResolvedImport, binding: Binding): Origin | null {
    if (written.files.length === 0) {
      // A namespace of the tree itself.
      if (written.package === null) return null;
      const outside = findLanguage(file.language)?.outside(binding.root);
      return outside ? { package: outside.package, path: [...outside.inside, ...binding.path] } : null;
    }
    const [name] = binding.path;
    if (name === undefined) return null;
    for (const path of written.files) {
      const origin = this.passedOn(path, name);
      if (origin) return origin;
    }
    return null;
  }

  /** Returns the origin of a name that another file of the tree re-exports. */
  private passedOn(path: string, name: string): Origin | null {
    const key = `${path}\0${name}`;
    const known = this.known.get(key);
    if (known !== undefined) return known;
    this.known.set(key, null);
    const file = this.byPath.get(path);
    const origin = file ? this.findIn(file, name) : null;
    this.known.set(key, origin);
    return origin;
  }

  private findIn(file: SurveyedFile, name: string): Origin | null {
    for (const written of file.imports) {
      for (const binding of written.bindings) if (binding.local === name) return this.originOf(file, written, binding);
      // Passed on without a name of its own: `export { a } from "b"`, `export * from "b"`.
      const isNamed = written.names.includes(name);
      if (written.bindings.length > 0 || !(isNamed || written.names.includes(ALL))) continue;
      const origin = this.originOf(file, written, { local: name, root: written.specifier, path: [name] });
      // A wildcard import from outside may or may not include this name; only files of the tree can be checked.
      if (origin && (isNamed || written.files.length > 0)) return origin;
    }
    return null;
  }
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
