/**
 * A pattern of code: parsed by the language's own grammar with blanks in place of names, in the first surroundings in which
 * it is sound code. Whatever is compared is a node of the tree, so layout and comments do not count.
 */
import type { Node } from "web-tree-sitter";
import { SideTwinError } from "@/core/errors";
import type { Phrase } from "@/core/formats/phrasebook";
import { isDeclaration, isMember } from "@/core/phrasebook/free-names";
import { isCommentType } from "@/core/phrasebook/syntax";
import { parseTemplate } from "@/core/phrasebook/template";

/** A syntax tree that must be freed. */
export type ParsedTree = {
  readonly root: Node;
  readonly free: () => void;
  /** A second tree of the same text, to be freed by itself. Cost: none. */
  readonly copy: () => ParsedTree;
  /** Notes what is changed in `source`, the text so far; `root` is of no use from then on. */
  readonly edit: (source: string, edits: readonly TreeEdit[]) => void;
  /** Parses the text after the edits, only what they touch, and frees this tree. */
  readonly reparse: (text: string) => ParsedTree | null;
};

/** A range of the text before and what takes its place; those of one change do not overlap and are in order. */
export type TreeEdit = { readonly from: number; readonly to: number; readonly text: string };

/** Parses a text; null for a language without a grammar. */
export type ParseText = (text: string, language: string) => ParsedTree | null;

/** A node of a pattern. Leaves are compared by their text. */
export type PatternNode = {
  readonly type: string;
  readonly text: string;
  readonly children: readonly PatternNode[];
  readonly blank: { readonly name: string; readonly isList: boolean } | null;
  /** A free name in the pattern: its place must be a use of the file's import or global. */
  readonly isFree: boolean;
};

export type CodePattern = {
  /** One node, or several siblings. */
  readonly roots: readonly PatternNode[];
  /** A literal leaf to look for, and how far above it a root lies; null where the pattern has none. */
  readonly anchor: { readonly text: string; readonly depth: number; readonly root: number } | null;
  /** Whether a list blank is all that a pair of braces holds, so that the white space inside is kept. */
  readonly braced: ReadonlySet<string>;
};

type Surroundings = readonly [before: string, after: string];

const C_LIKE: readonly Surroundings[] = [
  ["void z() {\n", "\n}"],
  ["void z() { z = ", "; }"],
  ["void z(", ") {}"],
  ["", ""],
  ["struct z {\n", "\n};"],
  ["", " z;"],
];

const SCRIPT: readonly Surroundings[] = [
  ["", ""],
  ["(", ")"],
  ["function z() {\n", "\n}"],
  ["async function z() {\n", "\n}"],
  ["class Z {\n", "\n}"],
];

