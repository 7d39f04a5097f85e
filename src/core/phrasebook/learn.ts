/**
 * Phrases learned from what is ported: trees of original and twin are aligned, what differs is cut out as the smallest call,
 * expression or run of statements around it, and parts that are the same on both sides become blanks. Changes of one shape
 * are one proposal; values that change by a table become a `turn`.
 */
import type { Node } from "web-tree-sitter";
import { partsOf } from "@/core/phrasebook/code-pattern";
import { isMember } from "@/core/phrasebook/free-names";
import { parseImport } from "@/core/phrasebook/import-lines";
import { importsOf } from "@/core/phrasebook/imports";
import { isStringType } from "@/core/phrasebook/syntax";

/** A file of both sides in one language. */
export type PortedPair = {
  readonly file: string;
  readonly language: string;
  readonly original: { readonly root: Node; readonly source: string };
  readonly twin: { readonly root: Node; readonly source: string };
};

/** A change that was seen: nodes of the original and their counterparts in the twin. */
type Change = { readonly original: readonly Node[]; readonly twin: readonly Node[]; readonly pair: PortedPair };

/** A phrase as it is proposed, before it is tried on the port. */
export type LearnedPhrase = {
  readonly id: string;
  readonly kind: "code";
  readonly language: string;
  readonly from: string;
  readonly to: string;
  readonly blanks: Readonly<Record<string, object>>;
  readonly imports?: { readonly add?: readonly string[]; readonly drop?: readonly string[] };
};

export type Learned = { readonly phrase: LearnedPhrase; readonly seen: number; readonly files: readonly string[] };

/** Proposals, those seen most often first. Cost: linear in the trees, and quadratic in statements that differ. */
export function learnPhrases(pairs: readonly PortedPair[]): Learned[] {
  const groups = new Map<string, Draft[]>();
  for (const pair of pairs) {
    for (const change of changesOf(pair)) {
      const draft = draftOf(change);
      if (!draft) continue;
      const key = JSON.stringify([pair.language, draft.shape.from, draft.shape.to]);
      groups.set(key, [...(groups.get(key) ?? []), draft]);
    }
  }
  const learned: Learned[] = [];
  for (const drafts of groups.values()) {
    const phrase = generalise(drafts, learned.length + 1);
    if (phrase) learned.push({ phrase, seen: drafts.length, files: [...new Set(drafts.map(({ file }) => file))] });
  }
  return learned.sort((a, b) => b.seen - a.seen);
}

// Aligning

function changesOf(pair: PortedPair): Change[] {
  const found: Change[] = [];
  compare(pair.original.root, pair.twin.root, [], pair, found);
  return found.filter(({ original }) => !original.some((node) => IMPORTS.test(node.type)));
}

const IMPORTS = /import|preproc_include|use_declaration|using_directive|namespace_use_declaration|package/;
const CALLS =
  /^(?:call|call_expression|method_invocation|invocation_expression|function_call_expression|member_call_expression|scoped_call_expression|object_creation_expression|new_expression)$/;
const STATEMENTS =
  /statement$|declaration$|_item$|^let_declaration$|^expression_statement$|^assignment$|^short_var_declaration$/;
const BLOCKS =
  /^(?:module|program|block|compound_statement|statement_block|translation_unit|source_file|body_statement|declaration_list|class_body|stylesheet)$/;

type Ancestor = { readonly original: Node; readonly twin: Node };

