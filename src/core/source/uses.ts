/**
 * Finds where imported names are used. Occurrences are found in the text and then classified in the syntax tree:
 * whether each is a use, how far its member access goes, and whether a local shadows it. Walking the whole tree would
 * take longer than parsing.
 */
import type { Node } from "web-tree-sitter";
import type { Chain, TreeNodes, UseRules } from "@/core/source/section";

/**
 * Uses of any of the names, in the order of the text. `tree` must have gathered the scopes and imports of the rules. Cost:
 * linear in the text, and a few nodes an occurrence.
 */
export function findUses(tree: TreeNodes, names: Iterable<string>, rules: UseRules): Chain[] {
  const wanted = new Set(names);
  wanted.delete("");
  wanted.delete("*");
  if (wanted.size === 0) return [];
  const { root, source } = tree;
  const inImport = new Sweep(tree.find(...rules.imports));
  const scopes = new Sweep(rules.declares ? tree.find(...(rules.scopes ?? [])) : []);
  const own = new ScopeNames(rules);
  const candidates: { readonly word: string; readonly at: Placed; readonly scopes: readonly Node[] }[] = [];
  for (const { word, index } of findWords(source, wanted)) {
    if (inImport.around(index).length > 0) continue;
    const node = root.descendantForIndex(index, index + word.length);
    // A part of a longer node is a word of a comment or a string.
    if (!node || node.endIndex - node.startIndex !== word.length) continue;
    const at = { node, parent: node.parent };
    const around = scopes.around(index);
    if (around.length > 0) own.note(word, at, around);
    if (isUse(at, rules)) candidates.push({ word, at, scopes: [...around] });
  }
  return candidates
    .filter(({ word, scopes: around }) => !own.isOwn(word, around))
    .map(({ word, at }) => ({ parts: chainFrom(at, word, source, rules), line: at.node.startPosition.row + 1 }));
}

/** A node with its parent, cached because the parser finds it from the root. */
type Placed = { readonly node: Node; readonly parent: Node | null };

const isIn = (parent: Node, fields: readonly string[] | undefined, node: Node): boolean =>
  fields?.some((field) => field === "*" || parent.childrenForFieldName(field).some((child) => child?.id === node.id)) ??
  false;

/** Names declared by each scope: a declaration hides an import anywhere in its scope. */
class ScopeNames {
  private readonly declared = new Map<number, Set<string>>();
  private readonly shared = new Map<number, Set<string>>();
  constructor(private readonly rules: UseRules) {}

  /** Classifies an occurrence; `scopes` are those around it, outermost first. */
  note(word: string, { node, parent }: Placed, scopes: readonly Node[]): void {
    const { declares = {}, patterns = {}, shares = [], isBinding } = this.rules;
    let [at, above] = [node, parent];
    while (above && isIn(above, patterns[above.type], at)) [at, above] = [above, above.parent];
    if (!above) return;
    const inner = scopes.at(-1);
    if (shares.includes(above.type)) add(this.shared, inner, word);
    if (!isIn(above, declares[above.type], at) || isBinding?.(above)) return;
    // A function's name is one of what lies around it.
    const isName = inner?.id === above.id && above.childForFieldName("name")?.id === at.id;
    add(this.declared, isName ? scopes.at(-2) : inner, word);
  }

  isOwn(word: string, scopes: readonly Node[]): boolean {
    return scopes.some(({ id }) => this.declared.get(id)?.has(word) && !this.shared.get(id)?.has(word));
  }
}

function add(to: Map<number, Set<string>>, scope: Node | undefined, word: string): void {
  if (!scope) return;
  const words = to.get(scope.id);
  if (words) words.add(word);
  else to.set(scope.id, new Set([word]));
}

type Place = { readonly word: string; readonly index: number };

/**
 * Finds the words of a set in a text. Most words differ from the set by first letter or length and are never cut out:
 * four times as fast as a pattern for words.
 */
export function findWords(source: string, wanted: ReadonlySet<string>): Place[] {
  const longest = Math.max(...[...wanted].map((word) => word.length));
  const slot = (first: number, length: number) => (first < ASCII ? first : 0) * (longest + 1) + length;
  const likely = new Uint8Array(ASCII * (longest + 1));
  for (const word of wanted) likely[slot(word.charCodeAt(0), word.length)] = 1;
  const found: Place[] = [];
  for (let at = 0; at < source.length; at++) {
    const first = source.charCodeAt(at);
    const kind = kindOf(first);
    if (kind === OTHER) continue;
    const start = at;
    while (at + 1 < source.length && kindOf(source.charCodeAt(at + 1)) !== OTHER) at++;
    const length = at + 1 - start;
    if (kind === DIGIT || length > longest || likely[slot(first, length)] === 0) continue;
    const word = source.slice(start, at + 1);
    if (wanted.has(word)) found.push({ word, index: start });
  }
  return found;
}

const ASCII = 128;
const [OTHER, LETTER, DIGIT] = [0, 1, 2];

/** Classes of code units in words: names begin with letters, `_` and `$`. */
const readKind = (code: number): number => {
  const letter = String.fromCharCode(code);
  // The letters that are two units long are names in some languages, and nothing else in code.
  if (/[\p{L}_$]/u.test(letter) || (code >= 0xd800 && code < 0xe000)) return LETTER;
  return /\p{N}/u.test(letter) ? DIGIT : OTHER;
};
const KINDS = Uint8Array.from({ length: ASCII }, (_, code) => readKind(code));
const kindOf = (code: number): number => (code < ASCII ? (KINDS[code] ?? OTHER) : readKind(code));

/** Returns the nodes of a sorted list that enclose places, given in the same order. */
class Sweep {
  private next = 0;
  private open: Node[] = [];
  constructor(private readonly nodes: readonly Node[]) {}

  around(index: number): readonly Node[] {
    for (let node = this.nodes[this.next]; node && node.startIndex <= index; node = this.nodes[++this.next])
      this.open.push(node);
    if (this.open.some((node) => node.endIndex <= index)) this.open = this.open.filter((node) => node.endIndex > index);
    return this.open;
  }
}

function isUse({ node, parent }: Placed, rules: UseRules): boolean {
  if (!rules.names.includes(node.type)) return false;
  if (!parent) return true;
  const access = rules.members[parent.type];
  // Returns the accessed member, or the name itself if nothing is accessed.
  if (access && parent.childForFieldName(access.object) && parent.childForFieldName(access.member)?.id === node.id)
    return false;
  return !isIn(parent, rules.notUses[parent.type], node);
}

/** `np` in `np.linalg.norm(x)` gives all three names. */
function chainFrom(first: Placed, word: string, source: string, rules: UseRules): string[] {
  const parts = [word];
  for (let { node: at, parent } = first; ; ) {
    const access = parent ? rules.members[parent.type] : undefined;
    if (!parent || !access || parent.childForFieldName(access.object)?.id !== at.id) break;
    const member = parent.childForFieldName(access.member);
    if (!member || member.endIndex - member.startIndex > 80) break;
    parts.push(source.slice(member.startIndex, member.endIndex).replace(/<.*$/s, ""));
    [at, parent] = [parent, parent.parent];
  }
  return parts;
}
