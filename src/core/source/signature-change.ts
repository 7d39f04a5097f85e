/** Sections whose signature changed between two texts of a file: their callers may no longer fit. */
import type { Section } from "@/core/source/section";

/** A file as it was read: its sections and lines. */
export type ReadText = { readonly sections: readonly Section[]; readonly lines: readonly string[] };

/** A section with its signature as it was and as it is. */
export type SignatureChange = { readonly section: string; readonly before: string; readonly after: string };

/** Sections of both texts whose heads differ in more than layout; new and removed sections have no callers to list. */
export function changedSignatures(before: ReadText, after: ReadText): SignatureChange[] {
  const old = new Map(before.sections.map((section) => [section.name, headOf(section, before.lines)]));
  return after.sections.flatMap((section) => {
    const was = old.get(section.name);
    if (was === undefined || section.kind === "constant" || section.kind === "class") return [];
    const now = headOf(section, after.lines);
    return was.replace(/\s+/g, "") === now.replace(/\s+/g, "")
      ? []
      : [{ section: section.name, before: was, after: now }];
  });
}

const MAX_HEAD_LINES = 30;

/** From the first line to where the parentheses of the parameters are closed and the body begins. */
function headOf({ from, to, name }: Section, lines: readonly string[]): string {
  const last = name.slice(name.lastIndexOf(".") + 1);
  let depth = 0;
  let isOpen = false;
  const head: string[] = [];
  for (const line of lines.slice(from - 1, Math.min(to, from - 1 + MAX_HEAD_LINES))) {
    if (head.length === 0 && !line.includes(last)) continue;
    for (const [at, letter] of [...line].entries()) {
      if (letter === "(" || letter === "[" || letter === "<") depth++;
      if (letter === ")" || letter === "]" || (letter === ">" && line[at - 1] !== "=" && line[at - 1] !== "-")) depth--;
      if (letter === "(") isOpen = true;
      const isBody = isOpen && depth <= 0 && (letter === "{" || (letter === ":" && /:\s*(#.*)?$/.test(line.slice(at))));
      if (isBody || (isOpen && depth <= 0 && line.startsWith("=>", at)))
        return [...head, line.slice(0, at)].join("\n").trim();
    }
    head.push(line);
    if (isOpen && depth <= 0 && /[;{]\s*$/.test(line)) break;
  }
  return head.join("\n").trim();
}