function compare(original: Node, twin: Node, above: readonly Ancestor[], pair: PortedPair, found: Change[]): void {
  if (original.text === twin.text) return;
  const add = (one: readonly Node[], other: readonly Node[]) => found.push({ original: one, twin: other, pair });
  const [mine, theirs] = [partsOf(original), partsOf(twin)];
  if (original.type !== twin.type || mine.length === 0 || theirs.length === 0) {
    lift(original, twin, above, add);
    return;
  }
  // A call whose name or arguments differ is one change; what differs within an argument alone is looked at there.
  if (CALLS.test(original.type) && isOwnChange(original, twin)) {
    add([original], [twin]);
    inside(original, twin, above, pair, found);
    return;
  }
  const here = [...above, { original, twin }];
  for (const [one, other] of alignChildren(mine, theirs)) {
    const [first, second] = [one[0], other[0]];
    if (one.length === 1 && other.length === 1 && first && second) compare(first, second, here, pair, found);
    else if (one.length > 0 && other.length > 0 && (BLOCKS.test(original.type) || STATEMENTS.test(first?.type ?? "")))
      add(one, other);
    else if (one.length > 0 && other.length > 0) lift(original, twin, above, add);
  }
}

/** Receivers and arguments of a changed call that differ in themselves, as far as they belong together. */
function inside(original: Node, twin: Node, above: readonly Ancestor[], pair: PortedPair, found: Change[]): void {
  const [mine, theirs] = [calleeOf(original), calleeOf(twin)];
  const [one, other] = [mine?.namedChildren[0], theirs?.namedChildren[0]];
  if (one && other && one.id !== mine?.id && one.text !== other.text) compare(one, other, above, pair, found);
}

const calleeOf = (call: Node): Node | null =>
  call.childForFieldName("function") ??
  call.childForFieldName("constructor") ??
  call.childForFieldName("type") ??
  call.childForFieldName("method") ??
  call.childForFieldName("name");
const argumentsOf = (call: Node): Node[] =>
  partsOf(call.childForFieldName("arguments") ?? call).filter((node) => node.isNamed);
/** Whether a node is a declaration of a style sheet. */
const isStyle = (node: Node): boolean => node.type === "declaration" && node.namedChildren[0]?.type === "property_name";
const valuesOf = (style: Node): Node[] =>
  partsOf(style).filter((node) => node.isNamed && node.type !== "property_name");
const nameOf = (call: Node): string => /[\p{L}_$][\p{L}\p{N}_$]*$/u.exec(calleeOf(call)?.text ?? "")?.[0] ?? "";

/** The name differs, or arguments were added, taken away or moved. */
function isOwnChange(original: Node, twin: Node): boolean {
  if (nameOf(original) !== nameOf(twin)) return true;
  const [mine, theirs] = [argumentsOf(original), argumentsOf(twin)];
  return mine.length !== theirs.length;
}

/** A lone name is a change of its own; a literal belongs to the call around it; other things to themselves. */
function lift(
  original: Node,
  twin: Node,
  above: readonly Ancestor[],
  add: (one: readonly Node[], other: readonly Node[]) => void,
): void {
  const isLeaf = partsOf(original).length === 0;
  // A property and its value are said together in a style sheet.
  const rule = above.findLast((entry) => entry.original.type === "declaration" && isStyle(entry.original));
  if (rule) return add([rule.original], [rule.twin]);
  if (isLeaf && isStringType(original.type)) return;
  if (isLeaf && !/identifier|constant|^name$/.test(original.type)) return;
  if (isMember(original)) {
    const around = above.at(-1);
    if (around) add([around.original], [around.twin]);
    return;
  }
  add([original], [twin]);
}

/** Pairs of runs of children, in order: equal ones left out, the others by likeness. */
function alignChildren(mine: readonly Node[], theirs: readonly Node[]): (readonly [Node[], Node[]])[] {
  const groups: (readonly [Node[], Node[]])[] = [];
  let [from, to] = [0, 0];
  for (const [i, j] of commonSubsequence(mine, theirs)) {
    if (from < i || to < j) groups.push(...pairUp(mine.slice(from, i), theirs.slice(to, j)));
    [from, to] = [i + 1, j + 1];
  }
  if (from < mine.length || to < theirs.length) groups.push(...pairUp(mine.slice(from), theirs.slice(to)));
  return groups;
}

