/** Changes of JavaScript and TypeScript that concern how texts are made, cut and matched. */
import type { Node } from "web-tree-sitter";
import type { Edits } from "@/core/mending/site";
import { childrenOf, textOf } from "@/core/source/section";

const WIDTHS = [2, 3];

/** A substitution of a template, by its expression. */
export function substituted(value: Node, edits: Edits): void {
  for (const width of WIDTHS)
    edits.replace(
      value,
      `String(${value.text}).padStart(${width}, "0")`,
      `it has at least ${width} digits`,
      edits.likelier(0.05, "number-format"),
    );
  edits.replace(value, `${value.text} ?? ""`, "nothing is no text", edits.likelier(0.02, "null-and-missing"));
}

/** A call: of a method that splits, or a function that converts. */
export function convertingCall(node: Node, edits: Edits): void {
  const callee = node.childForFieldName("function");
  const args = childrenOf(node.childForFieldName("arguments"));
  const [first] = args;
  if (!callee || !first) return;
  const name = callee.text;
  if (name === "parseInt")
    edits.replace(node, `Number(${first.text})`, "it keeps its fraction", edits.likelier(0.3, "floor-or-truncate"));
  if (name === "String")
    edits.replace(first, `${first.text} ?? ""`, "nothing is no text", edits.likelier(0.1, "null-and-missing"));
  if (callee.type !== "member_expression" || textOf(callee, "property") !== "split") return;
  const separator = first.text.slice(1, -1);
  const list = node.childForFieldName("arguments");
  if (list && separator === " ")
    edits.replace(
      list,
      "(/\\s+/).filter(Boolean)",
      "it is split at blanks, without empty parts",
      edits.likelier(0.3, "whitespace", "error-added", "duplicates"),
    );
  if (list && separator === "\\n")
    edits.replace(list, "(/\\r\\n|\\r|\\n/)", "it is split at all line ends", edits.likelier(0.3, "line-ending"));
}

/** A regular expression: its last class of characters repeated, and all places instead of the first. */
export function pattern(node: Node, edits: Edits): void {
  const [, body = "", flags = ""] = /^\/(.*)\/(\w*)$/s.exec(node.text) ?? [];
  const prior = edits.likelier(0.15, "separator", "first-only", "whitespace", "duplicates");
  if (body.endsWith("]") || /\\[sdw]$/i.test(body))
    edits.replace(node, `/${body}+/${flags}`, "several in a row count as one", prior);
  if (/[^\\]\+$/.test(body)) edits.replace(node, `/${body.slice(0, -1)}/${flags}`, "each counts by itself", prior);
  if (!flags.includes("g")) edits.replace(node, `/${body}/${flags}g`, "every place is matched", prior);
  if (!flags.includes("i"))
    edits.replace(node, `/${body}/${flags}i`, "capitals match small letters", edits.likelier(0.05, "text-case"));
}
