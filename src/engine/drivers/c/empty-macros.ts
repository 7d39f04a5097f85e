/** Macros that expand to nothing, such as export markers, which the grammar mistakes for types and names. */

const EMPTY =
  /^[ \t]*#[ \t]*define[ \t]+([A-Z_][A-Z0-9_]*)[ \t]*(?:(?:__attribute__|__declspec|\[\[|_Pragma).*)?\r?$/gm;

/** The names of such macros in some texts. */
export const emptyMacros = (texts: Iterable<string>): ReadonlySet<string> =>
  new Set([...texts].flatMap((text) => [...text.matchAll(EMPTY)].map(([, name = ""]) => name)));

/** A text of the same length with spaces in place of them; lines of the preprocessor stay. */
export function withoutMacros(text: string, names: ReadonlySet<string>): string {
  if (names.size === 0) return text;
  return text
    .split("\n")
    .map((line) =>
      /^\s*#/.test(line)
        ? line
        : line.replace(/\b[A-Z_][A-Z0-9_]*\b/g, (word) => (names.has(word) ? " ".repeat(word.length) : word)),
    )
    .join("\n");
}
