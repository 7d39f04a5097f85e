/** How deep JSON may be nested: deeper than any program's input, and shallow enough for every reader and writer on the way. */
import { type Place, SideTwinError } from "@/core/errors";

const MAX_NESTED = 500;

/** Throws SideTwinError for JSON text whose brackets are nested too deep to be parsed by recursion. Linear in the text. */
export function refuseDeep(source: string, where: Place): void {
  // A short text cannot be deep: nearly all case lines are not looked at.
  if (source.length <= 2 * MAX_NESTED || nesting(source) <= MAX_NESTED) return;
  throw new SideTwinError({
    code: "bad-input",
    what: `The JSON is nested deeper than ${MAX_NESTED} levels`,
    where,
    next: "Make it flatter.",
  });
}

/** How deep brackets are nested, texts aside; no more than the limit is counted. */
function nesting(source: string): number {
  let [depth, deepest] = [0, 0];
  for (let at = 0; at < source.length && deepest <= MAX_NESTED; at++) {
    const character = source[at];
    if (character === '"') {
      for (at++; at < source.length && source[at] !== '"'; at++) if (source[at] === "\\") at++;
    } else if (character === "[" || character === "{") deepest = Math.max(deepest, ++depth);
    else if (character === "]" || character === "}") depth--;
  }
  return deepest;
}
