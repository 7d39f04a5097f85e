/** Index of a tree's files by path and path suffix, and of names declared in manifests. */
import { parse } from "jsonc-parser";
import { refuseDeep } from "@/core/formats/nesting";
import { fileCandidates } from "@/core/source/languages/javascript";
import type { Import, SourceLanguage } from "@/core/source/section";

/** How manifests map imports: path aliases, module paths, namespaces and crates with their folders. */
export type Manifests = {
  /** `@/*` → folders with the `*` in them. */
  readonly aliases: readonly { readonly pattern: string; readonly targets: readonly string[] }[];
  readonly baseFolders: readonly string[];
  /** Path of a Go module → its folder. */
  readonly goModules: readonly { readonly path: string; readonly folder: string }[];
  /** Namespace of PHP (with its last `\`) → folder. */
  readonly namespaces: readonly { readonly prefix: string; readonly folder: string }[];
  /** Name of a Rust crate → its source folder. */
  readonly crates: readonly { readonly name: string; readonly folder: string }[];
  /** Name of a JavaScript package in the tree → its folder. */
  readonly packages: readonly { readonly name: string; readonly folder: string }[];
};

/** For trees without manifests. */
export const NO_MANIFESTS: Manifests = {
  aliases: [],
  baseFolders: [],
  goModules: [],
  namespaces: [],
  crates: [],
  packages: [],
};

const MANIFEST = /(^|\/)(?:tsconfig[\w.-]*\.json|jsconfig\.json|package\.json|go\.mod|composer\.json|Cargo\.toml)$/;
/** Whether a file is a manifest that maps imports. */
export const isManifest = (file: string): boolean => MANIFEST.test(file);

/** Reads manifests, given as texts by path; one that does not parse is ignored. */
export function readManifests(texts: ReadonlyMap<string, string>): Manifests {
  const found = { aliases: [], baseFolders: [], goModules: [], namespaces: [], crates: [], packages: [] } as {
    -readonly [key in keyof Manifests]: Manifests[key][number][];
  };
  for (const [file, text] of texts) {
    const folder = file.split("/").slice(0, -1).join("/");
    const name = file.split("/").at(-1) ?? "";
    if (name === "go.mod") {
      const path = /^module\s+(\S+)/m.exec(text)?.[1];
      if (path) found.goModules.push({ path, folder });
    } else if (name === "Cargo.toml") {
      const crate = /^\[package\][^[]*?^name\s*=\s*"([^"]+)"/ms.exec(text)?.[1];
      if (crate) found.crates.push({ name: crate.replaceAll("-", "_"), folder: join(folder, "src") });
    } else if (name === "package.json") {
      const { name: called, imports, exports } = readObject(text);
      found.aliases.push(...subpaths(imports, "#", "", folder));
      if (typeof called !== "string" || called === "") continue;
      found.packages.push({ name: called, folder });
      found.aliases.push(...subpaths(exports, "./", called, folder));
    } else if (name === "composer.json") {
      const { autoload, "autoload-dev": dev } = readObject(text) as Record<
        string,
        { "psr-4"?: Record<string, string> }
      >;
      for (const [prefix, target] of Object.entries({ ...autoload?.["psr-4"], ...dev?.["psr-4"] }))
        if (typeof target === "string")
          found.namespaces.push({ prefix, folder: join(folder, target.replace(/\/$/, "")) });
    } else {
      const options = (readObject(text) as { compilerOptions?: { baseUrl?: unknown; paths?: unknown } })
        .compilerOptions;
      const base = typeof options?.baseUrl === "string" ? join(folder, options.baseUrl) : null;
      if (base !== null) found.baseFolders.push(base);
      for (const [pattern, targets] of Object.entries((options?.paths ?? {}) as Record<string, unknown>))
        if (Array.isArray(targets))
          found.aliases.push({ pattern, targets: targets.map((target) => join(base ?? folder, String(target))) });
    }
  }
  return found;
}

/** Returns a manifest's object; empty if it is not an object or is nested too deeply. */
function readObject(text: string): Record<string, unknown> {
  try {
    refuseDeep(text, {});
  } catch {
    return {};
  }
  const value: unknown = parse(text);
  return typeof value === "object" && value !== null ? (value as Record<string, unknown>) : {};
}

