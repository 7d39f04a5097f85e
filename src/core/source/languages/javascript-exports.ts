/** Which sections of a JavaScript or TypeScript file others can reach: what it exports, of either module system. */

const DECLARED =
  /\bexport\s+(?:default\s+)?(?:declare\s+)?(?:abstract\s+)?(?:async\s+)?(?:function\s*\*?|class|const|let|var|enum)\s+([\w$]+)/g;
const DEFAULT = /\bexport\s+default\s+([\w$]+)\s*;?\s*$/gm;
const LISTED = /\bexport\s*(?:type\s*)?\{([^}]*)\}(?!\s*from\b)/g;
const ASSIGNED = /\bexports\.([\w$]+)\s*=(?!=)/g;
const WHOLE = /\bmodule\.exports\s*=(?!=)\s*(?:exports\s*=\s*)?(?:new\s+)?([\w$]+)\b/g;
const OBJECT = /(?:\bmodule\.exports\s*=|\bObject\.assign\(\s*(?:module\.)?exports\s*,)\s*\{/g;

/**
 * Returns the names of a text that it exports, own names and not their aliases; null for a script, which exports
 * nothing and shares everything. Exports by other means (a loop over names, a spread) are missed: a caller
 * should treat the answer as a proposal. Cost: linear in the text.
 */
export function exportsOf(text: string): ReadonlySet<string> | null {
  const names = new Set<string>();
  for (const [, name = ""] of [
    ...text.matchAll(DECLARED),
    ...text.matchAll(DEFAULT),
    ...text.matchAll(ASSIGNED),
    ...text.matchAll(WHOLE),
  ])
    names.add(name);
  for (const [, list = ""] of text.matchAll(LISTED))
    for (const [, name = ""] of list.matchAll(/(?:^|,)\s*(?:type\s+)?([\w$]+)/g)) names.add(name);
  for (const found of text.matchAll(OBJECT)) {
    const body = bodyFrom(text, (found.index ?? 0) + found[0].length);
    // Keys and the names behind them: either may be a section.
    for (const [name] of body.matchAll(/[\w$]+/g)) names.add(name);
  }
  // `exports.price = compute` names the section on the right.
  for (const [, name = ""] of text.matchAll(/\bexports\.[\w$]+\s*=\s*([\w$]+)\s*;?\s*$/gm)) names.add(name);
  return names.size > 0 ? names : null;
}

/** The text of a brace that is open at `from`. */
function bodyFrom(text: string, from: number): string {
  let depth = 1;
  for (let at = from; at < text.length; at++) {
    if (text[at] === "{") depth++;
    else if (text[at] === "}" && --depth === 0) return text.slice(from, at);
  }
  return text.slice(from);
}