/** Longest common subsequence by equal text (Hunt and Szymanski would be faster; lists of children are short). */
function commonSubsequence(mine: readonly Node[], theirs: readonly Node[]): [number, number][] {
  const [one, other] = [mine.map(({ text }) => text), theirs.map(({ text }) => text)];
  if (one.length * other.length > MAX_CELLS) return [];
  const table = Array.from({ length: one.length + 1 }, () => new Uint16Array(other.length + 1));
  for (let i = one.length - 1; i >= 0; i--)
    for (let j = other.length - 1; j >= 0; j--)
      (table[i] ?? [])[j] =
        one[i] === other[j]
          ? (table[i + 1]?.[j + 1] ?? 0) + 1
          : Math.max(table[i + 1]?.[j] ?? 0, table[i]?.[j + 1] ?? 0);
  const found: [number, number][] = [];
  for (let [i, j] = [0, 0]; i < one.length && j < other.length; ) {
    if (one[i] === other[j]) found.push([i++, j++]);
    else if ((table[i + 1]?.[j] ?? 0) >= (table[i]?.[j + 1] ?? 0)) i++;
    else j++;
  }
  return found;
}

const MAX_CELLS = 4_000_000;

/** As many on both sides belong together in order; else each goes with the likeliest, and what is left with the one before. */
function pairUp(mine: Node[], theirs: Node[]): (readonly [Node[], Node[]])[] {
  if (mine.length === theirs.length)
    return mine.map((node, index) => [[node], theirs.slice(index, index + 1)] as const);
  if (mine.length === 0 || theirs.length === 0) return [[mine, theirs]];
  const groups: [Node[], Node[]][] = [];
  let next = 0;
  for (const [index, node] of mine.entries()) {
    const most = theirs.length - (mine.length - index - 1);
    let best = next;
    let score = -1;
    for (let at = next; at < Math.max(next + 1, most); at++) {
      const other = theirs[at];
      const like = other ? likeness(node.text, other.text) : -1;
      if (like > score) [best, score] = [at, like];
    }
    const before = groups.at(-1);
    if (before) before[1].push(...theirs.slice(next, best));
    else if (best > next) best = next;
    groups.push([[node], theirs.slice(best, best + 1)]);
    next = best + 1;
  }
  groups.at(-1)?.[1].push(...theirs.slice(next));
  return groups;
}

const wordsIn = (text: string): Set<string> => new Set(text.match(/[\p{L}_$][\p{L}\p{N}_$]*|\d+/gu));

function likeness(one: string, other: string): number {
  const [mine, theirs] = [wordsIn(one), wordsIn(other)];
  const shared = [...mine].filter((word) => theirs.has(word)).length;
  return mine.size + theirs.size === 0 ? 0 : (2 * shared) / (mine.size + theirs.size);
}

// Making general

type Part =
  | { readonly text: string }
  | { readonly blank: string; readonly isList: boolean; readonly held: string; readonly unquote?: boolean }
  | { readonly slot: string };

type Draft = {
  readonly file: string;
  readonly language: string;
  readonly from: readonly Part[];
  readonly to: readonly Part[];
  readonly shape: { readonly from: string; readonly to: string };
  readonly imports: { readonly add: readonly string[]; readonly drop: readonly string[] };
};

