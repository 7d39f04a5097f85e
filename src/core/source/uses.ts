/**
 * Where names that stand for something of another file are used. Their occurrences are found in the text and then looked at
 * in the syntax tree, which says whether one is a use, how far its member access goes, and whether a function has a name of
 * its own there; walking the whole tree would take longer than parsing.
 */
import type { Node } from "web-tree-sitter";
import type { Chain, TreeNodes, UseRules } from "@/core/source/section";

/**
 * Uses of any of the names, in the order of the text. `tree` must have gathered the scopes and imports of the rules. Cost:
 * linear in the text, and a few nodes an occurrence.
 */
export function findUses(tree: TreeNodes, names: Iterable<string>, rules: UseRules): Chain[] {
  const wanted = [...new Set(names)].filter((name) => name !== "" && name !== "*");
  if (wanted.length === 0) return [];
  const { root, source } = tree;
  const isWanted = new Set(wanted);
  const inImport = new Sweep(tree.find(...rules.imports));
  const scopes = new Sweep(rules.declaredIn ? tree.find(...(rules.scopes ?? [])) : []);
  const declared = new Map<Node, ReadonlySet<string>>();
  const declaredIn = (scope: Node) => {
    const known = declared.get(scope) ?? rules.declaredIn?.(scope) ?? new Set<string>();
    declared.set(scope, known);
    return known;
  };
  const found: Chain[] = [];
  // One pattern for all words: a set tells those that are looked for quicker than an alternation of hundreds.
  for (const match of source.matchAll(WORD)) {
    const [word] = match;
    if (!isWanted.has(word) || inImport.around(match.index).length > 0) continue;
    const node = root.descendantForIndex(match.index, match.index + word.length);
    if (!node || node.endIndex - node.startIndex !== word.length || !isUse(node, rules)) continue;
    if (scopes.around(match.index).some((scope) => declaredIn(scope).has(word))) continue;
    found.push({ parts: chainFrom(node, word, source, rules), line: node.startPosition.row + 1 });
  }
  return found;
}

const WORD = /[\p{L}_$][\p{L}\p{N}_$]*/gu;

/** The nodes of a list, in the order of the text, that lie around places which are asked for in that order too. */
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

function isUse(node: Node, rules: UseRules): boolean {
  if (!rules.names.includes(node.type)) return false;
  const { parent } = node;
  if (!parent) return true;
  const access = rules.members[parent.type];
  // The member of something else; where nothing is accessed, as in a call of a bare name, it stands for itself.
  if (access && parent.childForFieldName(access.object) && parent.childForFieldName(access.member)?.id === node.id)
    return false;
  const fields = rules.notUses[parent.type];
  if (!fields) return true;
  return !fields.some(
    (field) => field === "*" || parent.childrenForFieldName(field).some((child) => child?.id === node.id),
  );
}

/** `np` in `np.linalg.norm(x)` gives all three names. */
function chainFrom(node: Node, word: string, source: string, rules: UseRules): string[] {
  const parts = [word];
  for (let at = node; ; ) {
    const { parent } = at;
    const access = parent ? rules.members[parent.type] : undefined;
    if (!parent || !access || parent.childForFieldName(access.object)?.id !== at.id) break;
    const member = parent.childForFieldName(access.member);
    if (!member || member.endIndex - member.startIndex > 80) break;
    parts.push(source.slice(member.startIndex, member.endIndex).replace(/<.*$/s, ""));
    at = parent;
  }
  return parts;
}