const SURROUNDINGS: Readonly<Record<string, readonly Surroundings[]>> = {
  python: [
    ["", ""],
    ["def z():\n    ", ""],
    ["async def z():\n    ", ""],
    ["z = ", ""],
    ["def z(", "): pass"],
    ["", "\ndef z(): pass"],
    ["class Z:\n    ", ""],
  ],
  javascript: SCRIPT,
  typescript: [...SCRIPT, ["let z: ", ";"], ["function z(", ") {}"], ["interface Z {\n", "\n}"]],
  tsx: [...SCRIPT, ["let z: ", ";"], ["function z(", ") {}"], ["interface Z {\n", "\n}"]],
  java: [
    ["class Z { void z() {\n", "\n} }"],
    ["class Z { void z() { z = ", "; } }"],
    ["class Z {\n", "\n}"],
    ["", ""],
    ["class Z { ", " z; }"],
    ["class Z { void z(", ") {} }"],
    ["class Z { ", "\nvoid z() {} }"],
  ],
  c: C_LIKE,
  cpp: [...C_LIKE, ["class z {\n", "\n};"]],
  csharp: [
    ["class Z { void Y() {\n", "\n} }"],
    ["class Z { void Y() { z = ", "; } }"],
    ["class Z {\n", "\n}"],
    ["", ""],
    ["class Z { ", " z; }"],
    ["class Z { void Y(", ") {} }"],
    ["class Z { ", "\nvoid Y() {} }"],
  ],
  go: [
    ["package z\nfunc z() {\n", "\n}"],
    ["package z\nfunc z() { z = ", "\n}"],
    ["package z\n", ""],
    ["package z\ntype z struct {\n", "\n}"],
    ["package z\nvar z ", ""],
    ["package z\nfunc z(", ") {}"],
  ],
  rust: [
    ["fn z() {\n", "\n}"],
    ["fn z() { z = ", "; }"],
    ["", ""],
    ["struct Z {\n", "\n}"],
    ["impl Z {\n", "\n}"],
    ["fn z(z: ", ") {}"],
    ["fn z(", ") {}"],
    ["", "\nfn z() {}"],
  ],
  ruby: [
    ["", ""],
    ["z = ", ""],
    ["class Z\n", "\nend"],
  ],
  php: [
    ["<?php\n", ""],
    ["<?php\nz(", ");"],
    ["<?php\nclass Z {\n", "\n}"],
    ["<?php\nfunction z(", ") {}"],
  ],
  css: [
    ["", ""],
    ["z {\n", "\n}"],
    ["z { ", "; }"],
    ["z { z: ", "; }"],
  ],
};

/** How a list blank is spelled, tried in turn: a name, a statement, a parameter of a language with types. */
const LIST_SPELLINGS = ["", ";", "T"] as const;

const MARK = "zq";
const blankWord = (name: string, isList: boolean): string => `${MARK}${isList ? "l" : "s"}_${name}_${MARK}`;
const BLANK_WORD = new RegExp(`^(?:T )?\\$?${MARK}([ls])_(\\w+?)_${MARK};?$`);

/** Throws SideTwinError `bad-input` where the pattern is code in no surroundings. */
export function compilePattern(
  phrase: Pick<Phrase, "id" | "from" | "language" | "blanks">,
  parse: ParseText,
): CodePattern {
  const { from, language = "", id } = phrase;
  for (const spelling of LIST_SPELLINGS) {
    const text = spell(from, spelling);
    for (const [before, after] of surroundingsFor(phrase)) {
      const tree = parse(`${before}${text}${after}`, language);
      if (!tree) throw noGrammar(id, language);
      try {
        if (tree.root.hasError) continue;
        const nodes = spanning(tree.root, before.length + lead(text), before.length + text.trimEnd().length);
        if (nodes)
          return finish(
            nodes.map((node) => toPattern(node)),
            from,
          );
      } finally {
        tree.free();
      }
    }
  }
  throw new SideTwinError({
    code: "bad-input",
    what: `The phrase "${id}" is not code of ${language}: ${from}`,
    where: { key: `${id}.from` },
    next: "Write it as in a source file, with (:blank:) for what changes.",
  });
}

const lead = (text: string): number => text.length - text.trimStart().length;

const noGrammar = (id: string, language: string): SideTwinError =>
  new SideTwinError({
    code: "bad-input",
    what: `The phrase "${id}" is code of "${language}", which is not read`,
    where: { key: "language" },
    next: 'Use a "text" phrase for it.',
  });

/** A pointer to a name is a declaration in C, unless the blanks say nothing of names. */
function surroundingsFor({
  from,
  language = "",
  blanks,
}: Pick<Phrase, "from" | "language" | "blanks">): readonly Surroundings[] {
  const all = SURROUNDINGS[language] ?? [["", ""]];
  const pointed = /[*&]\s*\(:(\w+):\)\s*$/.exec(from)?.[1];
  const isDeclared = pointed !== undefined && (blanks[pointed]?.is?.includes("name") ?? false);
  return isDeclared ? [...all].sort((a, b) => Number(b[0].endsWith("z(")) - Number(a[0].endsWith("z("))) : all;
}

