/** The sections of a module: functions, methods, classes and constants, with where they stand. */
import type { Node } from "web-tree-sitter";

export type SectionKind = "function" | "method" | "class" | "constant";

export type Section = {
  /** A method's name is `Class.method`. */
  readonly name: string;
  readonly kind: SectionKind;
  /** Lines from 1, `to` included; a decorator belongs to what it decorates. */
  readonly from: number;
  readonly to: number;
  /** Cyclomatic complexity: one, and one more for each branch (McCabe, "A Complexity Measure", 1976). */
  readonly complexity: number;
  readonly params: readonly string[];
};

/** How one language's syntax trees are read. To add a language is one such file and a line in `index.ts`. */
export type SourceLanguage = {
  readonly name: string;
  readonly title: string;
  /** The grammar's file name in its package. */
  readonly grammar: string;
  readonly findSections: (root: Node) => Section[];
  /** Lines on which a statement begins, from 1, ascending: what can be run, where the language's driver does not say. */
  readonly findStatementLines?: (root: Node) => number[];
  readonly findImports: (root: Node) => Import[];
  /** Files that an import may mean, best first, relative to the side's root; the caller takes those that exist. */
  readonly importCandidates: (written: Import, file: string) => string[];
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

/** Counts the branches below a node, without going into sections of their own. */
export function complexityOf(node: Node, branches: ReadonlySet<string>): number {
  let count = 1;
  const walk = (inner: Node) => {
    for (const child of inner.children) {
      if (!child) continue;
      if (branches.has(child.type)) count++;
      walk(child);
    }
  };
  walk(node);
  return count;
}

/** One import as it is written: where from, and which names when they are listed. */
export type Import = { readonly specifier: string; readonly names: readonly string[] };
