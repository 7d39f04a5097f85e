/** Changes of Python that concern how texts and numbers are cut, written and chained. */
import type { Node } from "web-tree-sitter";
import type { Edits } from "@/core/mending/site";
import { childrenOf, textOf } from "@/core/source/section";

/** A bound of a slice, one more or less. */
export function sliceBounds(node: Node, edits: Edits): void {
  const prior = edits.likelier(0.2, "off-by-one", "cut-short", "last-item", "code-units");
  // Neighbours of plain numbers are tried anyway.
  for (const bound of childrenOf(node).filter(({ type }) => type !== "integer"))
    for (const step of ["- 1", "+ 1"]) edits.replace(bound, `${bound.text} ${step}`, `the bound is ${step}`, prior);
}

const FORMATS = ["02d", ".0f", ".1f", ".2f", ".3f", "g"];

/** A substitution of an f-string with a format. */
export function interpolated(node: Node, edits: Edits): void {
  const value = node.childForFieldName("expression");
  if (!value || /:/.test(node.text.slice(value.text.length + 1))) return;
  const rounded = /^round\((.*)\)$/s.exec(value.text)?.[1];
  const prior = edits.likelier(0.04, "number-format", "rounding-mode");
  for (const format of FORMATS) edits.replace(node, `{${value.text}:${format}}`, `it is written with ${format}`, prior);
  if (rounded !== undefined && !rounded.includes(","))
    for (const format of FORMATS.slice(1, 5))
      edits.replace(node, `{${rounded}:${format}}`, `it is written with ${format} instead of rounded`, prior + 0.05);
}

/** The calls of a chain in other orders: `a.f(x).g(y)` by `a.g(y).f(x)`, and the last before all others. */
export function chained(node: Node, edits: Edits): void {
  const tails: string[] = [];
  let base: Node | null = node;
  while (base?.type === "call") {
    const callee: Node | null = base.childForFieldName("function");
    if (callee?.type !== "attribute") break;
    tails.unshift(`.${textOf(callee, "attribute")}${textOf(base, "arguments")}`);
    base = callee.childForFieldName("object");
  }
  const [last = "", before = ""] = [tails.at(-1), tails.at(-2)];
  if (!base || tails.length < 2) return;
  const prior = edits.likelier(0.15, "escaping", "first-only", "whitespace");
  const start = base.text;
  edits.replace(
    node,
    start + tails.slice(0, -2).join("") + last + before,
    "two calls of the chain change places",
    prior,
  );
  if (tails.length > 2)
    edits.replace(node, start + last + tails.slice(0, -1).join(""), "the last call of the chain comes first", prior);
}

/** A value that is assigned, kept within 32 bits. */
export function within32Bits(value: Node, edits: Edits): void {
  const prior = edits.likelier(0, "int32-wrap");
  if (prior === 0 || !/[*+<^-]/.test(value.text)) return;
  edits.replace(value, `(${value.text}) & 0xFFFFFFFF`, "it has 32 bits without a sign", prior);
  edits.replace(
    value,
    `(((${value.text}) + 0x80000000) & 0xFFFFFFFF) - 0x80000000`,
    "it has 32 bits with a sign",
    prior,
  );
}
