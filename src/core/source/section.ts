/** Sections of a module (functions, methods, classes, constants) with their places, and its imports. */
import type { Node } from "web-tree-sitter";
import type { ColourTypes } from "@/core/source/highlight";
import type { StatementRules } from "@/core/source/statements";

/** The kinds of sections. */
export type SectionKind = "function" | "method" | "class" | "constant";

/** A section of a file. */
export type Section = {
  /** A method's name is `Class.method`. */
  readonly name: string;
  readonly kind: SectionKind;
  /** Lines from 1, `to` inclusive; decorators belong to the decorated section. */
  readonly from: number;
  readonly to: number;
  /** Cyclomatic complexity: one, and one more for each branch (McCabe, "A Complexity Measure", 1976). */
  readonly complexity: number;
  readonly params: readonly string[];
};

/** A section as a language finds it; its branches are counted for all languages alike. */
export type FoundSection = Omit<Section, "complexity">;

/** A local name for something imported: `root` is the import, `path` the names below it. */
export type Binding = { readonly local: string; readonly root: string; readonly path: readonly string[] };

/** One import as it is written: where from, and which names when they are listed (`*` for all). */
export type Import = {
  readonly specifier: string;
  readonly names: readonly string[];
  /** From 1. */
  readonly line: number;
  /** The statement, its first line. */
  readonly text: string;
  readonly bindings: readonly Binding[];
};

/** A dotted name at a place: `np.linalg.norm` is `["np", "linalg", "norm"]`. */
export type Chain = { readonly parts: readonly string[]; readonly line: number };

/** A syntax tree with the nodes that were gathered from it, in the order of the text. */
export type TreeNodes = {
  readonly root: Node;
  readonly source: string;
  readonly find: (...types: readonly string[]) => Node[];
};

/** How one language's syntax trees are read. To add a language is one such file and a line in `index.ts`. */
export type SourceLanguage = {
  readonly name: string;
  /** As people write it. */
  readonly title: string;
  /** Extensions of its files, without the dot, in lower case. */
  readonly endings: readonly string[];
  /** Blocks are marked by indentation. */
  readonly blocksByIndentation?: boolean;
  /** Calls can name their arguments, so that one in the middle may be left out. */
  readonly namedArguments?: boolean;
  /** Names that a file's text exports; null where it shares all. Left out for a language whose sections can all be called. */
  readonly exportsOf?: (text: string) => ReadonlySet<string> | null;
  /** Methods are functions that take the object first, with the type's name as prefix. */
  readonly methodsAreFunctions?: boolean;
  /** Its numbers are all of one type: 2 and 2.0 are the same. */
  readonly hasOneNumber?: boolean;
  /** Names of methods that initialise an object; its class is what makes one. */
  readonly makers?: readonly string[];
  /** The grammar's file: its name in the package of grammars, or a package and a file of its own. */
  readonly grammar: string;
  readonly colours: ColourTypes;
  readonly findSections: (root: Node) => FoundSection[];
  /** Types of nodes and tokens that are a branch. */
  readonly branches: readonly string[];
  /** Lines on which a statement begins, from 1, ascending: the executable lines, if the driver does not report them. */
  readonly findStatementLines?: (tree: TreeNodes) => number[];
  /** Finds executable statements in its syntax trees; left out for a language whose driver reports them. */
  readonly statements?: StatementRules;
  /** Types of nodes that it asks for. */
  readonly statementTypes?: readonly string[];
  /** Types of nodes that `findImports` asks for: they are gathered in the one walk over the tree. */
  readonly importTypes: readonly string[];
  readonly findImports: (tree: TreeNodes) => Import[];
  /** Files that an import may mean, best first, relative to the side's root; the caller takes those that exist. */
  readonly importCandidates: (written: Pick<Import, "specifier" | "names">, file: string) => string[];
  /** The target of an import outside the tree: package, and the names below it in the specifier. */
  readonly outside: (specifier: string) => { readonly package: string; readonly inside: readonly string[] } | null;
  readonly uses: UseRules;
  /** Comment delimiters as `[start, end]`; an empty end means the end of the line. */
  readonly comments: readonly (readonly [string, string])[];
  /** The separators between an object and its member; a dot by default. */
  readonly accessors?: readonly string[];
  /** Files in one folder see each other's names without an import. */
  readonly sharesFolder?: boolean;
  /** The namespace or package that a file declares; its files see each other's names. */
  readonly findNamespace?: (root: Node) => string | null;
};

