/** Syntax colours from a syntax tree: each language names the types of nodes that its grammar has for texts, numbers and types. */
import type { Node } from "web-tree-sitter";

/** c comment, s text, n number, k keyword, t type. Columns count UTF-16 units from 0, `[from, to)`; a line's spans never overlap. */
export type Span = readonly [from: number, to: number, style: Style];
type Style = "c" | "s" | "n" | "k" | "t";

/** Node types of a grammar by role. Types containing "comment" are comments. */
export type ColourTypes = {
  readonly texts: readonly string[];
  /** Code within a text. */
  readonly inserted?: readonly string[];
  readonly numbers: readonly string[];
  readonly types: readonly string[];
  /** Named nodes that are keywords or constants; anonymous word tokens are keywords anyway. */
  readonly words: readonly string[];
};

type Place = { readonly row: number; readonly column: number };

/** One list of spans a line, in order. Cost grows with the number of nodes. */
export function highlight(root: Node, lines: readonly string[], colours: ColourTypes): Span[][] {
  const spans: Span[][] = lines.map(() => []);
  const styles = stylesOf(colours);
  const inserted = new Set(colours.inserted);
  const mark = (start: Place, end: Place, style: Style) => {
    for (let row = start.row; row <= end.row; row++) {
      const from = row === start.row ? start.column : 0;
      const to = row === end.row ? end.column : (lines[row]?.length ?? 0);
      if (to > from) spans[row]?.push([from, to, style]);
    }
  };
  /** A text with code in it is coloured around the code. */
  const markText = (node: Node) => {
    let from: Place = node.startPosition;
    for (const code of outermost(node, inserted)) {
      mark(from, code.startPosition, "s");
      walk(code);
      from = code.endPosition;
    }
    mark(from, node.endPosition, "s");
  };
  const walk = (node: Node) => {
    const style = styleOf(node, styles);
    if (style === "s") markText(node);
    else if (style) mark(node.startPosition, node.endPosition, style);
    else for (const child of node.children) if (child) walk(child);
  };
  walk(root);
  return spans;
}

const stylesOf = ({ texts, numbers, types, words }: ColourTypes): ReadonlyMap<string, Style> =>
  new Map<string, Style>([
    ...texts.map((type) => [type, "s"] as const),
    ...numbers.map((type) => [type, "n"] as const),
    ...types.map((type) => [type, "t"] as const),
    ...words.map((type) => [type, "k"] as const),
  ]);

function styleOf(node: Node, styles: ReadonlyMap<string, Style>): Style | null {
  const { type } = node;
  if (node.isNamed) return styles.get(type) ?? (type.includes("comment") ? "c" : null);
  return node.childCount === 0 && /^[a-z_]+$/.test(type) ? "k" : null;
}

/** The nodes of some types below a node that are in no other such node, in order. */
function outermost(node: Node, types: ReadonlySet<string>): Node[] {
  if (types.size === 0) return [];
  return node.children.flatMap((child) => {
    if (!child) return [];
    return types.has(child.type) ? [child] : outermost(child, types);
  });
}
