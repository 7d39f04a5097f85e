/**
 * The syntax tree of a text that one phrase after another changes. The tree on disk stays; a later one is made of it by
 * parsing only what was changed, and no sooner than a phrase needs it: places far from all changes are found in the
 * tree before them and moved along.
 */
import type { Node } from "web-tree-sitter";
import type { ParsedTree, ParseText, TreeEdit } from "@/core/phrasebook/code-pattern";
import { isWordPart } from "@/core/phrasebook/free-names";
import type { Range } from "@/core/phrasebook/syntax";

/** A change of the text that the tree is of. */
export type Change = TreeEdit & {
  /** Code for code: it closes what it opens, so that the tree beyond its lines is the same. */
  readonly isCode: boolean;
};

/** A tree that is older than the text by some changes, in the order of the text. */
export type OlderTree = { readonly root: Node; readonly source: string; readonly changes: readonly Change[] };

/** See the head of the file. `language` is null for what is not code: then there is no tree. */
export class EditedTree {
  private diskTree: ParsedTree | null = null;
  /** The last tree that was made after changes, and its text. */
  private later: { readonly source: string; readonly tree: ParsedTree } | null = null;
  /** Changes since the last tree, in its offsets, in the order of the text. */
  private changes: readonly Change[] = [];

  constructor(
    private readonly disk: string,
    private readonly language: string | null,
    private readonly parse: ParseText,
  ) {}

  onDisk(): Node | null {
    if (this.language !== null) this.diskTree ??= this.parse(this.disk, this.language);
    return this.diskTree?.root ?? null;
  }

  /** The tree of `text`, which is the text after all changes. */
  now(text: string): Node | null {
    if (this.language === null) return null;
    if (this.later === null && this.changes.length === 0) return this.onDisk();
    if (this.changes.length > 0 || this.later === null) {
      this.onDisk();
      const before = this.later?.tree ?? this.diskTree?.copy() ?? null;
      before?.edit(this.later?.source ?? this.disk, this.changes);
      const tree = before ? before.reparse(text) : this.parse(text, this.language);
      this.later = tree && { source: text, tree };
      this.changes = [];
    }
    return this.later?.tree.root ?? null;
  }

  /** Null where nothing was changed since the last tree. */
  older(): OlderTree | null {
    if (this.changes.length === 0) return null;
    const root = this.later?.tree.root ?? this.onDisk();
    return root && { root, source: this.later?.source ?? this.disk, changes: this.changes };
  }

  /** Notes edits of `text`, the text before them, in its order. */
  change(text: string, edits: readonly TreeEdit[], isCode: boolean): void {
    if (this.language === null) return;
    const moved = edits.map((edit) => this.toOlder(edit));
    // A change that overlaps an earlier one is applied to the tree that has the earlier one.
    if (moved.some((edit) => edit === null)) this.now(text);
    const own = moved.every((edit) => edit !== null) ? (moved as TreeEdit[]) : edits;
    this.changes = [...this.changes, ...own.map((edit) => ({ ...edit, isCode }))].sort((a, b) => a.from - b.from);
  }

  /** An edit in the offsets of the last tree; null where it meets a change. */
  private toOlder({ from, to, text }: TreeEdit): TreeEdit | null {
    let shift = 0;
    for (const change of this.changes) {
      const [start, end] = [change.from + shift, change.from + shift + change.text.length];
      if (start > to) break;
      if (end >= from) return null;
      shift += change.text.length - (change.to - change.from);
    }
    return { from: from - shift, to: to - shift, text };
  }

  free(): void {
    this.diskTree?.free();
    this.later?.tree.free();
  }
}

/**
 * How far each of some ranges of an older tree's text lies from its place now; null where that is unknown, as a
 * change is in the same lines, is not code, or brings or takes one of the words. `words` are those that places may hang
 * on: if a change writes one there may be new places, and if it touches a declaration another may not be hidden.
 */
export function shiftsOf(
  { source, changes }: OlderTree,
  ranges: readonly Range[],
  words: readonly string[],
): number[] | null {
  for (const { from, to, text, isCode } of changes)
    if (!isCode || words.some((word) => hasWord(text, word) || hasWord(source.slice(from, to), word))) return null;
  const shifts: number[] = [];
  for (const range of ranges) {
    const lines = linesAround(source, range);
    if (changes.some((change) => meets(lines, linesAround(source, change)))) return null;
    shifts.push(
      changes.reduce((sum, { from, to, text }) => (to <= range.from ? sum + text.length - (to - from) : sum), 0),
    );
  }
  return shifts;
}

const meets = (one: Range, other: Range): boolean => one.from <= other.to && other.from <= one.to;

/** A range, widened to whole lines. */
function linesAround(source: string, { from, to }: Range): Range {
  const end = source.indexOf("\n", to);
  return { from: source.lastIndexOf("\n", from - 1) + 1, to: end < 0 ? source.length : end };
}

function hasWord(text: string, word: string): boolean {
  const isWord = isWordPart(word, 0);
  for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + 1))
    if (!isWord || !(isWordPart(text, at - 1) || isWordPart(text, at + word.length))) return true;
  return false;
}