/** Parts that both sides share become blanks; one value that is left on each side is a slot, to be filled by a table. */
function draftOf({ original, twin, pair }: Change): Draft | null {
  const [first, last] = [original[0], original.at(-1)];
  const [twinFirst, twinLast] = [twin[0], twin.at(-1)];
  if (!first || !last || !twinFirst || !twinLast) return null;
  if (last.endIndex - first.startIndex > MAX_CHANGE || twinLast.endIndex - twinFirst.startIndex > MAX_CHANGE)
    return null;
  const texts = new Map<string, Node[]>();
  for (const node of twin) collect(node, texts);
  const blanks = new Blanks(localsOf(pair));
  const slots = { original: [] as Node[], twin: [] as Node[] };
  const from = original.flatMap((node, index) => [
    ...(index > 0 ? [{ text: "\n" }] : []),
    ...cut(node, pair.original.source, (at) => blanks.take(at, texts), slots.original),
  ]);
  if (blanks.held.size === 0 && !/identifier|^name$|constant/.test(first.type) && !isStyle(first)) return null;
  const to = twin.flatMap((node, index) => [
    ...(index > 0 ? [{ text: "\n" }] : []),
    ...cut(node, pair.twin.source, (at) => blanks.find(at), slots.twin),
  ]);
  const lists = listed(from, to);
  const isSlotted = slots.original.length === 1 && slots.twin.length === 1;
  const shown = (parts: readonly Part[]) =>
    parts
      .map((part) =>
        "text" in part ? part.text : "slot" in part ? "(:?:)" : `(:${part.isList ? ".." : part.unquote ? "'" : ""}:)`,
      )
      .join("");
  const [mine, theirs] = [lists.from, lists.to].map((parts) => (isSlotted ? parts : unslotted(parts)));
  // A style may change in its value alone; in code that is a change of data.
  const told = (parts: readonly Part[]) => shown(isStyle(first) ? unslotted(parts) : parts);
  if (!mine || !theirs || told(mine) === told(theirs)) return null;
  return {
    file: pair.file,
    language: pair.language,
    from: mine,
    to: theirs,
    shape: { from: shown(mine), to: shown(theirs) },
    imports: importChanges(pair),
  };
}

const MAX_CHANGE = 600;

const unslotted = (parts: readonly Part[]): Part[] =>
  parts.map((part) => ("slot" in part ? { text: part.slot } : part));

/** Every node's text in a tree. */
function collect(node: Node, texts: Map<string, Node[]>): void {
  if (node.isNamed) texts.set(node.text, [...(texts.get(node.text) ?? []), node]);
  for (const child of partsOf(node)) collect(child, texts);
}

/** Texts that became blanks: the original's spelling, and the twin's where quotes fell away. */
class Blanks {
  /** `locals` are names of imports: they name what is used, and stay. */
  constructor(private readonly locals: ReadonlySet<string>) {}

  readonly held = new Map<string, { readonly name: string; readonly unquote: boolean; readonly original: string }>();