function spell(pattern: string, spelling: (typeof LIST_SPELLINGS)[number]): string {
  return parseTemplate(pattern)
    .map((part) => {
      if (part.kind === "text") return part.text;
      const word = blankWord(part.name, part.isList);
      if (!part.isList || spelling === "") return word;
      return spelling === ";" ? `${word};` : `T ${word}`;
    })
    .join("");
}

/** The node of exactly that range, in its innermost wrapper, or the siblings that fill it; null where it cuts nodes. */
function spanning(root: Node, from: number, to: number): Node[] | null {
  let node = root.descendantForIndex(from, Math.max(from, to - 1));
  while (node && (node.startIndex > from || node.endIndex < to)) node = node.parent;
  if (!node) return null;
  if (node.startIndex === from && node.endIndex === to) return [innermost(node)];
  const inside = node.children.flatMap((child) =>
    child && child.startIndex >= from && child.endIndex <= to ? [child] : [],
  );
  const isWhole = inside[0]?.startIndex === from && inside.at(-1)?.endIndex === to;
  return isWhole ? inside : null;
}

function innermost(node: Node): Node {
  const [only, ...others] = node.children.filter((child) => child !== null && !isCommentType(child.type));
  return only?.isNamed && others.length === 0 ? innermost(only) : node;
}

function toPattern(node: Node): PatternNode {
  const blank = BLANK_WORD.exec(node.text);
  if (blank) {
    const [, kind, name = ""] = blank;
    return { type: node.type, text: node.text, children: [], blank: { name, isList: kind === "l" }, isFree: false };
  }
  const children = partsOf(node).map(toPattern);
  const isName = children.length === 0 && /identifier$|^name$|^constant$/.test(node.type);
  const isFree = isName && !isMember(node) && !isDeclaration(node);
  return { type: node.type, text: node.text, children, blank: null, isFree };
}

/** The children that are compared: no comments, no commas, no semicolons. Texts and numbers are leaves. */
export function partsOf(node: Node): Node[] {
  if (isLeafLike(node)) return [];
  return node.children.flatMap((child) =>
    child && !isCommentType(child.type) && child.type !== "," && child.type !== ";" && child.endIndex > child.startIndex
      ? [child]
      : [],
  );
}

/** Texts without interpolations are compared whole. */
const isLeafLike = (node: Node): boolean =>
  node.childCount === 0 ||
  (/^(?:string|string_literal|interpreted_string_literal|raw_string_literal|char_literal|character_literal|encapsed_string|string_value|verbatim_string_literal|integer_value|float_value)$/.test(
    node.type,
  ) &&
    !node.namedChildren.some((child) => child && /interpolation|substitution|variable_name/.test(child.type)));

function finish(roots: readonly PatternNode[], from: string): CodePattern {
  const braced = new Set([...from.matchAll(/\{\s*\(:(\w+)\.\.:\)\s*\}/g)].map(([, name = ""]) => name));
  let anchor: CodePattern["anchor"] = null;
  const visit = (node: PatternNode, depth: number, root: number) => {
    if (node.blank) return;
    if (node.children.length === 0) {
      const isBetter = anchor === null || weight(node.text) > weight(anchor.text);
      if (isBetter) anchor = { text: node.text, depth, root };
    }
    for (const child of node.children) visit(child, depth + 1, root);
  };
  for (const [index, root] of roots.entries()) visit(root, 0, index);
  return { roots, anchor, braced };
}

/** Long words are rare in a text; signs are everywhere. */
const weight = (text: string): number => (/^[\p{L}_$]/u.test(text) ? 100 + Math.min(text.length, 40) : text.length);

/** Every leaf of a pattern that is not a blank, as it is spelled. */
export function literalWords({ roots }: CodePattern): string[] {
  const words: string[] = [];
  const open = [...roots];
  for (let node = open.pop(); node; node = open.pop()) {
    if (node.children.length === 0 && node.blank === null && /[\p{L}\p{N}]/u.test(node.text)) words.push(node.text);
    open.push(...node.children);
  }
  return words;
}
