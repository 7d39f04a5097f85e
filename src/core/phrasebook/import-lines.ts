/** Import statements, as far as adding and dropping them goes: what they name, and their text without some names. */

/** `names` are null where the whole module comes in without a list of names, as with `#include`. */
export type ImportForm = {
  readonly module: string;
  readonly names: readonly { readonly name: string; readonly local: string }[] | null;
};

const clean = (text: string): string =>
  text
    .replace(/\/\*[\s\S]*?\*\//g, " ")
    .replace(/(?:\/\/|#(?!include|!)).*$/gm, " ")
    .trim();

const listed = (list: string, alias: RegExp): { name: string; local: string }[] =>
  list
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const [name = part, local = name] = part.split(alias).map((word) => word.trim());
      return { name, local };
    });

const last = (dotted: string): string => dotted.split(/[.\\/]|::/).at(-1) ?? dotted;

/** Parses an import statement of a language; null for other text. */
export function parseImport(text: string, language: string): ImportForm | null {
  const line = clean(text).replace(/\s+/g, " ").replace(/;$/, "").trim();
  switch (language) {
    case "python": {
      const from = /^from (\S+) import \(?([^)]*)\)?$/.exec(line);
      if (from) return { module: from[1] ?? "", names: listed(from[2] ?? "", / as /) };
      const plain = /^import (.+)$/.exec(line);
      return plain
        ? {
            module: "",
            names: listed(plain[1] ?? "", / as /).map(({ name, local }) => ({
              name,
              local: local === name ? (name.split(".")[0] ?? name) : local,
            })),
          }
        : null;
    }
    case "javascript":
    case "typescript":
    case "tsx": {
      const bare = /^import ["'](.+)["']$/.exec(line);
      if (bare) return { module: bare[1] ?? "", names: [] };
      const given = /^(?:import|export)(?: type)? (.+?) from ["'](.+)["']$/.exec(line);
      if (given) return { module: given[2] ?? "", names: scriptNames(given[1] ?? "") };
      const required = /^(?:const|let|var) (.+?) = require\(["'](.+)["']\)/.exec(line);
      return required
        ? { module: required[2] ?? "", names: scriptNames((required[1] ?? "").replace(/:/g, " as ")) }
        : null;
    }
    case "java": {
      const found = /^import (static )?([\w.]+(?:\.\*)?)$/.exec(line);
      return found ? named(found[2] ?? "", ".") : null;
    }
    case "csharp": {
      const found = /^(?:global )?using (static )?(?:(\w+) = )?([\w.]+)$/.exec(line);
      if (!found) return null;
      return found[2]
        ? { module: found[3] ?? "", names: [{ name: found[3] ?? "", local: found[2] }] }
        : { module: found[3] ?? "", names: null };
    }
    case "c":
    case "cpp": {
      const found = /^#\s*include\s*([<"].+[>"])/.exec(text.trim());
      return found ? { module: found[1] ?? "", names: null } : null;
    }
    case "go": {
      const found = /^(?:import )?(?:([\w.]+) )?"(.+)"$/.exec(line);
      if (!found) return null;
      const name = found[2] ?? "";
      return { module: name, names: [{ name, local: found[1] ?? last(name) }] };
    }
    case "rust": {
      const found = /^(?:pub(?:\([^)]*\))? )?use (.+)$/.exec(line);
      if (!found) return null;
      const [, path = "", list] = /^(.*?)(?:::)?\{(.*)\}$/.exec(found[1] ?? "") ?? [];
      if (list !== undefined) return { module: path, names: listed(list, / as /) };
      const [whole = "", local] = (found[1] ?? "").split(/ as /);
      const cut = whole.lastIndexOf("::");
      const name = cut < 0 ? whole : whole.slice(cut + 2);
      return { module: cut < 0 ? "" : whole.slice(0, cut), names: [{ name, local: local ?? name }] };
    }
    case "php": {
      const found = /^use (?:function |const )?(.+)$/.exec(line);
      if (!found) return null;
      const [whole = "", local] = (found[1] ?? "").split(/ as /);
      const { module, names } = named(whole.replace(/^\\/, ""), "\\");
      return { module, names: names?.map((entry) => ({ ...entry, local: local ?? entry.local })) ?? null };
    }
    case "ruby": {
      const found = /^(require|require_relative) \(?["'](.+)["']\)?$/.exec(line);
      return found ? { module: `${found[1]} ${found[2]}`, names: null } : null;
    }
    case "css": {
      const found = /^@import (.+)$/.exec(line);
      return found ? { module: found[1] ?? "", names: null } : null;
    }
    default:
      return null;
  }
}

function named(path: string, separator: string): ImportForm {
  const cut = path.lastIndexOf(separator);
  const name = path.slice(cut + 1);
  return { module: cut < 0 ? "" : path.slice(0, cut), names: name === "*" ? null : [{ name, local: name }] };
}

function scriptNames(clause: string): { name: string; local: string }[] {
  const braces = /\{(.*)\}/.exec(clause);
  const inside = listed((braces?.[1] ?? "").replace(/\btype /g, ""), / as /);
  const rest = clause
    .replace(/\{.*\}/, "")
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);
  return [
    ...rest.map((part) => {
      const all = /^\* as (\w+)$/.exec(part);
      return all ? { name: "*", local: all[1] ?? "" } : { name: "default", local: part };
    }),
    ...inside,
  ];
}

/** Whether two statements bring in the same module the same way, as far as modules go. */
export const isSameModule = (one: ImportForm, other: ImportForm): boolean =>
  one.module === other.module && (one.names === null) === (other.names === null);

/** A joint import without some of its names; null where nothing is left of it. Layout and comments stay where they can. */
export function withoutNames(text: string, form: ImportForm, gone: ReadonlySet<string>): string | null {
  const names = form.names ?? [];
  const left = names.filter(({ name }) => !gone.has(name));
  if (left.length === 0) return null;
  let changed = text;
  for (const { name } of names) {
    if (!gone.has(name)) continue;
    const word = name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
    const item = String.raw`(?:type\s+)?(?<![\w.])${word}(?![\w.])(?:\s+as\s+\w+)?`;
    const after = new RegExp(String.raw`${item}\s*,[ \t]*(?:\r?\n[ \t]*)?`);
    const before = new RegExp(String.raw`,\s*${item}`);
    const head = changed.search(/\bimport\b|\buse\b|\{/);
    const [start, rest] = [changed.slice(0, Math.max(0, head)), changed.slice(Math.max(0, head))];
    changed = start + (after.test(rest) ? rest.replace(after, "") : rest.replace(before, ""));
  }
  return changed;
}
