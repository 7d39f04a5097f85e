/** Recognises functions that answer through a callback, by their last parameter and by how they call it. */

import type { Section } from "@/core/source/section";

/** Names that callbacks usually have. */
const NAMED = /^(cb|callback|done|next|fn_?done|on_?(done|result|complete))$/i;
/** The first argument of a callback that takes `(error, value)`. */
const ERROR_FIRST = /^(null|undefined|None|nil|new \w*Error\b|\w*Error\(|(err|error|e|ex|exc)\b)/;

/** A parameter that takes the answer: alone, or behind an error (formats, section 18). */
export type Callback = { readonly param: string; readonly style: "node" | "value" };

/** The callback of a section with these parameters and this text; null where it has none. Cost: linear in the text. */
export function findCallback(params: readonly string[], text: string): Callback | null {
  const param = params.at(-1);
  if (param === undefined || !/^\w+$/.test(param)) return null;
  const calls = [...text.matchAll(new RegExp(`(?<![\\w.])${param}(?:\\?\\.)?\\(\\s*([^\\n]*)`, "g"))].map(
    ([, first = ""]) => first,
  );
  if (calls.some((first) => ERROR_FIRST.test(first))) return { param, style: "node" };
  if (!NAMED.test(param)) return null;
  // One that is only passed on is of the usual kind.
  return { param, style: calls.length > 0 ? "value" : "node" };
}

/** The same, of a section in its file. */
export const callbackOf = (
  { lines }: { readonly lines: readonly string[] },
  { kind, params, from, to }: Section,
): Callback | null =>
  kind === "function" || kind === "method" ? findCallback(params, lines.slice(from - 1, to).join("\n")) : null;

/** How the callback of one side meets the other side. */
export type CallbackRelation = {
  readonly param: string;
  /** `left-out`: the twin answers by itself; `handed-over`: a hookup gives the twin one; `needed`: it wants such a hookup. */
  readonly relation: "left-out" | "handed-over" | "needed";
};

/** Null where both sides have a callback, or neither has. */
export function relateCallbacks(
  original: Callback | null,
  twin: Callback | null,
  isHandedOver: boolean,
): CallbackRelation | null {
  if (original && !twin) return { param: original.param, relation: "left-out" };
  if (twin && !original) return { param: twin.param, relation: isHandedOver ? "handed-over" : "needed" };
  return null;
}
