/** Classifies nodes of syntax trees across grammars. */
import type { Node } from "web-tree-sitter";

/** Offsets of a text, the end exclusive. */
export type Range = { readonly from: number; readonly to: number };

export const isCommentType = (type: string): boolean => /comment/.test(type);

const STRINGS =
  /^(?:string|string_literal|concatenated_string|interpreted_string_literal|raw_string_literal|raw_string|template_string|char_literal|character_literal|string_value|encapsed_string|heredoc|nowdoc|rune_literal|verbatim_string_literal|interpolated_string_expression|text_block|heredoc_body|subshell|regex|bare_string|system_lib_string|delimited_symbol)$/;
const NUMBERS =
  /(?:integer|float|number|decimal|real)(?:_literal|_value|_point_literal|_integer_literal|_floating_point_literal)?$|_integer_literal$|^int_literal$|^float_literal$/;
const NAMES = /identifier$|^name$|^variable_name$|^constant$|^instance_variable$|^global_variable$/;
const CALLS = /call|invocation|object_creation_expression|new_expression|macro_invocation/;

/** A node in its innermost wrapper of the same extent, such as C#'s `argument` around an expression. */
export function unwrapped(node: Node): Node {
  let at = node;
  for (
    let child = at.namedChildren[0];
    child && at.namedChildCount === 1 && child.startIndex === at.startIndex && child.endIndex === at.endIndex;
    child = at.namedChildren[0]
  )
    at = child;
  return at;
}

/** Whether a node is what a blank asks for. */
export function isKind(node: Node, kind: "string" | "number" | "name" | "call" | "any"): boolean {
  const at = unwrapped(node);
  switch (kind) {
    case "any":
      return true;
    case "string":
      return STRINGS.test(at.type);
    case "number":
      return NUMBERS.test(at.type) || /^[-+]?(?:\d|\.\d)[\w.]*$/.test(at.text);
    case "name":
      return NAMES.test(at.type) && /^[$@]{0,2}[\p{L}_$][\p{L}\p{N}_$]*[!?]?$/u.test(at.text);
    case "call":
      return CALLS.test(at.type);
  }
}

export const isStringType = (type: string): boolean => STRINGS.test(type);

/** Where an offset of a source lies. Interpolations in texts are code. */
export function regionAt(root: Node, from: number, to: number): "code" | "comment" | "string" {
  for (let node: Node | null = root.descendantForIndex(from, to); node; node = node.parent) {
    if (isCommentType(node.type)) return "comment";
    if (
      /interpolation|template_substitution|string_expression|expression_list/.test(node.type) &&
      !STRINGS.test(node.type)
    )
      return "code";
    if (
      STRINGS.test(node.type) ||
      /^(?:string_content|string_fragment|string_start|escape_sequence|heredoc_content)$/.test(node.type)
    )
      return "string";
  }
  return "code";
}

/** Whether a file's brackets and quotes are closed, roughly: C with macros is sound though its tree has errors. */
export function isBalanced(source: string): boolean {
  const bare = source
    .replace(/\/\*[\s\S]*?\*\//g, "")
    .replace(/\/\/.*$/gm, "")
    .replace(/"(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'/g, '""');
  const open: string[] = [];
  const pairs: Readonly<Record<string, string>> = { ")": "(", "]": "[", "}": "{" };
  for (const sign of bare.match(/[()[\]{}]/g) ?? []) {
    const wanted = pairs[sign];
    if (wanted === undefined) open.push(sign);
    else if (open.pop() !== wanted) return false;
  }
  return open.length === 0;
}