/** The subpaths that a package maps for itself (`imports`) and for others (`exports`), under each of their conditions. */
function subpaths(mapped: unknown, start: string, name: string, folder: string): Manifests["aliases"][number][] {
  if (typeof mapped !== "object" || mapped === null) return [];
  return Object.entries(mapped).flatMap(([key, target]) => {
    const targets = targetsOf(target).map((path) => join(folder, path));
    const pattern = name === "" ? key : `${name}${key.slice(1)}`;
    return key.startsWith(start) && targets.length > 0 ? [{ pattern, targets }] : [];
  });
}

const targetsOf = (target: unknown): string[] => {
  if (typeof target === "string") return target.startsWith("./") ? [target] : [];
  return typeof target === "object" && target !== null ? Object.values(target).flatMap(targetsOf) : [];
};

function join(folder: string, path: string): string {
  const parts = folder === "" ? [] : folder.split("/");
  for (const part of path.split("/")) {
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  }
  return parts.join("/");
}

/** Names that files declare in a namespace or package: each with its file, and the namespaces themselves. */
export type DeclaredNames = {
  readonly places: ReadonlyMap<string, string>;
  readonly namespaces: ReadonlySet<string>;
};

const NOTHING_DECLARED: DeclaredNames = { places: new Map(), namespaces: new Set() };

/** Key of a namespace's name, distinct per language. */
export const declaredName = (language: string, namespace: string, name?: string): string =>
  `${language} ${namespace.replaceAll("\\", ".")}${name === undefined ? "" : `.${name}`}`;

/** The inputs of the index. */
export type KnownOfTree = {
  readonly manifests: Manifests;
  /** The name of the tree's own folder: a package may call itself by it. */
  readonly rootName: string | null;
  readonly declared: DeclaredNames;
};

/** Finds the files that imports refer to. */
export class FileIndex {
  private readonly files: ReadonlySet<string>;
  private readonly byName = new Map<string, string[]>();
  private readonly byFolder = new Map<string, string[]>();

  private readonly manifests: Manifests;
  private readonly rootName: string | null;
  private readonly declared: DeclaredNames;

  constructor(files: Iterable<string>, known: Partial<KnownOfTree> = {}) {
    this.manifests = known.manifests ?? NO_MANIFESTS;
    this.rootName = known.rootName ?? null;
    this.declared = known.declared ?? NOTHING_DECLARED;
    this.files = new Set(files);
    for (const file of this.files) {
      const parts = file.split("/");
      add(this.byName, parts.pop() ?? "", file);
      add(this.byFolder, parts.join("/"), file);
    }
  }

  /** Files of the tree that an import may mean, best first; none for what comes from outside. */
  resolve(language: SourceLanguage, written: Import, file: string): string[] {
    const found = this.find(language, written, file);
    if (found.length > 0 || this.rootName === null) return found;
    if (language.name === "python" && written.specifier === this.rootName)
      return this.inOwnPackage(language, written, file);
    const separator = { python: ".", c: "/", cpp: "/" }[language.name];
    const own = `${this.rootName}${separator}`;
    if (separator === undefined || !written.specifier.startsWith(own)) return found;
    return this.find(language, { ...written, specifier: written.specifier.slice(own.length) }, file);
  }

  /** Resolves imports from the package that the tree itself is: modules beside its `__init__.py`, and their names. */
  private inOwnPackage(language: SourceLanguage, written: Import, file: string): string[] {
    const own = "__init__.py";
    if (!this.files.has(own)) return [];
    const found = this.find(language, { ...written, specifier: "." }, "\0.py").filter((path) => path !== file);
    return found.length > 0 || file === own ? found : [own];
  }

