/** Two documents level, as the reader shows them: rows, tables by cell, pictures, bytes. */
import type { Picture } from "@/core/compare/picture";
import { type BothTables, pairRows, sharedColumns } from "@/core/compare/table";
import type { Value } from "@/core/values/value";

/** One row of the reader: a path with both sides' text. */
export type AlignedRow = {
  readonly at: string;
  readonly label: string;
  readonly depth: number;
  /** Null where the side has nothing; an empty text for a row that only opens a group. */
  readonly original: string | null;
  readonly twin: string | null;
  readonly differs: boolean;
};

/** Two cells level; null where a side has no such row. */
export type AlignedCell = { readonly original: string | null; readonly twin: string | null };

/** Two tables cell by cell. */
export type AlignedTable = {
  readonly at: string;
  readonly head: readonly string[];
  /** The rows that differ, and some before and after each; `gap` rows were left out before this one. */
  readonly rows: readonly { readonly label: string; readonly gap: number; readonly cells: readonly AlignedCell[] }[];
  /** Rows left out at the end. */
  readonly rest: number;
};

/** Two pictures that differ; `original` and `twin` are their sizes. */
export type AlignedPicture = {
  readonly at: string;
  readonly file: string;
  readonly original: string;
  readonly twin: string;
};

const CONTEXT_ROWS = 1;
const MAX_ROWS = 300;

/** Columns are the shared ones, in the original's order. Cost grows with both. */
export function alignTables(at: string, both: BothTables): AlignedTable {
  const columns = sharedColumns(both);
  const all = pairRows(both).pairs.map((pair) => ({
    label: pair.label,
    cells: columns.map(
      (column): AlignedCell => ({
        original: pair.original?.[column.original] ?? null,
        twin: pair.twin?.[column.twin] ?? null,
      }),
    ),
  }));
  const differing = all.map(({ cells }) => cells.some((cell) => cell.original !== cell.twin));
  const isNear = (index: number) =>
    differing.slice(Math.max(0, index - CONTEXT_ROWS), index + CONTEXT_ROWS + 1).includes(true);
  const rows: AlignedTable["rows"][number][] = [];
  let gap = 0;
  for (const [index, row] of all.entries()) {
    if (rows.length >= MAX_ROWS || !isNear(index)) {
      gap++;
      continue;
    }
    rows.push({ ...row, gap });
    gap = 0;
  }
  return { at, head: columns.map(({ name: heading }) => heading), rows, rest: gap };
}

/** Null when both show the same. */
export function alignPictures(
  at: string,
  file: string,
  { original: one, twin: other }: { readonly original: Picture; readonly twin: Picture },
): AlignedPicture | null {
  const isSame = one.width === other.width && one.rgba.every((channel, index) => channel === other.rgba[index]);
  if (isSame && one.height === other.height) return null;
  const size = ({ width, height }: { width: number; height: number }) => `${width} × ${height}`;
  return { at, file, original: size(one), twin: size(other) };
}

/** How a document is shown: any of these in place of its lines of text. */
export type ShownDocument = {
  readonly rows?: readonly AlignedRow[];
  readonly table?: AlignedTable;
  readonly picture?: AlignedPicture;
  /** Shown as a tree of values with equal parts folded. */
  readonly values?: { readonly original: Value; readonly twin: Value };
};

const BYTES_A_ROW = 16;
const ROWS_AROUND = 2;

/** Rows of sixteen bytes around the first that differs, as hexadecimal digits. */
export function bytesAround(
  original: Uint8Array,
  twin: Uint8Array,
): { readonly label: string; readonly original: string | null; readonly twin: string | null }[] {
  const longest = Math.max(original.length, twin.length);
  let first = 0;
  while (first < longest && original[first] === twin[first]) first++;
  const row = Math.floor(first / BYTES_A_ROW);
  const hex = (data: Uint8Array, from: number) =>
    from >= data.length
      ? null
      : Array.from(data.subarray(from, from + BYTES_A_ROW), (byte) => byte.toString(16).padStart(2, "0")).join(" ");
  const rows = [];
  for (let index = Math.max(0, row - ROWS_AROUND); index <= row + ROWS_AROUND; index++) {
    const from = index * BYTES_A_ROW;
    if (from < longest) rows.push({ label: String(from), original: hex(original, from), twin: hex(twin, from) });
  }
  return rows;
}
