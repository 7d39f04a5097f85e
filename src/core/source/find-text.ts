/** Plain text search through sources. */

/** The files of one side. */
export type SearchedFile = { readonly file: string; readonly lines: readonly string[] };

/** A line that holds the words; lines count from 1. */
export type TextHit = { readonly file: string; readonly line: number; readonly text: string };

const MAX_TEXT = 200;

/**
 * Returns up to `most` lines that hold `words`, in the order of the files; each line once, cut to 200 characters around
 * the first hit. Upper and lower case count only where `words` has an upper-case letter. Cost: linear in the text.
 */
export function findText(files: Iterable<SearchedFile>, words: string, most: number): TextHit[] {
  const hits: TextHit[] = [];
  if (words === "") return hits;
  const isExact = words !== words.toLowerCase();
  for (const { file, lines } of files) {
    for (const [index, line] of lines.entries()) {
      const at = (isExact ? line : line.toLowerCase()).indexOf(words);
      if (at < 0) continue;
      hits.push({ file, line: index + 1, text: cutAround(line, at) });
      if (hits.length >= most) return hits;
    }
  }
  return hits;
}

function cutAround(line: string, at: number): string {
  const text = line.trim();
  if (text.length <= MAX_TEXT) return text;
  const from = Math.max(0, at - MAX_TEXT / 4);
  return `${from > 0 ? "…" : ""}${line.slice(from, from + MAX_TEXT)}…`;
}