/** The comments of most languages with braces. */
export const SLASH_COMMENTS = [
  ["//", ""],
  ["/*", "*/"],
] as const;

/** Where a name is a use of its binding, not a declaration or a member of something else. */
export type UseRules = {
  /** Types of nodes that can be such a name. */
  readonly names: readonly string[];
  /** Member access: node type → the fields of the object and of the member's name. */
  readonly members: Readonly<Record<string, { readonly object: string; readonly member: string }>>;
  /** Parent type → fields in which a name is not a use; `*` for all. */
  readonly notUses: Readonly<Record<string, readonly string[]>>;
  /** Types of import statements: names inside are not uses. */
  readonly imports: readonly string[];
  /** Types of nodes with names of their own. */
  readonly scopes?: readonly string[];
  /** Type of the parent → fields in which a name is declared in the scope around it; `*` for all of them. */
  readonly declares?: Readonly<Record<string, readonly string[]>>;
  /** Nodes between a name and what declares it: type → fields that are looked through; `*` for all of them. */
  readonly patterns?: Readonly<Record<string, readonly string[]>>;
  /** Statements that bind a name of a scope to the file's (`global`, `nonlocal`). */
  readonly shares?: readonly string[];
  /** Whether a declaration binds the name to an import. */
  readonly isBinding?: (declaration: Node) => boolean;
  /** Roots that need no import, such as `std`. */
  readonly roots?: readonly string[];
};

/** First and last line of a node, from 1. */
export const linesOf = (node: Node): { from: number; to: number } => ({
  from: node.startPosition.row + 1,
  // A node that ends at the start of a line ends on the line before.
  to:
    node.endPosition.column === 0 && node.endPosition.row > node.startPosition.row
      ? node.endPosition.row
      : node.endPosition.row + 1,
});

/** A field's text; empty when it is not there. */
export const textOf = (node: Node | null | undefined, field?: string): string =>
  (field === undefined ? node : node?.childForFieldName(field))?.text ?? "";

/** Named children of a node; none for null. */
export const childrenOf = (node: Node | null | undefined): Node[] =>
  (node?.namedChildren ?? []).filter((child) => child !== null);

/** The place of an import and its first line of text. */
export const placeOf = (node: Node): { line: number; text: string } => ({
  line: node.startPosition.row + 1,
  text: (node.text.split("\n", 1)[0] ?? "").trim(),
});

/** The children in a field, separators aside. */
export const fieldOf = (node: Node | null | undefined, field: string): Node[] =>
  (node?.childrenForFieldName(field) ?? []).filter((child) => child?.isNamed === true);

/** The calls of functions with these names, found by their text first: most trees are made of calls of others. */
export function callsOf({ root, source }: TreeNodes, names: readonly string[], type: string): Node[] {
  const found: Node[] = [];
  for (const match of source.matchAll(new RegExp(`(?<![\\w$.])(?:${names.join("|")})(?![\\w$])`, "g"))) {
    let at = root.descendantForIndex(match.index, match.index + match[0].length);
    // A name may be wrapped in a node of its own.
    while (at && at.type !== type && at.parent?.startIndex === match.index) at = at.parent;
    if (at?.type === type) found.push(at);
  }
  return found;
}

/** Removes the quotes or angle brackets of a literal. */
export const unquote = (text: string): string => text.replace(/^["'`<]|["'`>]$/g, "");

/** A path of a specifier from a file's folder, `.` and `..` followed. */
export function joinFrom(file: string, specifier: string): string {
  const parts = file.split("/").slice(0, -1);
  for (const part of specifier.split("/")) {
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  }
  return parts.join("/");
}
