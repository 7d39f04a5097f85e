/** Finds the places of a code pattern in a syntax tree. */

import type { Node } from "web-tree-sitter";
import type { Phrase } from "@/core/formats/phrasebook";
import { matchesBlank, type TestPattern } from "@/core/phrasebook/blanks";
import { type CodePattern, type PatternNode, partsOf } from "@/core/phrasebook/code-pattern";
import { hiddenRanges, isDeclaration, isMember, leavesOf } from "@/core/phrasebook/free-names";
import { meetsImport } from "@/core/phrasebook/imports";
import { isKind, type Range } from "@/core/phrasebook/syntax";

/** The content of a blank: ranges of the source in order, none for an empty list. */
export type Held = { readonly name: string; readonly ranges: readonly Range[]; readonly node: Node | null };

export type CodeMatch = Range & {
  readonly held: ReadonlyMap<string, Held>;
  /** The node at which the place begins. */
  readonly first: Node;
};

export type MatchTerms = {
  readonly testPattern: TestPattern;
  readonly root: Node;
  readonly source: string;
  readonly language: string;
};

/** Declarations of one thing in three guises. */
const DECLARATIONS = new Set([
  "declaration",
  "field_declaration",
  "parameter_declaration",
  "optional_parameter_declaration",
]);

/** The type of a pattern without a semicolon, as it is parsed. */
const DECLARED = "parameter_declaration";

/** Places, and every range that was tried: what is changed in none of them makes and takes no place. */
export type Matches = { readonly found: readonly CodeMatch[]; readonly tried: readonly Range[] };

/** Every place of the pattern, in the order of the text, the outer before the inner. Cost: a few nodes an anchor. */
export function findMatches(phrase: Phrase, pattern: CodePattern, terms: MatchTerms): Matches {
  const hidden = new Map<string, readonly Range[]>();
  const isHidden = (leaf: Node): boolean => {
    const name = leaf.text;
    const ranges = hidden.get(name) ?? hiddenRanges(leavesOf(terms.root, terms.source, name), terms.language);
    hidden.set(name, ranges);
    return ranges.some(({ from, to }) => from <= leaf.startIndex && leaf.endIndex <= to);
  };
  const found: CodeMatch[] = [];
  const seen = new Set<string>();
  const tried: Range[] = [];
  for (const first of candidates(pattern, terms)) {
    if (!mayBegin(pattern, first)) continue;
    const whole = pattern.roots.length > 1 ? (first.parent ?? first) : first;
    tried.push({ from: whole.startIndex, to: whole.endIndex });
    const match = matchAt(phrase, pattern, first, { isHidden, source: terms.source, testPattern: terms.testPattern });
    if (!match || meetsImport(terms.root, match, terms.source, terms.language)) continue;
    const key = `${match.from}:${match.to}`;
    if (seen.has(key)) continue;
    seen.add(key);
    found.push(match);
  }
  return { found: found.sort((a, b) => a.from - b.from || b.to - a.to), tried };
}

/** Whether a node is of the type that the pattern's first root has. */
function mayBegin({ roots: [root] }: CodePattern, { type }: Node): boolean {
  if (!root || root.blank || root.children.length === 0) return true;
  return root.type === type || (root.type === DECLARED && DECLARATIONS.has(type));
}

/** Candidate nodes for the pattern's first root. */
function candidates({ roots, anchor }: CodePattern, { root, source }: MatchTerms): readonly Node[] {
  const [first] = roots;
  if (!first) return [];
  const isDeclared = first.type === DECLARED && roots.length === 1;
  if (anchor !== null && !isDeclared) return aroundAnchors(anchor, root, source);
  const types = isDeclared ? [...DECLARATIONS] : [first.type];
  return root.descendantsOfType(types).filter((node) => node !== null);
}

/** Tree → anchor → its nodes: phrases that differ in their arguments alone begin at the same ones. */
const anchorsOf = new WeakMap<Node, Map<string, readonly Node[]>>();

/** Cost: some looks into the tree a mention of the anchor, once a tree. */
function aroundAnchors(anchor: Anchor, root: Node, source: string): readonly Node[] {
  const ofTree = anchorsOf.get(root) ?? new Map<string, readonly Node[]>();
  anchorsOf.set(root, ofTree);
  const key = `${anchor.depth} ${anchor.root} ${anchor.text}`;
  const known = ofTree.get(key) ?? [...nodesAround(anchor, root, source)];
  ofTree.set(key, known);
  return known;
}

