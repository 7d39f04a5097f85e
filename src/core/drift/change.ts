/** A change of a text as it is shown: lines that went, lines that came, and a few around them. */
import { alignLines } from "@/core/compare/align-lines";
import { type LinePart, lineParts } from "@/core/compare/line-parts";

/** A line of a changed section, with the parts that differ. */
export type ChangedLine = {
  readonly kind: "same" | "gone" | "new";
  /** In the text as it was, and as it is; from 1, counted from the text's own first line. */
  readonly before: number | null;
  readonly now: number | null;
  readonly parts: readonly LinePart[];
};

const AROUND = 2;

/** Linear in the texts, as `alignLines`. A gap in the numbers means omitted lines. */
export function changeOf(before: string, now: string): ChangedLine[] {
  const [old, current] = [before.split("\n"), now.split("\n")];
  const lines: ChangedLine[] = [];
  let [at, nowAt] = [0, 0];
  const same = (from: number, to: number) => {
    for (let index = from; index < to; index++)
      lines.push({
        kind: "same",
        before: index + 1,
        now: nowAt + (index - at) + 1,
        parts: [{ text: old[index] ?? "", differs: false }],
      });
  };
  for (const { originalFrom, originalTo, twinFrom, twinTo } of alignLines(before, now)) {
    const shared = originalFrom - at;
    if (lines.length > 0 && shared > 2 * AROUND) {
      same(at, at + AROUND);
      skip(shared - AROUND);
      same(at, originalFrom);
    } else {
      const skipped = lines.length === 0 ? Math.max(0, shared - AROUND) : 0;
      skip(skipped);
      same(at, originalFrom);
    }
    [at, nowAt] = [originalFrom, twinFrom];
    const partners = pairLines(old.slice(originalFrom, originalTo), current.slice(twinFrom, twinTo));
    const partsOf = (index: number, side: "original" | "twin") => {
      const [was, is] = partners.find(([one, other]) => (side === "original" ? one : other) === index) ?? [];
      if (was === undefined || is === undefined) return null;
      return lineParts(old[originalFrom + was] ?? "", current[twinFrom + is] ?? "")[side];
    };
    for (let index = originalFrom; index < originalTo; index++)
      lines.push({
        kind: "gone",
        before: index + 1,
        now: null,
        parts: partsOf(index - originalFrom, "original") ?? [{ text: old[index] ?? "", differs: true }],
      });
    for (let index = twinFrom; index < twinTo; index++)
      lines.push({
        kind: "new",
        before: null,
        now: index + 1,
        parts: partsOf(index - twinFrom, "twin") ?? [{ text: current[index] ?? "", differs: true }],
      });
    [at, nowAt] = [originalTo, twinTo];
  }
  if (lines.length > 0) same(at, Math.min(old.length, at + AROUND));
  return lines;

  function skip(count: number): void {
    at += count;
    nowAt += count;
  }
}

/** Larger changes are shown line by line, not word by word. */
const MAX_PAIRED = 60;
const MIN_ALIKE = 0.5;

/** Lines of a change that are one another, in order: the pairs that share the most. Cost: lines that went times lines that came. */
function pairLines(gone: readonly string[], came: readonly string[]): (readonly [number, number])[] {
  if (gone.length > MAX_PAIRED || came.length > MAX_PAIRED) return [];
  const best = Array.from({ length: gone.length + 1 }, () => new Array<number>(came.length + 1).fill(0));
  const alike = gone.map((line) => came.map((other) => shareOf(line, other)));
  const at = (row: number, column: number) => best[row]?.[column] ?? 0;
  for (let row = gone.length - 1; row >= 0; row--) {
    for (let column = came.length - 1; column >= 0; column--) {
      const share = alike[row]?.[column] ?? 0;
      const paired = share >= MIN_ALIKE ? share + at(row + 1, column + 1) : 0;
      const cells = best[row];
      if (cells) cells[column] = Math.max(paired, at(row + 1, column), at(row, column + 1));
    }
  }
  const pairs: (readonly [number, number])[] = [];
  for (let row = 0, column = 0; row < gone.length && column < came.length; ) {
    const share = alike[row]?.[column] ?? 0;
    if (share >= MIN_ALIKE && at(row, column) === share + at(row + 1, column + 1)) pairs.push([row++, column++]);
    else if (at(row, column) === at(row + 1, column)) row++;
    else column++;
  }
  return pairs;
}

/** The share of the longer line that both have. */
function shareOf(one: string, other: string): number {
  const same = lineParts(one, other).original.reduce(
    (sum, { text, differs }) => (differs ? sum : sum + text.trim().length),
    0,
  );
  return same / Math.max(1, one.trim().length, other.trim().length);
}