  /** A blank for a node of the original that the twin has too; null where it is not shared or names what changes. */
  take(node: Node, texts: ReadonlyMap<string, readonly Node[]>): { name: string; unquote: boolean } | null {
    if (!node.isNamed || isHead(node) || PARTS.test(node.type) || this.locals.has(node.text)) return null;
    const known = [...this.held.values()].find(({ original }) => original === node.text);
    if (known) return known;
    const bare = /^["'`](\w+)["'`]$/.exec(node.text)?.[1];
    const shared = (texts.get(node.text) ?? []).some((other) => !isHead(other));
    const isUnquoted = !shared && bare !== undefined && isStringType(node.type) && texts.has(bare);
    if (!shared && !isUnquoted) return null;
    const entry = { name: NAMES[this.held.size] ?? `b${this.held.size}`, unquote: isUnquoted, original: node.text };
    this.held.set(isUnquoted ? bare : node.text, entry);
    return entry;
  }

  find(node: Node): { name: string; unquote: boolean } | null {
    const entry = node.isNamed ? this.held.get(node.text) : undefined;
    return entry && (entry.unquote || !isHead(node)) ? entry : null;
  }
}

/** Brackets and what lies in them: their contents are blanks, not they. */
const PARTS =
  /^(?:arguments|argument_list|parameters|parameter_list|formal_parameters|block|compound_statement|statement_block|string_content|string_fragment|string_start|string_end|escape_sequence)$/;

const NAMES = "abcdefghijklm";

/** The name of what is called, a member's name, or a named argument's: it names what is done, and stays. */
function isHead(node: Node): boolean {
  const { parent } = node;
  if (isMember(node) || node.type === "property_name") return true;
  if (!parent || partsOf(node).length > 0) return false;
  return (
    CALLS.test(parent.type) && (calleeOf(parent)?.id === node.id || parent.childForFieldName("name")?.id === node.id)
  );
}

/** The text of a node with blanks in it; single values that no blank holds are slots. */
function cut(
  node: Node,
  source: string,
  blankFor: (node: Node) => { name: string; unquote: boolean } | null,
  slots: Node[],
): Part[] {
  const blank = blankFor(node);
  if (blank)
    return [{ blank: blank.name, isList: false, held: node.text, ...(blank.unquote ? { unquote: true } : {}) }];
  const parts = partsOf(node);
  // A style's only value is one, whatever it is made of.
  const isOnlyValue = node.parent !== null && isStyle(node.parent) && valuesOf(node.parent)[0]?.id === node.id;
  if (isOnlyValue && valuesOf(node.parent as Node).length === 1) {
    slots.push(node);
    return [{ slot: node.text }];
  }
  if (parts.length === 0) {
    const isValue =
      isStringType(node.type) ||
      /integer|float|number|decimal/.test(node.type) ||
      (/identifier|^name$|type/.test(node.type) && !isHead(node));
    if (!isValue || !node.isNamed) return [{ text: node.text }];
    slots.push(node);
    return [{ slot: node.text }];
  }
  const cutParts: Part[] = [];
  let at = node.startIndex;
  for (const child of parts) {
    if (child.startIndex > at) cutParts.push({ text: between(source.slice(at, child.startIndex)) });
    cutParts.push(...cut(child, source, blankFor, slots));
    at = child.endIndex;
  }
  if (node.endIndex > at) cutParts.push({ text: between(source.slice(at, node.endIndex)) });
  return cutParts;
}

/** Layout between tokens as a pattern writes it. */
const between = (text: string): string => text.replace(/\/\*[\s\S]*?\*\/|(?:\/\/|#).*$/gm, "").replace(/\s+/g, " ");

/**
 * Runs of shared arguments become one list where both sides have them in an argument list. Around a changed argument there
 * is a list on each side, which may be empty elsewhere.
 */
function listed(from: readonly Part[], to: readonly Part[]): { from: Part[]; to: Part[] } {
  const runs = (parts: readonly Part[]) => joinRuns(parts);
  const [mine, theirs] = [runs(from), runs(to)];
  const heldBy = (parts: readonly Part[]) =>
    new Set(parts.flatMap((part) => ("blank" in part && part.isList ? [part.held] : [])));
  const [one, other] = [heldBy(mine), heldBy(theirs)];
  const shared = new Set([...one].filter((held) => other.has(held)));
  const named = new Map([...shared].map((held, index) => [held, `${"uvwxyz"[index] ?? "u"}`]));
  const settle = (parts: readonly Part[], plain: readonly Part[]): Part[] =>
    parts.every((part) => !("blank" in part && part.isList) || shared.has(part.held))
      ? parts.map((part) =>
          "blank" in part && part.isList ? { ...part, blank: named.get(part.held) ?? part.blank } : part,
        )
      : [...plain];
  const [a, b] = [settle(mine, from), settle(theirs, to)];
  const isSettled =
    a.some((part) => "blank" in part && part.isList) && b.some((part) => "blank" in part && part.isList);
  return isSettled ? { from: a, to: b } : { from: [...from], to: [...to] };
}

/** `a, b` within brackets of arguments as one list part. */
function joinRuns(parts: readonly Part[]): Part[] {
  const joined: Part[] = [];
  let depth = 0;
  for (const part of parts) {
    const last = joined.at(-1);
    const before = joined.at(-2);
    if ("text" in part) depth += (part.text.match(/\(/g)?.length ?? 0) - (part.text.match(/\)/g)?.length ?? 0);
    if (
      "blank" in part &&
      depth > 0 &&
      last &&
      "text" in last &&
      /^,\s*$/.test(last.text) &&
      before &&
      "blank" in before &&
      before.isList
    ) {
      joined.splice(-2, 2, { ...before, held: `${before.held}, ${part.held}` });
      continue;
    }
    const isArgument =
      "blank" in part &&
      !part.unquote &&
      depth > 0 &&
      last !== undefined &&
      "text" in last &&
      /[(,]\s*$/.test(last.text);
    joined.push(isArgument && "blank" in part ? { ...part, isList: true } : part);
  }
  return joined;
}

/** Returns the local names of a file's imports. O(nodes of its tree). */
function localsOf({ original: { root, source }, language }: PortedPair): ReadonlySet<string> {
  const known = locals.get(root);
  if (known) return known;
  const found = new Set(
    importsOf(root, source, language).flatMap(({ form }) => (form.names ?? []).map(({ local }) => local)),
  );
  locals.set(root, found);
  return found;
}

const locals = new WeakMap<Node, ReadonlySet<string>>();

function importChanges({ original, twin, language }: PortedPair): { add: string[]; drop: string[] } {
  const lines = ({ root, source }: PortedPair["original"]) =>
    importsOf(root, source, language).map(({ from, to }) => source.slice(from, to));
  const [mine, theirs] = [lines(original), lines(twin)];
  return { add: theirs.filter((line) => !mine.includes(line)), drop: mine.filter((line) => !theirs.includes(line)) };
}

/** One phrase for changes of one shape; null where their values contradict each other. */
function generalise(drafts: readonly Draft[], index: number): LearnedPhrase | null {
  const [draft] = drafts;
  if (!draft) return null;
  const blanks: Record<string, object> = {};
  const slotOf = (parts: readonly Part[]) =>
    parts.find((part): part is { readonly slot: string } => "slot" in part)?.slot;
  const table = new Map<string, string>();
  for (const { from, to } of drafts) {
    const [key, value] = [slotOf(from), slotOf(to)];
    if (key === undefined || value === undefined) continue;
    if ((table.get(key) ?? value) !== value) return null;
    table.set(key, value);
  }
  const isTable = table.size > 1;
  if (isTable) blanks.k = { turn: Object.fromEntries(table) };
  const write = (parts: readonly Part[]): string =>
    parts
      .map((part) => {
        if ("text" in part) return part.text;
        if ("slot" in part) return isTable ? "(:k:)" : part.slot;
        if (part.unquote) blanks[part.blank] = { is: ["string"], matches: `^["'][A-Za-z_]\\w*["']$`, text: "unquote" };
        return `(:${part.blank}${part.isList ? ".." : ""}:)`;
      })
      .join("");
  // A slot between lists has one on both sides: where this change has none, others may.
  const [from, to] = withLists(write(draft.from), write(draft.to));
  const { language, imports } = draft;
  const mentions = (text: string) => (line: string) =>
    namesOf(line, language).some((name) => new RegExp(`(?<![\\w.])${name}\\b`).test(text));
  // An import without names does not show which names it provides: it is added to every change that replaced one import by another.
  const [gone, come] = [imports.drop, imports.add].map((lines) => lines.filter((line) => isNameless(line, language)));
  const isReplaced = gone?.length === 1 && come?.length === 1;
  const drop = imports.drop.filter((line) => mentions(from)(line) || (isReplaced && gone.includes(line)));
  const add = imports.add.filter((line) => mentions(to)(line) || (isReplaced && come.includes(line)));
  return {
    id: `learned-${index}`,
    kind: "code",
    language,
    from,
    to,
    blanks,
    ...(add.length + drop.length > 0
      ? { imports: { ...(add.length > 0 ? { add } : {}), ...(drop.length > 0 ? { drop } : {}) } }
      : {}),
  };
}

/** A named argument that changes may have others behind it that do not. */
function withLists(from: string, to: string): [string, string] {
  const found = /(\w+)=\(:k:\)\)$/.exec(from);
  if (found && /\(:k:\)\)$/.test(to)) return [from.replace(/\)$/, ", (:more..:))"), to.replace(/\)$/, ", (:more..:))")];
  return [from, to];
}

const isNameless = (line: string, language: string): boolean => parseImport(line, language)?.names === null;

const namesOf = (line: string, language: string): string[] =>
  (parseImport(line, language)?.names ?? []).map(({ local }) => local.replace(/[^\w]/g, "")).filter(Boolean);