function* nodesAround(anchor: Anchor, root: Node, source: string): Generator<Node> {
  const isWord = /^[\p{L}_$]/u.test(anchor.text);
  for (let at = source.indexOf(anchor.text); at >= 0; at = source.indexOf(anchor.text, at + 1)) {
    let node = root.descendantForIndex(at, at + anchor.text.length);
    if (!node || node.startIndex !== at || (isWord && node.endIndex !== at + anchor.text.length)) continue;
    // Nodes of the same extent lie around a leaf, such as a name that is a whole expression.
    for (let depth = 0; node && depth < anchor.depth; depth++) node = node.parent;
    for (let extra = 0; node && extra < MAX_EXTRA; extra++, node = node.parent) {
      let start: Node | null = node;
      for (let back = 0; start && back < anchor.root; ) {
        start = start.previousSibling;
        if (start && start.type !== "," && start.type !== ";" && !/comment/.test(start.type)) back++;
      }
      if (start) yield start;
      if (node.parent && node.parent.startIndex !== node.startIndex && node.parent.endIndex !== node.endIndex) break;
    }
  }
}

const MAX_EXTRA = 4;

type Anchor = NonNullable<CodePattern["anchor"]>;

type Own = {
  readonly isHidden: (leaf: Node) => boolean;
  readonly source: string;
  readonly testPattern: TestPattern;
};
type Binds = Map<string, Held>;

function matchAt(phrase: Phrase, { roots }: CodePattern, first: Node, own: Own): CodeMatch | null {
  const binds: Binds = new Map();
  const [root] = roots;
  if (!root) return null;
  if (roots.length === 1) {
    if (root.type === DECLARED && DECLARATIONS.has(first.type)) {
      const range = matchDeclaration(phrase, root, first, binds, own);
      return range && { ...range, held: binds, first };
    }
    if (!matchNode(phrase, root, first, binds, own)) return null;
    // A semicolon that the pattern does not have stays where it is.
    const last = root.text.endsWith(";") ? null : first.lastChild;
    const to = last?.type === ";" ? own.source.slice(0, last.startIndex).trimEnd().length : first.endIndex;
    return { from: first.startIndex, to, held: binds, first };
  }
  const siblings: Node[] = [];
  for (let node: Node | null = first; node; node = node.nextSibling)
    if (node.type !== "," && node.type !== ";" && !/comment/.test(node.type)) siblings.push(node);
  const count = matchSequence(phrase, roots, siblings, binds, own, false);
  const last = count === null ? undefined : siblings[count - 1];
  return last ? { from: first.startIndex, to: last.endIndex, held: binds, first } : null;
}

/** Before the type of a declaration; they stay as they are. */
const SPECIFIERS = /^(?:storage_class_specifier|type_qualifier|virtual|explicit_function_specifier)$/;

/** `T *n` in a declaration, field or parameter: the type, and one declarator, initialised or not. */
function matchDeclaration(phrase: Phrase, pattern: PatternNode, node: Node, binds: Binds, own: Own): Range | null {
  const parts = partsOf(node);
  const start = parts.findIndex(({ type }) => !SPECIFIERS.test(type));
  const taken = pattern.children.map((child, index) => {
    const part = parts[start + index];
    return part?.type === "init_declarator" && child.type !== "init_declarator"
      ? part.childForFieldName("declarator")
      : part;
  });
  const isFit = pattern.children.every((child, index) => {
    const part = taken[index];
    return part ? matchNode(phrase, child, part, binds, own) : false;
  });
  const [first, last] = [taken[0], taken.at(-1)];
  return isFit && first && last ? { from: first.startIndex, to: last.endIndex } : null;
}

function matchNode(phrase: Phrase, pattern: PatternNode, node: Node, binds: Binds, own: Own): boolean {
  if (pattern.blank) return bind(phrase, pattern.blank.name, [node], binds, own);
  const parts = partsOf(node);
  if (pattern.children.length === 0) {
    if (parts.length > 0) return false;
    if (pattern.text !== node.text && !(pattern.text === node.text.replace(/;$/, ""))) return false;
    return !pattern.isFree || (!isMember(node) && !isDeclaration(node) && !own.isHidden(node));
  }
  if (pattern.type !== node.type) return false;
  return matchSequence(phrase, pattern.children, parts, binds, own, true) !== null;
}

const isKeyword = (
  node: { readonly type: string; readonly text: string },
  children: readonly { readonly type: string; readonly text: string }[],
): string | null => {
  if (node.type === "keyword_argument") return children[0]?.text ?? null;
  if (node.type === "pair" && /^(?:hash_key_symbol|simple_symbol)$/.test(children[0]?.type ?? ""))
    return (children[0]?.text ?? "").replace(/:$/, "");
  if (
    node.type === "argument" &&
    (children[0]?.type === "name_colon" || (children.length > 1 && children[1]?.text === ":"))
  )
    return (children[0]?.text ?? "").replace(/\s*:$/, "");
  return null;
};

/**
 * How many nodes the patterns took, from the first on; null where they do not fit. `isWhole`: all must be taken. Named
 * arguments are found by their name, in any order; arguments before and after them go to the list blanks there.
 */
