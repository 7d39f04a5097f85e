/** Changes of JavaScript and TypeScript that concern whole loops and functions. */
import type { Node } from "web-tree-sitter";
import type { Edits } from "@/core/mending/site";
import { childrenOf } from "@/core/source/section";

/** `for (i = 1; i <= n; …)` by `for (i = 0; i < n; …)`, and the other way round. */
export function countedFrom(node: Node, edits: Edits): void {
  const body = node.childForFieldName("body");
  if (!body) return;
  const head = node.text.slice(0, body.startIndex - node.startIndex);
  const prior = edits.likelier(0.2, "off-by-one", "last-item");
  const fromOne = head.replace(/(=\s*)1(\s*;\s*[\w$]+\s*)<=/, "$10$2<");
  const fromNull = head.replace(/(=\s*)0(\s*;\s*[\w$]+\s*)<(?!=)/, "$11$2<=");
  for (const [text, start] of [
    [fromOne, 0],
    [fromNull, 1],
  ] as const)
    if (text !== head) edits.replace(node, text + body.text, `the loop counts from ${start}`, prior);
}

/** A function that works on copies of its parameters. */
export function copiedParameters(scope: Node, edits: Edits): void {
  const prior = edits.likelier(0, "changed-argument");
  const [first] = childrenOf(scope.childForFieldName("body"));
  if (prior === 0 || !first || scope.childForFieldName("body")?.type !== "statement_block") return;
  for (const parameter of childrenOf(scope.childForFieldName("parameters"))) {
    const name = /^[\w$]+/.exec(parameter.text)?.[0];
    if (!name) continue;
    for (const copy of [`{ ...${name} }`, `[...${name}]`])
      edits.insert(first, `${name} = ${copy}; `, `${name} is copied first`, prior);
  }
}