  private find(language: SourceLanguage, written: Import, file: string): string[] {
    const exact = language
      .importCandidates(written, file)
      .filter((candidate) => this.files.has(candidate) && candidate !== file);
    if (exact.length > 0) return [...new Set(exact)];
    const declared = this.declaredFiles(language, written).filter((path) => path !== file);
    if (declared.length > 0) return declared;
    switch (language.name) {
      case "javascript":
      case "typescript":
      case "tsx":
        return this.byAlias(written.specifier);
      case "python":
        return written.specifier.startsWith(".") ? [] : this.byEnds(language.importCandidates(written, ""), file);
      case "go":
        return this.goFiles(written.specifier);
      case "rust":
        return this.crateFiles(language, written);
      case "php":
        return [
          ...this.namespaceFiles(written),
          ...this.byEnds(language.importCandidates(written, "").slice(0, 1), file),
        ].slice(0, 1);
      default:
        return this.byEnds(language.importCandidates(written, ""), file);
    }
  }

  /** Whether files of the tree declare that namespace or one inside it. */
  isNamespace(language: string, name: string): boolean {
    return this.declared.namespaces.has(declaredName(language, name));
  }

  /** Files that declare an import; for an import from a class, the class's file. */
  private declaredFiles({ name: language }: SourceLanguage, { specifier, names }: Import): string[] {
    const wanted = [...names.map((name) => declaredName(language, specifier, name)), declaredName(language, specifier)];
    return [...new Set(wanted.flatMap((name) => this.declared.places.get(name) ?? []))];
  }

  /** The one file whose path ends so: a source folder that no manifest names. */
  private byEnds(candidates: readonly string[], own: string): string[] {
    for (const candidate of candidates) {
      const name = candidate.split("/").at(-1) ?? "";
      if (name === "") continue;
      const ending = (this.byName.get(name) ?? []).filter(
        (file) => file !== own && (file === candidate || file.endsWith(`/${candidate}`)),
      );
      if (ending.length === 1) return ending;
    }
    return [];
  }

  private byAlias(specifier: string): string[] {
    const stems = this.manifests.aliases.flatMap(({ pattern, targets }) => {
      const [head = "", tail] = pattern.split("*");
      if (tail === undefined) return specifier === pattern ? targets : [];
      if (!specifier.startsWith(head) || !specifier.endsWith(tail)) return [];
      const middle = specifier.slice(head.length, specifier.length - tail.length);
      return targets.map((target) => target.replace("*", middle));
    });
    if (!specifier.startsWith(".")) stems.push(...this.manifests.baseFolders.map((folder) => join(folder, specifier)));
    for (const { name, folder } of this.manifests.packages) {
      if (specifier !== name && !specifier.startsWith(`${name}/`)) continue;
      const inside = specifier.slice(name.length + 1);
      stems.push(join(folder, inside), join(folder, `src/${inside}`), join(folder, `lib/${inside}`));
    }
    const found = stems.flatMap(fileCandidates).find((candidate) => this.files.has(candidate));
    return found ? [found] : [];
  }

  private goFiles(specifier: string): string[] {
    for (const { path, folder } of this.manifests.goModules) {
      if (specifier !== path && !specifier.startsWith(`${path}/`)) continue;
      const inside = join(folder, specifier.slice(path.length));
      return (this.byFolder.get(inside) ?? [])
        .filter((file) => file.endsWith(".go") && !file.endsWith("_test.go"))
        .sort();
    }
    return [];
  }

  private crateFiles(language: SourceLanguage, written: Import): string[] {
    const [first = "", ...rest] = written.specifier.split("::");
    const crate = this.manifests.crates.find(({ name }) => name === first);
    if (!crate) return [];
    const inside = { ...written, specifier: ["crate", ...rest].join("::") };
    const candidates = [...language.importCandidates(inside, `${crate.folder}/lib.rs`), `${crate.folder}/lib.rs`];
    return candidates.filter((candidate) => this.files.has(candidate)).slice(0, 1);
  }

  private namespaceFiles({ specifier, names }: Import): string[] {
    return this.manifests.namespaces.flatMap(({ prefix, folder }) =>
      names.flatMap((name) => {
        const full = `${specifier}\\${name}`;
        const file = full.startsWith(prefix)
          ? join(folder, `${full.slice(prefix.length).replaceAll("\\", "/")}.php`)
          : "";
        return this.files.has(file) ? [file] : [];
      }),
    );
  }
}

function add(map: Map<string, string[]>, key: string, value: string): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
