/** The name that a project's own manifest gives it. */
import { parse as parseJsonc } from "jsonc-parser";
import { parse as parseToml } from "smol-toml";

/** Reads the name out of a manifest's text; null where it has none. May throw on a malformed text. */
type NameReader = (text: string) => unknown;

const inJson: NameReader = (text) => (parseJsonc(text) as { name?: unknown } | undefined)?.name;

const inToml =
  (...tables: readonly string[]): NameReader =>
  (text) => {
    const root = parseToml(text) as Record<string, unknown>;
    return tables.map((table) => (root[table] as { name?: unknown } | undefined)?.name).find((name) => name);
  };

/** One line a manifest, the first that is there counts. */
const MANIFESTS: readonly (readonly [file: string, read: NameReader])[] = [
  ["package.json", inJson],
  ["pyproject.toml", inToml("project")],
  ["Cargo.toml", inToml("package")],
  ["composer.json", inJson],
  ["go.mod", (text) => /^module\s+(\S+)/m.exec(text)?.[1]],
  ["CMakeLists.txt", (text) => /^\s*project\s*\(\s*([\w.-]+)/im.exec(text)?.[1]],
];

/**
 * The project's name, without scope, vendor or host, and without the version that a Go path may end in. `texts` are the manifests by
 * path. Null where none names it: a guess that a person can correct.
 */
export function findPackageName(texts: ReadonlyMap<string, string>): string | null {
  for (const [file, read] of MANIFESTS) {
    const text = texts.get(file);
    const name = text === undefined ? null : attempt(() => read(text));
    if (typeof name !== "string") continue;
    const last =
      name
        .replace(/\/v\d+$/, "")
        .split("/")
        .at(-1)
        ?.trim() ?? "";
    if (last !== "") return last;
  }
  return null;
}

function attempt(read: () => unknown): unknown {
  try {
    return read();
  } catch {
    return null;
  }
}
