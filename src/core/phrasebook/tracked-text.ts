/**
 * A text that is changed by one phrase after another and still knows where each part came from, so that a place of a
 * later phrase can be given as a line of the file on disk.
 */

/** `origin`: the offset on disk of its first character; null for text that a phrase wrote, which then has an `anchor`. */
export type Piece = { readonly text: string; readonly origin: number | null; readonly anchor: number };

export class TrackedText {
  private pieces: Piece[];
  private joined: string | null;

  constructor(disk: string) {
    this.pieces = [{ text: disk, origin: 0, anchor: 0 }];
    this.joined = disk;
  }

  get text(): string {
    this.joined ??= this.pieces.map(({ text }) => text).join("");
    return this.joined;
  }

  /** The offset on disk of a character, or of the place from which it was written. */
  originAt(offset: number): number {
    let at = 0;
    for (const piece of this.pieces) {
      if (offset < at + piece.text.length) return piece.origin === null ? piece.anchor : piece.origin + offset - at;
      at += piece.text.length;
    }
    const last = this.pieces.at(-1);
    return last?.origin === null || !last ? (last?.anchor ?? 0) : last.origin + last.text.length;
  }

  /** The pieces of `[from, to)`. */
  slice(from: number, to: number): Piece[] {
    const cut: Piece[] = [];
    let at = 0;
    for (const piece of this.pieces) {
      const [start, end] = [Math.max(from, at), Math.min(to, at + piece.text.length)];
      if (start < end)
        cut.push({
          text: piece.text.slice(start - at, end - at),
          origin: piece.origin === null ? null : piece.origin + start - at,
          anchor: piece.anchor,
        });
      at += piece.text.length;
      if (at >= to) break;
    }
    return cut;
  }

  /** Replaces ranges that do not overlap, given in the order of the text. */
  replace(edits: readonly { readonly from: number; readonly to: number; readonly pieces: readonly Piece[] }[]): void {
    const changed: Piece[] = [];
    let at = 0;
    for (const { from, to, pieces } of edits) {
      changed.push(...this.slice(at, from), ...pieces);
      at = to;
    }
    changed.push(...this.slice(at, this.text.length));
    this.pieces = changed.filter(({ text }) => text !== "");
    this.joined = null;
  }

  /** The unchanged ranges of the file on disk, in the order of the text. */
  originsOf(from: number, to: number): { readonly from: number; readonly to: number }[] {
    return this.slice(from, to).flatMap(({ origin, text }) =>
      origin === null ? [] : [{ from: origin, to: origin + text.length }],
    );
  }
}

/** Offset → line and column from 1. */
export class LineIndex {
  private readonly starts: number[] = [0];

  constructor(private readonly text: string) {
    for (let at = 0; at < text.length; at++) {
      const code = text.charCodeAt(at);
      if (code === 10 || (code === 13 && text.charCodeAt(at + 1) !== 10)) this.starts.push(at + 1);
    }
  }

  placeOf(offset: number): { readonly line: number; readonly column: number } {
    let [low, high] = [0, this.starts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((this.starts[middle] ?? 0) <= offset) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: offset - (this.starts[low] ?? 0) + 1 };
  }

  /** Whole lines around `[from, to)`, without the last line's end. */
  linesAround(from: number, to: number): string {
    const [first, last] = [this.placeOf(from).line, this.placeOf(Math.max(from, to - 1)).line];
    return this.text
      .slice(this.starts[first - 1] ?? 0, this.starts[last] ?? this.text.length)
      .replace(/\r?\n$|\r$/, "");
  }

  lineStart(offset: number): number {
    return this.starts[this.placeOf(offset).line - 1] ?? 0;
  }
}

/** The line ending that a text uses most; a newline where it has none. */
export function lineEndOf(text: string): string {
  const windows = text.match(/\r\n/g)?.length ?? 0;
  const plain = (text.match(/\n/g)?.length ?? 0) - windows;
  return windows > plain ? "\r\n" : "\n";
}
