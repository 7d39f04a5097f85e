/** Platform-bound items: the catalogue of each language, and its places in a tree. */

import type { Place, SurveyedFile } from "@/core/survey/file-facts";
import type { OutsideUse } from "@/core/survey/outside";
import { c } from "@/core/survey/snags/c";
import { cpp } from "@/core/survey/snags/cpp";
import { csharp } from "@/core/survey/snags/csharp";
import { go } from "@/core/survey/snags/go";
import { java } from "@/core/survey/snags/java";
import { javascript } from "@/core/survey/snags/javascript";
import { php } from "@/core/survey/snags/php";
import { python } from "@/core/survey/snags/python";
import { ruby } from "@/core/survey/snags/ruby";
import { rust } from "@/core/survey/snags/rust";
import { fits, type SnagKind, type SnagRule } from "@/core/survey/snags/snag";

/** Language → its catalogue, one line each. */
export const SNAGS: Readonly<Record<string, readonly SnagRule[]>> = {
  python,
  javascript,
  java,
  c,
  cpp,
  csharp,
  go,
  rust,
  ruby,
  php,
  typescript: javascript,
  tsx: javascript,
};

export type Snag = {
  readonly kind: SnagKind;
  readonly name: string;
  readonly title: string;
  readonly why: string;
  readonly uses: readonly Place[];
};

/** Names of the language itself that are looked for in a file. */
export const snagNames = (language: string): string[] => [
  ...new Set(
    (SNAGS[language] ?? []).flatMap(({ builtins = [] }) =>
      builtins.map((name) => name.split(".")[0]?.replace("*", "") ?? ""),
    ),
  ),
];

/** Types of nodes that are looked for in a file. */
export const snagSyntax = (language: string): string[] => [
  ...new Set((SNAGS[language] ?? []).flatMap(({ syntax = [] }) => syntax)),
];

/** Sorted by number of places, most first. Cost: uses × rules of their language. */
export function findSnags(files: readonly SurveyedFile[], outside: readonly OutsideUse[]): Snag[] {
  const found = new Map<string, Snag & { uses: Place[] }>();
  const add = ({ kind, title, why }: SnagRule, name: string, place: Place) => {
    const key = `${title}\0${name}`;
    const entry = found.get(key) ?? { kind, name, title, why, uses: [] };
    found.set(key, entry);
    entry.uses.push(place);
  };
  const languageOf = new Map(files.map((file) => [file.path, file.language]));
  for (const use of outside) {
    const name = use.name === "*" ? use.package : `${use.package}.${use.name}`;
    // A name has many places and few languages.
    const rulesOf = new Map<string, readonly SnagRule[]>();
    for (const place of use.uses) {
      const language = languageOf.get(place.file) ?? "";
      const rules = rulesOf.get(language) ?? rulesFor(use, language);
      rulesOf.set(language, rules);
      for (const rule of rules) add(rule, name, place);
    }
  }
  for (const file of files) for (const { rule, name, place } of ownSnags(file)) add(rule, name, place);
  return [...found.values()].sort(
    (one, other) => other.uses.length - one.uses.length || (one.name < other.name ? -1 : 1),
  );
}

/** Returns the rules that an outside use matches. */
function rulesFor(use: OutsideUse, language: string): SnagRule[] {
  const full = `${use.package}.${use.name}`;
  return (SNAGS[language] ?? []).filter(
    ({ packages, names }) =>
      packages?.some((pattern) => fits(use.package, pattern)) || names?.some((pattern) => fits(full, pattern)),
  );
}

type OwnSnag = { readonly rule: SnagRule; readonly name: string; readonly place: Place };

const own = new WeakMap<SurveyedFile, readonly OwnSnag[]>();

/** Cached per file facts: most of a tree is unchanged the next time. */
function ownSnags(file: SurveyedFile): readonly OwnSnag[] {
  const known = own.get(file) ?? findOwn(file);
  own.set(file, known);
  return known;
}

/** The language's own names and syntax in one file; a name that the file brings in or defines is not the language's. */
function findOwn(file: SurveyedFile): OwnSnag[] {
  const found: OwnSnag[] = [];
  const add = (rule: SnagRule, name: string, place: Place) => found.push({ rule, name, place });
  const rules = SNAGS[file.language] ?? [];
  const brought = new Set([
    ...file.imports.flatMap(({ bindings }) => bindings.map(({ local }) => local)),
    ...file.sections.map(({ name }) => name),
  ]);
  for (const { parts, line } of file.uses) {
    if (brought.has(parts[0] ?? "")) continue;
    const full = parts.join(".");
    const rule = rules.find(({ builtins = [] }) =>
      builtins.some((pattern) => fits(full, pattern) || (!pattern.includes(".") && parts[0] === pattern)),
    );
    if (rule) add(rule, full, { file: file.path, line });
  }
  for (const { type, line } of file.syntax) {
    const rule = rules.find(({ syntax = [] }) => syntax.includes(type));
    if (rule) add(rule, syntaxName(type), { file: file.path, line });
  }
  return found;
}

const syntaxName = (type: string): string =>
  type.replace(/_(statement|clause|expression|specifier|declaration|definition|item|block)$/, "").replaceAll("_", " ");
