/**
 * Where names that stand for something of another file are used. Their occurrences are found in the text and then looked at
 * in the syntax tree, which says whether one is a use, how far its member access goes, and whether a function has a name of
 * its own there; walking the whole tree would take longer than parsing.
 */
import type { Node } from "web-tree-sitter";
import type { Chain, UseRules } from "@/core/source/section";

/** Uses of any of the names, in the order of the text. Cost: linear in the text, and a few nodes an occurrence. */
export function findUses(root: Node, source: string, names: Iterable<string>, rules: UseRules): Chain[] {
  const wanted = [...new Set(names)].filter((name) => name !== "" && name !== "*");
  if (wanted.length === 0) return [];
  const escaped = wanted.map((name) => name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  const occurrence = new RegExp(`(?<![\\p{L}\\p{N}_$])(?:${escaped.join("|")})(?![\\p{L}\\p{N}_$])`, "gu");
  const declared = new Map<number, ReadonlySet<string>>();
  const found: Chain[] = [];
  for (const match of source.matchAll(occurrence)) {
    const node = root.descendantForIndex(match.index, match.index + match[0].length);
    if (!node || node.text !== match[0] || !isUse(node, rules) || isShadowed(node, rules, declared)) continue;
    found.push({ parts: chainFrom(node, rules), line: node.startPosition.row + 1 });
  }
  return found;
}

function isUse(node: Node, rules: UseRules): boolean {
  if (!rules.names.includes(node.type)) return false;
  const { parent } = node;
  if (!parent || isWithin(node, rules.imports)) return parent === null;
  const access = rules.members[parent.type];
  // The member of something else; where nothing is accessed, as in a call of a bare name, it stands for itself.
  if (access && parent.childForFieldName(access.object) && parent.childForFieldName(access.member)?.id === node.id)
    return false;
  const fields = rules.notUses[parent.type] ?? [];
  return !fields.some(
    (field) => field === "*" || parent.childrenForFieldName(field).some((child) => child?.id === node.id),
  );
}

function isWithin(node: Node, types: readonly string[]): boolean {
  // Imports are not nested deep: nobody looks through a whole function body for one.
  for (let [at, steps] = [node.parent, 0] as [Node | null, number]; at && steps < 6; at = at.parent, steps++)
    if (types.includes(at.type)) return true;
  return false;
}

/** Whether a function around it has a name of its own. */
function isShadowed(node: Node, rules: UseRules, declared: Map<number, ReadonlySet<string>>): boolean {
  const { scopes, declaredIn } = rules;
  if (!scopes || !declaredIn) return false;
  for (let at = node.parent; at; at = at.parent) {
    if (!scopes.includes(at.type)) continue;
    const names = declared.get(at.id) ?? declaredIn(at);
    declared.set(at.id, names);
    if (names.has(node.text)) return true;
  }
  return false;
}

/** `np` in `np.linalg.norm(x)` gives all three names. */
function chainFrom(node: Node, rules: UseRules): string[] {
  const parts = [node.text];
  for (let at = node; at.parent; ) {
    const access = rules.members[at.parent.type];
    if (!access || at.parent.childForFieldName(access.object)?.id !== at.id) break;
    const member = at.parent.childForFieldName(access.member);
    if (!member || member.text.length > 80) break;
    parts.push(member.text.replace(/<.*$/s, ""));
    at = at.parent;
  }
  return parts;
}
