/** Branches of a function, each as an `if` of its own, so that one that a twin lacks can be put into it. */
import type { Node } from "web-tree-sitter";
import { childrenOf, textOf } from "@/core/source/section";

const MAX_BRANCHES = 8;
const MAX_TEXT = 600;

/**
 * The branches in some lines, from 1, of a tree of JavaScript, TypeScript or Python, the outer ones first; an `else if` becomes an
 * `if`. Long ones and those that call `withheld` names, which the twin does not have, are left out.
 */
export function branchesIn(
  root: Node,
  { from, to }: { readonly from: number; readonly to: number },
  withheld: RegExp | null,
): string[] {
  const found: string[] = [];
  for (const node of root.descendantsOfType(["if_statement", "elif_clause"])) {
    if (!node || node.startPosition.row + 1 < from || node.endPosition.row + 1 > to) continue;
    const body = node.childForFieldName("consequence");
    const condition = textOf(node, "condition");
    if (!body || condition === "") continue;
    const text = body.type === "block" ? pythonBranch(condition, body) : `if ${condition} ${body.text}`;
    if (text.length <= MAX_TEXT && !withheld?.test(text)) found.push(text);
  }
  return [...new Set(found)].slice(0, MAX_BRANCHES);
}

/** The `if` at the left edge, its statements indented by one step. */
function pythonBranch(condition: string, body: Node): string {
  const statements = childrenOf(body).map((statement) => {
    const column = statement.startPosition.column;
    return statement.text.replaceAll(`\n${" ".repeat(column)}`, "\n    ");
  });
  return `if ${condition}:\n    ${statements.join("\n    ")}\n`;
}
