/**
 * Finds which lines of two texts correspond without splitting them: large texts are mostly equal, and long equal
 * stretches are skipped.
 *
 * Method: common ends are trimmed; at each difference a few small edits are tried, and the one followed by the longest
 * equal stretch is taken; failing that, windows of both texts are aligned (`alignItems`), doubling in size until
 * several lines match again. Small texts are aligned whole.
 */
import { alignItems, type Hunk } from "@/core/compare/align";

/** A hunk with the lines themselves. Lines count from 0; a text that ends with a line end has an empty last line. */
export type LineHunk = Hunk & { readonly original: readonly string[]; readonly twin: readonly string[] };

/** Texts up to this length are aligned whole. */
const SMALL = 100_000;
/** Lines that must match for two texts to have met again. */
const MEETING = 8;
/** The farthest that is looked which of two small edits is followed by more that is equal. */
const FAR = 64;
const FIRST_WINDOW = 32;

/** Cost: linear in the texts, as long as they meet again after each difference. */
export function alignLines(original: string, twin: string): LineHunk[] {
  if (original === twin) return [];
  if (original.length + twin.length <= SMALL) return wholeHunks(original.split("\n"), twin.split("\n"));
  return new LineAligner(original, twin).run();
}

const wholeHunks = (original: readonly string[], twin: readonly string[], from = 0, twinFrom = from): LineHunk[] =>
  alignItems(original, twin).map((hunk) => ({
    originalFrom: from + hunk.originalFrom,
    originalTo: from + hunk.originalTo,
    twinFrom: twinFrom + hunk.twinFrom,
    twinTo: twinFrom + hunk.twinTo,
    original: original.slice(hunk.originalFrom, hunk.originalTo),
    twin: twin.slice(hunk.twinFrom, hunk.twinTo),
  }));

/** The texts with a line end of their own behind the last line, so that every line ends with one. */
class LineAligner {
  private readonly original: string;
  private readonly twin: string;
  /** Where both have come to: offsets of line starts, and the numbers of these lines. */
  private at = 0;
  private twinAt = 0;
  private line = 0;
  private twinLine = 0;
  /** Where the equal ends of both begin. */
  private readonly end: number;
  private readonly twinEnd: number;
  private readonly hunks: LineHunk[] = [];

  constructor(original: string, twin: string) {
    this.original = `${original}\n`;
    this.twin = `${twin}\n`;
    const equal = this.equalEnd();
    this.end = this.original.length - equal;
    this.twinEnd = this.twin.length - equal;
  }

  run(): LineHunk[] {
    for (;;) {
      this.passEqual();
      if (this.at >= this.end || this.twinAt >= this.twinEnd) break;
      if (!this.takeSmallEdit()) this.takeWindow();
    }
    this.take(linesIn(this.original, this.at, this.end).length, linesIn(this.twin, this.twinAt, this.twinEnd).length);
    return this.hunks;
  }

  /** Characters of whole lines at the ends that are equal; the first line is never among them. */
  private equalEnd(): number {
    const most = Math.min(this.original.length, this.twin.length);
    const isEqual = (length: number) =>
      this.original.slice(this.original.length - length) === this.twin.slice(this.twin.length - length);
    let equal = 0;
    for (let step = 1024; equal < most; step *= 2) {
      const next = Math.min(most, equal + step);
      if (!isEqual(next)) {
        equal = longestThat(isEqual, equal, next);
        break;
      }
      equal = next;
    }
    // Only what follows a line end, on both sides, is whole lines.
    const start = this.original.indexOf("\n", this.original.length - equal);
    return start === -1 || equal === 0 ? 0 : this.original.length - start - 1;
  }

  /** Passes over the lines that are equal from here on. */
  private passEqual(): void {
    const length = this.equalFrom(this.at, this.twinAt);
    const stop = this.original.lastIndexOf("\n", this.at + length - 1);
    if (length === 0 || stop < this.at) return;
    const lines = countLines(this.original, this.at, stop + 1);
    this.twinAt += stop + 1 - this.at;
    this.at = stop + 1;
    this.line += lines;
    this.twinLine += lines;
  }

  /** How many characters are equal from two places on, up to the equal ends. */
  private equalFrom(at: number, twinAt: number): number {
    const most = Math.min(this.end - at, this.twinEnd - twinAt);
    let equal = 0;
    for (let step = 256; equal < most; step = Math.min(step * 2, 1 << 16)) {
      const from = equal;
      const isEqual = (length: number) =>
        this.original.slice(at + from, at + length) === this.twin.slice(twinAt + from, twinAt + length);
      const next = Math.min(most, equal + step);
      if (!isEqual(next)) return longestThat(isEqual, equal, next);
      equal = next;
    }
    return equal;
  }

  /** Up to three lines replaced, lost or added, when the texts go on alike behind them. */
  private takeSmallEdit(): boolean {
    const [ones, others] = [
      lineStarts(this.original, this.at, this.end),
      lineStarts(this.twin, this.twinAt, this.twinEnd),
    ];
    let best: { lines: number; twinLines: number; equal: number } | null = null;
    for (const [lines, twinLines] of SMALL_EDITS) {
      const [at, twinAt] = [ones[lines], others[twinLines]];
      if (at === undefined || twinAt === undefined) continue;
      const equal = this.equalLines(at, twinAt, FAR);
      if (equal >= MEETING && (best === null || equal > best.equal)) best = { lines, twinLines, equal };
      if (best && best.equal >= FAR) break;
    }
    if (best) this.take(best.lines, best.twinLines);
    return best !== null;
  }

