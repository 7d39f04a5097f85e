/** The words of code, what stands in comments and quotes aside. */

const QUOTED = String.raw`"(?:[^"\\\n]|\\.)*"|'(?:[^'\\\n]|\\.)*'`;

/** Each word once. `comments` are the language's: start and end, an empty end being the line's. Cost: linear in the text. */
export function codeWords(source: string, comments: readonly (readonly [string, string])[]): string[] {
  const literal = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  const parts = comments.map(([start, end]) =>
    end === "" ? `${literal(start)}.*` : `${literal(start)}[\\s\\S]*?${literal(end)}`,
  );
  const bare = source.replace(new RegExp([QUOTED, ...parts].join("|"), "g"), " ");
  return [...new Set(bare.match(/[\p{L}_][\p{L}\p{N}_]*/gu) ?? [])];
}