function matchSequence(
  phrase: Phrase,
  patterns: readonly PatternNode[],
  nodes: readonly Node[],
  binds: Binds,
  own: Own,
  isWhole: boolean,
): number | null {
  const named = patterns.filter((pattern) => isKeyword(pattern, pattern.children) !== null);
  if (!isWhole || named.length === 0) return inOrder(phrase, patterns, nodes, binds, own, isWhole);
  const rest = [...nodes];
  const order: { pattern: PatternNode; at: number }[] = [];
  for (const pattern of named) {
    const name = isKeyword(pattern, pattern.children);
    const at = rest.findIndex((node) => isKeyword(node, partsOf(node)) === name);
    const node = rest[at];
    if (!node || !matchNode(phrase, pattern, node, binds, own)) return null;
    order.push({ pattern, at });
    rest.splice(at, 1);
  }
  const left = patterns.filter((pattern) => !named.includes(pattern));
  // Two lists that are left side by side: the first has what goes by place, the second what goes by name.
  const byName = (node: Node) => isKeyword(node, partsOf(node)) !== null || /splat|spread/.test(node.type);
  const doubled = left.findIndex((pattern, index) => pattern.blank?.isList && left[index + 1]?.blank?.isList);
  if (doubled < 0) return inOrder(phrase, left, rest, binds, own, true) === null ? null : nodes.length;
  const firstNamed = rest.findIndex(byName);
  const [before, after] = [left.slice(0, doubled + 1), left.slice(doubled + 1)];
  const cut = firstNamed < 0 ? rest.length - countTail(after) : firstNamed;
  if (inOrder(phrase, before, rest.slice(0, cut), binds, own, true) === null) return null;
  return inOrder(phrase, after, rest.slice(cut), binds, own, true) === null ? null : nodes.length;
}

/** Nodes that the patterns after a list take in any case, such as a closing bracket. */
const countTail = (patterns: readonly PatternNode[]): number => patterns.filter(({ blank }) => !blank?.isList).length;

function inOrder(
  phrase: Phrase,
  patterns: readonly PatternNode[],
  nodes: readonly Node[],
  binds: Binds,
  own: Own,
  isWhole: boolean,
): number | null {
  const [pattern, ...others] = patterns;
  if (!pattern) return isWhole && nodes.length > 0 ? null : 0;
  if (pattern.blank?.isList) {
    // A list takes as much as it can; what is named alone cannot be a part of one.
    const most = nodes.length - countTail(others);
    for (let count = most; count >= 0; count--) {
      const taken = nodes.slice(0, count);
      if (taken.some((node) => !node.isNamed)) continue;
      const trial: Binds = new Map(binds);
      if (!bind(phrase, pattern.blank.name, taken, trial, own)) continue;
      const rest = inOrder(phrase, others, nodes.slice(count), trial, own, isWhole);
      if (rest === null) continue;
      for (const [name, held] of trial) binds.set(name, held);
      return count + rest;
    }
    return null;
  }
  const [node] = nodes;
  if (!node || !matchNode(phrase, pattern, node, binds, own)) return null;
  const rest = inOrder(phrase, others, nodes.slice(1), binds, own, isWhole);
  return rest === null ? null : rest + 1;
}

/** False where the blank may not hold this, or already holds something else. */
function bind(
  phrase: Phrase,
  name: string,
  nodes: readonly Node[],
  binds: Binds,
  { source, testPattern }: Own,
): boolean {
  const [first] = nodes;
  const { is } = phrase.blanks[name] ?? {};
  if (is && !nodes.every((node) => is.some((kind) => isKind(node, kind)))) return false;
  const ranges = rangesOf(nodes);
  const text = ranges.map(({ from, to }) => source.slice(from, to)).join(", ");
  if (!matchesBlank(phrase, name, text, testPattern)) return false;
  if (name === "_") return true;
  const before = binds.get(name);
  if (before) return textOf(before, source) === text;
  binds.set(name, { name, ranges, node: first ?? null });
  return true;
}

/** Neighbours in one range, to the letter; parts that something was taken out between are ranges of their own. */
function rangesOf(nodes: readonly Node[]): Range[] {
  const ranges: { from: number; to: number }[] = [];
  for (const [index, node] of nodes.entries()) {
    const last = ranges.at(-1);
    const before = nodes[index - 1];
    if (last && before && isNext(before, node)) last.to = node.endIndex;
    else ranges.push({ from: node.startIndex, to: node.endIndex });
  }
  return ranges;
}

function isNext(before: Node, node: Node): boolean {
  for (let at = before.nextSibling; at; at = at.nextSibling) {
    if (at.id === node.id) return true;
    if (at.isNamed && !/comment/.test(at.type)) return false;
  }
  return false;
}

/** The content of a blank, verbatim. */
export const textOf = ({ ranges }: Held, source: string): string =>
  ranges.map(({ from, to }) => source.slice(from, to)).join(", ");