  /** How many lines are equal from two places on, at most `most`; reaching both equal ends counts as all of them. */
  private equalLines(at: number, twinAt: number, most: number): number {
    let [stop, lines] = [at, 0];
    while (lines < most && stop < this.end) {
      stop = this.original.indexOf("\n", stop) + 1;
      lines++;
    }
    const length = stop - at;
    if (twinAt + length <= this.twinEnd && this.original.slice(at, stop) === this.twin.slice(twinAt, twinAt + length))
      return stop >= this.end && twinAt + length >= this.twinEnd ? FAR : lines;
    return most > MEETING ? this.equalLines(at, twinAt, Math.max(MEETING, most >> 1)) : 0;
  }

  /** Aligns the next lines of both, ever more of them, up to where several in a row match. */
  private takeWindow(): void {
    for (let size = FIRST_WINDOW; ; size *= 2) {
      const ones = linesIn(this.original, this.at, this.end, size);
      const others = linesIn(this.twin, this.twinAt, this.twinEnd, size);
      const hunks = wholeHunks(ones, others, this.line, this.twinLine);
      const isAll = ones.length < size && others.length < size;
      const meeting = isAll
        ? hunks.length
        : lastMeeting(hunks, { original: this.line + ones.length, twin: this.twinLine + others.length });
      if (meeting === 0) continue;
      for (const hunk of hunks.slice(0, meeting)) {
        this.skip(hunk.originalFrom - this.line);
        this.take(hunk.originalTo - hunk.originalFrom, hunk.twinTo - hunk.twinFrom);
      }
      return;
    }
  }

  /** Skips that many equal lines. */
  private skip(lines: number): void {
    const from = this.at;
    this.at = afterLines(this.original, from, lines, this.end);
    this.twinAt += this.at - from;
    this.line += lines;
    this.twinLine += lines;
  }

  /** Records that many differing lines and skips them. */
  private take(lines: number, twinLines: number): void {
    if (lines + twinLines === 0) return;
    const [at, twinAt] = [
      afterLines(this.original, this.at, lines, this.end),
      afterLines(this.twin, this.twinAt, twinLines, this.twinEnd),
    ];
    this.hunks.push({
      originalFrom: this.line,
      originalTo: this.line + lines,
      twinFrom: this.twinLine,
      twinTo: this.twinLine + twinLines,
      original: linesIn(this.original, this.at, at),
      twin: linesIn(this.twin, this.twinAt, twinAt),
    });
    [this.at, this.twinAt] = [at, twinAt];
    this.line += lines;
    this.twinLine += twinLines;
  }
}

/** Lines of the original and of the twin: a replaced one first, as it is the most common. */
const SMALL_EDITS: readonly (readonly [number, number])[] = [
  [1, 1],
  [0, 1],
  [1, 0],
  [2, 2],
  [1, 2],
  [2, 1],
  [0, 2],
  [2, 0],
  [3, 3],
];

/** The largest number for which something holds that holds for `from` and not for `to`. */
function longestThat(holds: (length: number) => boolean, from: number, to: number): number {
  let [low, high] = [from, to];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return low;
}

function countLines(text: string, from: number, to: number): number {
  let lines = 0;
  for (let at = text.indexOf("\n", from); at !== -1 && at < to; at = text.indexOf("\n", at + 1)) lines++;
  return lines;
}

/** The starts of this line and of the next three. */
function lineStarts(text: string, from: number, to: number): number[] {
  const starts = [from];
  for (let count = 0, at = from; count < 3 && at < to; count++) {
    at = text.indexOf("\n", at) + 1;
    starts.push(at);
  }
  return starts;
}

/** The lines between two starts of lines, at most `most`. */
function linesIn(text: string, from: number, to: number, most = Number.POSITIVE_INFINITY): string[] {
  const lines: string[] = [];
  for (let at = from; at < to && lines.length < most; ) {
    const stop = text.indexOf("\n", at);
    lines.push(text.slice(at, stop));
    at = stop + 1;
  }
  return lines;
}

function afterLines(text: string, from: number, lines: number, to: number): number {
  let at = from;
  for (let count = 0; count < lines && at < to; count++) at = text.indexOf("\n", at) + 1;
  return at;
}

/** How many of the hunks come before the last stretch of enough matching lines. */
function lastMeeting(hunks: readonly LineHunk[], end: { readonly original: number; readonly twin: number }): number {
  for (let count = hunks.length; count > 0; count--) {
    const [before, after] = [hunks[count - 1], hunks[count]];
    const matching = (after?.originalFrom ?? end.original) - (before?.originalTo ?? 0);
    // The stretch behind the last hunk reaches the window's end on both sides, or the window is cut within a difference.
    if (matching >= MEETING) return count;
  }
  return 0;
}
