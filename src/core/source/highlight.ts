/** Syntax colours from a syntax tree: comments, texts, numbers and keywords, whatever the language. */
import type { Node } from "web-tree-sitter";

/** c comment, s text, n number, k keyword. Columns count UTF-16 units from 0, `[from, to)`. */
export type Span = readonly [from: number, to: number, style: "c" | "s" | "n" | "k"];

/** One list of spans a line. Cost grows with the number of nodes. */
export function highlight(root: Node, lines: readonly string[]): Span[][] {
  const spans: Span[][] = lines.map(() => []);
  const mark = (node: Node, style: Span[2]) => {
    for (let row = node.startPosition.row; row <= node.endPosition.row; row++) {
      const from = row === node.startPosition.row ? node.startPosition.column : 0;
      const to = row === node.endPosition.row ? node.endPosition.column : (lines[row]?.length ?? 0);
      if (to > from) spans[row]?.push([from, to, style]);
    }
  };
  const walk = (node: Node) => {
    const style = styleOf(node);
    if (style) mark(node, style);
    else for (const child of node.children) if (child) walk(child);
  };
  walk(root);
  return spans;
}

function styleOf(node: Node): Span[2] | null {
  const { type } = node;
  if (type.includes("comment")) return "c";
  if (
    type === "string" ||
    type === "template_string" ||
    type === "string_literal" ||
    type === "char_literal" ||
    type === "regex"
  ) {
    return "s";
  }
  if (type === "integer" || type === "float" || type === "number" || type === "number_literal") return "n";
  if (!node.isNamed && node.childCount === 0 && /^[a-z]+$/.test(type)) return "k";
  return ["true", "false", "none", "null", "undefined", "predefined_type"].includes(type) ? "k" : null;
}
