/** Which parts of two lines differ: words, numbers, blanks and single characters, aligned. */
import { alignItems } from "@/core/compare/align";

/** A piece of a line, equal on both sides or not. */
export type LinePart = { readonly text: string; readonly differs: boolean };

const WORDS = /[\p{L}_]+|\d+(?:[.,]\d+)*|\s+|./gsu;
/** Longer lines are compared by common prefix and suffix only. */
const MAX_LENGTH = 4000;

/** The parts of both lines, which joined give the lines again. Cost grows with their length. */
export function lineParts(original: string, twin: string): { original: LinePart[]; twin: LinePart[] } {
  const [one, other] = [wordsOf(original), wordsOf(twin)];
  const parts = { original: [] as LinePart[], twin: [] as LinePart[] };
  let [originalAt, twinAt] = [0, 0];
  const push = (words: readonly string[], list: LinePart[], from: number, to: number, differs: boolean) => {
    if (to > from) list.push({ text: words.slice(from, to).join(""), differs });
  };
  for (const hunk of alignItems(one, other)) {
    push(one, parts.original, originalAt, hunk.originalFrom, false);
    push(other, parts.twin, twinAt, hunk.twinFrom, false);
    push(one, parts.original, hunk.originalFrom, hunk.originalTo, true);
    push(other, parts.twin, hunk.twinFrom, hunk.twinTo, true);
    [originalAt, twinAt] = [hunk.originalTo, hunk.twinTo];
  }
  push(one, parts.original, originalAt, one.length, false);
  push(other, parts.twin, twinAt, other.length, false);
  return parts;
}

const wordsOf = (line: string): string[] => (line.length > MAX_LENGTH ? [line] : (line.match(WORDS) ?? []));
