/** Gives the names of sections in a text the twin's spelling. */
import type { Node } from "web-tree-sitter";

/** The text with every identifier that is a key of `names` replaced by its value; strings and comments stay. Linear. */
export function renameIdentifiers(root: Node, text: string, names: ReadonlyMap<string, string>): string {
  const places: { readonly from: number; readonly to: number; readonly text: string }[] = [];
  const waiting: Node[] = [root];
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    const name = node.childCount === 0 && /identifier|name|constant/.test(node.type) ? names.get(node.text) : undefined;
    if (name !== undefined) places.push({ from: node.startIndex, to: node.endIndex, text: name });
    for (const child of node.children) if (child) waiting.push(child);
  }
  let made = text;
  for (const { from, to, text: put } of places.sort((left, right) => right.from - left.from))
    made = made.slice(0, from) + put + made.slice(to);
  return made;
}
