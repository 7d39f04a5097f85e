/** A pattern or a replacement taken apart: text and blanks in turn. */
import { BLANK } from "@/core/formats/phrasebook";

export type TemplatePart =
  | { readonly kind: "text"; readonly text: string }
  | { readonly kind: "blank"; readonly name: string; readonly isList: boolean };

/** `a((:b..:))` → `a(`, the list b, `)`. */
export function parseTemplate(template: string): TemplatePart[] {
  const parts: TemplatePart[] = [];
  let from = 0;
  for (const match of template.matchAll(BLANK)) {
    if (match.index > from) parts.push({ kind: "text", text: template.slice(from, match.index) });
    parts.push({ kind: "blank", name: match[1] ?? "", isList: match[2] !== undefined });
    from = match.index + match[0].length;
  }
  if (from < template.length) parts.push({ kind: "text", text: template.slice(from) });
  return parts;
}

/** Words of a text that can be names. */
export const wordsOf = (text: string): string[] => text.match(/[\p{L}_$][\p{L}\p{N}_$]*/gu) ?? [];
