/** Input and shared helpers of the functions that propose changes. */
import type { Node } from "web-tree-sitter";
import type { Edit } from "@/core/mending/edit";
import { childrenOf } from "@/core/source/section";

/** How much less likely a change of a number is that both sides have. */
const SHARED_NUMBER = 0.3;

/** Numbers up to this may be limits that are one too large or small. */
const MAX_LIMIT = 10_000;

/** A twin's file with what is known of the fault. */
export type Site = {
  readonly root: Node;
  readonly text: string;
  /** Whether a line, from 1, is worth changing. */
  readonly isSuspect: (line: number) => boolean;
  /** Numbers and texts of the original's section. */
  readonly numbers: readonly number[];
  readonly texts: readonly string[];
  /** Branches of the original's section as the twin's language has them, each an `if` of its own. */
  readonly branches?: readonly string[];
  /** Words of the likely causes, the best first: they make some changes likelier. */
  readonly causes: readonly string[];
};

/** How a language makes small changes. */
export type MendLanguage = {
  readonly language: string;
  /** Every change worth trying on the suspect lines; the caller orders them. */
  readonly editsOf: (site: Site) => Edit[];
};

/** Collects the changes of nodes. */
export class Edits {
  readonly made: Edit[] = [];

  constructor(private readonly site: Site) {}

  /** Puts text before a node. */
  insert(node: Node, text: string, what: string, prior: number): void {
    const at = node.startIndex;
    this.made.push({ start: at, end: at, text, line: node.startPosition.row + 1, what, prior });
  }

  /** Branches of the original that the twin's file does not have to the letter. */
  get lackedBranches(): string[] {
    const plain = (text: string) => text.replace(/\s+/g, "");
    const own = plain(this.site.text);
    return (this.site.branches ?? []).filter((branch) => !own.includes(plain(branch)));
  }

  /** Swaps two nodes; `right` comes after `left` in the text. */
  exchange(left: Node, right: Node, what: string, prior: number): void {
    if (left.text === right.text || right.startIndex < left.endIndex) return;
    const between = this.site.text.slice(left.endIndex, right.startIndex);
    const at = { start: left.startIndex, end: right.endIndex, line: left.startPosition.row + 1 };
    this.made.push({ ...at, text: right.text + between + left.text, what, prior });
  }

  /** Texts of the original that have the same letters in another spelling. */
  spellings(name: string): string[] {
    const letters = (text: string) => text.replace(/[_-]/g, "").toLowerCase();
    return this.site.texts.filter((text) => text !== name && /^[\w-]+$/.test(text) && letters(text) === letters(name));
  }

  /** Adds a change of a node's text; changes that change nothing are passed over. */
  replace(node: Node, text: string, what: string, prior: number): void {
    if (node.text === text) return;
    this.made.push({ start: node.startIndex, end: node.endIndex, text, line: node.startPosition.row + 1, what, prior });
  }

  /** More likely where one of these causes is suspected. */
  likelier(prior: number, ...causes: readonly string[]): number {
    const at = this.site.causes.findIndex((cause) => causes.includes(cause));
    return at === -1 ? prior : Math.min(1, prior + 0.45 / (at + 1));
  }

  /** Other numbers: those of the original that the twin lacks first, then neighbours. */
  numbers(node: Node): void {
    const value = Number(node.text.replaceAll("_", ""));
    if (!Number.isFinite(value)) return;
    // A number that the original has too is most likely right.
    const trust = this.site.numbers.includes(value) && Math.abs(value) > 2 ? SHARED_NUMBER : 1;
    for (const other of this.site.numbers) {
      const prior = this.likelier(this.lacks(other) ? 0.75 : 0.3, "wrong-constant", "unit-factor");
      this.replace(node, String(other), `${node.text} becomes ${other}`, prior * trust);
    }
    // Adding nothing is better left out.
    const isAdded = /[+-]\s*$/.test(this.site.text.slice(0, node.startIndex));
    // A large number is no limit: its neighbours would only hide the fault.
    const nextTo = Math.abs(value) <= MAX_LIMIT ? [value + 1, value - 1] : [];
    for (const other of nextTo.filter((one) => one !== 0 || !isAdded))
      this.replace(
        node,
        String(other),
        `${node.text} becomes ${other}`,
        this.likelier(0.35, "off-by-one", "boundary", "constant-offset") * trust,
      );
    for (const other of [value * 10, value / 10, value * 1000, value / 1000])
      if (Number.isInteger(other))
        this.replace(node, String(other), `${node.text} becomes ${other}`, this.likelier(0.1, "unit-factor") * trust);
  }

