/** Mutants of TypeScript: small changes of one place each, which a test should notice. */
import type { Node } from "web-tree-sitter";

export type Mutant = {
  readonly operator: string;
  /** Offsets of the replaced text, in UTF-16 units. */
  readonly from: number;
  readonly to: number;
  readonly text: string;
  readonly line: number;
};

const FLIPS: Readonly<Record<string, readonly [operator: string, text: string]>> = {
  "<": ["boundary", "<="],
  "<=": ["boundary", "<"],
  ">": ["boundary", ">="],
  ">=": ["boundary", ">"],
  "===": ["equality", "!=="],
  "!==": ["equality", "==="],
  "&&": ["and/or", "||"],
  "||": ["and/or", "&&"],
  "+": ["plus/minus", "-"],
  "-": ["plus/minus", "+"],
};

const DROPPED_CALLS = new Set(["slice", "filter", "trim", "reverse", "sort"]);

type Rule = (node: Node) => Omit<Mutant, "line"> | null;

const replace = (node: Node, operator: string, text: string) => ({
  operator,
  from: node.startIndex,
  to: node.endIndex,
  text,
});

const RULES: readonly Rule[] = [
  (node) => {
    if (node.type !== "binary_expression") return null;
    const sign = node.childForFieldName("operator");
    const flip = FLIPS[sign?.type ?? ""];
    const isText = /^["'`]/.test(node.childForFieldName("left")?.text ?? "") || /["'`]$/.test(node.text);
    if (!sign || !flip || (flip[0] === "plus/minus" && isText)) return null;
    return replace(sign, flip[0], flip[1]);
  },
  (node) =>
    node.type === "number" && /^\d+$/.test(node.text) && !/literal_type/.test(node.parent?.type ?? "")
      ? replace(node, "off by one", String(Number(node.text) + 1))
      : null,
  (node) =>
    node.type === "unary_expression" && node.text.startsWith("!")
      ? replace(node, "negation", `(${node.childForFieldName("argument")?.text ?? ""})`)
      : null,
  (node) => {
    const [yes, no] = [node.childForFieldName("consequence"), node.childForFieldName("alternative")];
    if (node.type !== "ternary_expression" || !yes || !no) return null;
    return {
      operator: "ternary swapped",
      from: yes.startIndex,
      to: no.endIndex,
      text: `${no.text} : ${yes.text}`,
    };
  },
  (node) => {
    if (node.type !== "if_statement") return null;
    const condition = node.childForFieldName("condition");
    return condition ? replace(condition, "branch off", "(false)") : null;
  },
  (node) => {
    const callee = node.childForFieldName("function");
    const object = callee?.childForFieldName("object");
    const name = callee?.childForFieldName("property")?.text ?? "";
    if (node.type !== "call_expression" || !object || !DROPPED_CALLS.has(name)) return null;
    return replace(node, `${name} dropped`, object.text);
  },
  (node) =>
    node.type === "expression_statement" && node.namedChild(0)?.type === "call_expression"
      ? replace(node, "call dropped", ";")
      : null,
];

/** Every mutant of a syntax tree, in the order of the text; types, imports and texts are left alone. */
export function mutantsOf(root: Node): Mutant[] {
  const found: Mutant[] = [];
  const walk = (node: Node): void => {
    if (/^(import_statement|type_alias_declaration|interface_declaration|type_annotation)$/.test(node.type)) return;
    for (const rule of RULES) {
      const mutant = rule(node);
      if (mutant) found.push({ ...mutant, line: node.startPosition.row + 1 });
    }
    for (const child of node.namedChildren) if (child) walk(child);
  };
  walk(root);
  return found.sort((a, b) => a.from - b.from);
}
