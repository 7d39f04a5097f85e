/** Tables as separated text, and which columns and rows of two of them belong together. */
import Papa from "papaparse";
import { alignItems } from "@/core/compare/align";
import { type Document, hasEnding } from "@/core/compare/document";

type Row = readonly string[];

/** A table read from CSV, with its text. */
export type Table = { readonly head: Row; readonly rows: readonly Row[]; readonly source: string };
/** The same table of both sides. */
export type BothTables = { readonly original: Table; readonly twin: Table };

/** A text of unknown kind is a table if it has a heading and at least this many rows of equal length. */
const MIN_ROWS = 2;

/** Returns null if it is not a table; `asked` accepts anything with a heading. */
export function readTable({ name, content }: Document, asked: boolean): Table | null {
  if (typeof content !== "string") return null;
  const named = asked || hasEnding(name, ".csv", ".tsv");
  if (!named && !/^[^\n]*[,;\t][^\n]*\r?\n[^\n]*[,;\t]/.test(content)) return null;
  const body = content.startsWith("\uFEFF") ? content.slice(1) : content;
  const parsed = Papa.parse<string[]>(body, {
    delimiter: hasEnding(name, ".tsv") ? "\t" : "",
    delimitersToGuess: [",", ";", "\t", "|"],
    skipEmptyLines: true,
  });
  const [head, ...rows] = parsed.data;
  if (!head || new Set(head).size !== head.length || head.every((cell) => NUMBER.test(cell))) return null;
  if (parsed.errors.some((error) => error.type === "Quotes") || !(named || looksLikeTable(head, rows))) return null;
  return { head, rows, source: content };
}

/** Matches cells that hold a number. */
export const NUMBER = /^-?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?$/;

/** Prose has commas too: a table has a heading of plain names, and rows that all have its number of cells. */
function looksLikeTable(head: Row, rows: readonly Row[]): boolean {
  const isHeading = (cell: string) => /^[\p{L}_][\p{L}\p{N}_.()/%-]*( [\p{L}\p{N}_.()/%-]+){0,2}$/u.test(cell);
  if (head.length < 2 || !head.every(isHeading) || rows.length < MIN_ROWS) return false;
  return rows.every((row) => row.length === head.length);
}

/** A column that both have, with its place on either side. */
export type Column = { readonly name: string; readonly original: number; readonly twin: number };

/** The columns that both have, in the original's order. */
export const sharedColumns = ({ original, twin }: BothTables): Column[] =>
  original.head
    .filter((name) => twin.head.includes(name))
    .map((name) => ({ name, original: original.head.indexOf(name), twin: twin.head.indexOf(name) }));

/** Two rows that belong together, or one that only one side has. `label` is its key, or its number from 1 below the heading. */
export type RowPair = { readonly label: string; readonly original: Row | null; readonly twin: Row | null };

/** Rows of both tables in pairs, by key or by order. */
export type PairedRows = {
  readonly pairs: readonly RowPair[];
  /** The keys in the order of either side, when that differs among the rows that both have. */
  readonly moved: { readonly original: readonly string[]; readonly twin: readonly string[] } | null;
};

/** Rows by their key where a column has one value a row on both sides, else by alignment. */
export function pairRows(both: BothTables): PairedRows {
  const columns = sharedColumns(both);
  const key = keyColumn(both, columns);
  return key ? pairByKey(both, key) : { pairs: pairInOrder(both, columns), moved: null };
}

/** The first column whose cells are all there and each occur once on either side, and mostly on both. */
function keyColumn({ original, twin }: BothTables, columns: readonly Column[]): Column | null {
  for (const column of columns) {
    const [mine, theirs] = [keysIn(original.rows, column.original), keysIn(twin.rows, column.twin)];
    if (!mine || !theirs) continue;
    let met = 0;
    for (const key of mine) if (theirs.has(key)) met++;
    if (2 * met >= Math.min(mine.size, theirs.size)) return column;
  }
  return null;
}

function keysIn(rows: readonly Row[], column: number): Set<string> | null {
  const keys = new Set(rows.map((row) => row[column] ?? ""));
  return keys.size === rows.length && !keys.has("") ? keys : null;
}

function pairByKey({ original, twin }: BothTables, key: Column): PairedRows {
  const left = new Map(twin.rows.map((row) => [row[key.twin] ?? "", row]));
  const met: string[] = [];
  const pairs = original.rows.map((row): RowPair => {
    const label = row[key.original] ?? "";
    const partner = left.get(label) ?? null;
    if (partner) met.push(label);
    return { label, original: row, twin: partner };
  });
  const known = new Set(met);
  const theirs = [...left.keys()].filter((label) => known.has(label));
  for (const [label, row] of left) if (!known.has(label)) pairs.push({ label, original: null, twin: row });
  const isMoved = met.some((label, index) => label !== theirs[index]);
  return { pairs, moved: isMoved ? { original: met, twin: theirs } : null };
}

function pairInOrder({ original, twin }: BothTables, columns: readonly Column[]): RowPair[] {
  const keys = (table: Table, side: "original" | "twin") =>
    table.rows.map((row) => JSON.stringify(columns.map((column) => row[column[side]])));
  const pairs: RowPair[] = [];
  let [originalAt, twinAt] = [0, 0];
  const push = (one: Row | undefined, other: Row | undefined) =>
    pairs.push({ label: String((one ? originalAt : twinAt) + 1), original: one ?? null, twin: other ?? null });
  const end = { originalFrom: original.rows.length, originalTo: original.rows.length };
  const twinEnd = { twinFrom: twin.rows.length, twinTo: twin.rows.length };
  for (const hunk of [...alignItems(keys(original, "original"), keys(twin, "twin")), { ...end, ...twinEnd }]) {
    for (; originalAt < hunk.originalFrom; originalAt++, twinAt++) push(original.rows[originalAt], twin.rows[twinAt]);
    while (originalAt < hunk.originalTo || twinAt < hunk.twinTo) {
      const [hasOriginal, hasTwin] = [originalAt < hunk.originalTo, twinAt < hunk.twinTo];
      push(hasOriginal ? original.rows[originalAt] : undefined, hasTwin ? twin.rows[twinAt] : undefined);
      if (hasOriginal) originalAt++;
      if (hasTwin) twinAt++;
    }
  }
  return pairs;
}