  /** Whether the twin's file has the number nowhere. */
  private lacks(number: number): boolean {
    return !new RegExp(`(?<![\\w.])${String(number).replace(".", "\\.")}(?![\\w.])`).test(this.site.text);
  }

  /** Other texts: those of the original that the twin lacks first. */
  texts(node: Node, quote: (text: string) => string): void {
    for (const other of this.site.texts) {
      const isMissing = !this.site.text.includes(other);
      this.replace(
        node,
        quote(other),
        `a text becomes ${JSON.stringify(other)}`,
        this.likelier(isMissing ? 0.7 : 0.2, "separator", "error-message", "wrong-constant"),
      );
    }
  }

  /** One of a group of words or signs by each other. */
  swap(node: Node, groups: readonly (readonly string[])[], prior: number): void {
    for (const group of groups) {
      if (!group.includes(node.text)) continue;
      for (const other of group) this.replace(node, other, `${node.text} becomes ${other}`, prior);
    }
  }

  /** Neighbouring arguments by each other. */
  swapArguments(list: Node | null): void {
    const args = childrenOf(list).filter(({ type }) => type !== "comment");
    for (const [index, left] of args.entries()) {
      const right = args[index + 1];
      if (!right || left.text === right.text) continue;
      this.made.push({
        start: left.startIndex,
        end: right.endIndex,
        text: `${right.text}, ${left.text}`,
        line: left.startPosition.row + 1,
        what: `${left.text} and ${right.text} change places`,
        prior: 0.3,
      });
    }
  }

  /** Arguments that are one more or less; `isDate` where they are a year, a month and a day. */
  nextTo(args: readonly Node[], isDate: boolean): void {
    for (const [index, arg] of args.entries()) {
      if (/function|string|object|array|list|dictionary|lambda/.test(arg.type)) continue;
      const prior = isDate && index === 1 ? this.likelier(0.4, "zero-based-month") : this.likelier(0.12, "off-by-one");
      for (const step of ["- 1", "+ 1"]) this.replace(arg, `${arg.text} ${step}`, `an argument is ${step}`, prior);
    }
  }

  /** Changes a returned value: shifted by one, with the opposite sign, or negated; `not` is the language's negation sign. */
  answer(value: Node, not: string): void {
    const shifted = this.likelier(0.15, "off-by-one", "zero-based-month", "constant-offset");
    for (const step of ["+ 1", "- 1"]) this.replace(value, `(${value.text}) ${step}`, `the answer is ${step}`, shifted);
    this.replace(value, `-(${value.text})`, "the answer changes its sign", this.likelier(0.1, "sign-flip"));
    this.replace(value, `${not}(${value.text})`, "the answer is negated", 0.1);
  }

  /** Other names of the same function: its parameters and what it declares. */
  names(node: Node, known: readonly string[]): void {
    for (const other of known) this.replace(node, other, `${node.text} becomes ${other}`, 0.22);
  }
}

/** Number and text literals of one object by each other. */
export function literals(node: Node, edits: Edits): void {
  for (const type of ["number", "integer", "float", "string"]) {
    const found = node.descendantsOfType(type).flatMap((literal) => (literal ? [literal] : []));
    for (const [at, left] of found.entries())
      for (const right of found.slice(at + 1, at + 4))
        edits.exchange(left, right, `${left.text} and ${right.text} change places`, 0.12);
  }
}

/** All nodes on suspect lines, outer ones first. */
export function* suspectNodes({ root, isSuspect }: Site): Generator<Node> {
  const waiting: Node[] = [root];
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    if (isSuspect(node.startPosition.row + 1)) yield node;
    for (const child of (node.children ?? []).toReversed()) if (child) waiting.push(child);
  }
}

/** The nearest node around of one of these types. */
export function around(node: Node, types: RegExp): Node | null {
  for (let at = node.parent; at; at = at.parent) if (types.test(at.type)) return at;
  return null;
}

/** The names that a function declares, by the types of their nodes. */
export function namesIn(scope: Node, types: readonly string[]): string[] {
  const found = new Set<string>();
  for (const node of scope.descendantsOfType([...types])) if (node) found.add(node.text);
  return [...found].slice(0, 12);
}
