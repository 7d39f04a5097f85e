import { alignTables } from "@/core/compare/aligned-documents";
import { comparer, pairOf } from "@/core/compare/comparers/comparer";
import type { ComparisonState } from "@/core/compare/comparison-state";
import {
  type BothTables,
  type Column,
  NUMBER,
  pairRows,
  type RowPair,
  readTable,
  sharedColumns,
  type Table,
} from "@/core/compare/table";
import { compareText } from "@/core/compare/text";
import { joinPath } from "@/core/values/path";
import type { Value } from "@/core/values/value";

export const csv = comparer<Table>({
  kind: "csv",
  title: "Table (CSV)",
  description: "By heading and key column, cell by cell; cells that are numbers are compared as numbers.",
  read: readTable,
  compare: compareTables,
  show: (at, both) => {
    const table = alignTables(at, both);
    // The cells hold nothing to show: the same cells in another notation, or only the headings differ.
    if (table.rows.length === 0) return {};
    return {
      table,
      rows: [{ at, label: at, depth: 0, original: "table, below", twin: "table, below", differs: true }],
    };
  },
  fires: [
    pairOf("a.csv", "no,fare\nT1,2.50\nT2,3\n", "no,fare\nT1,2.50\nT2,4\n"),
    pairOf("", "no,fare\nT1,2\nT2,3\nT3,4\n", "no,fare\nT1,2\nT3,4\n"),
    pairOf("a.csv", "no,fare\nT1,2.50\n", "no,fare\nT1,2.5\n"),
    pairOf("a.csv", "no,fare\r\nT1,2\r\n", "no,fare\nT1,2\n"),
  ],
  staysQuiet: [pairOf("a.csv", 'no,name\nT1,"Tern, the"\n', 'no,name\nT1,"Tern, the"\n')],
});

function compareTables(state: ComparisonState, at: string, both: BothTables): void {
  const { original, twin } = both;
  // The same cells, written otherwise: other line ends, quotes or blank lines, which is a difference of the text.
  if (sameRows([original.head, ...original.rows], [twin.head, ...twin.rows])) {
    compareText(state, at, original.source, twin.source);
    return;
  }
  if (state.settle(at, { original: text(original.source), twin: text(twin.source) }, () => sameShuffled(both))) return;
  compareHeads(state, at, both);
  const columns = sharedColumns(both);
  const { pairs, moved } = pairRows(both);
  for (const pair of pairs) compareRows(state, joinPath(at, pair.label), pair, columns);
  if (moved) state.report(at, "order", { original: list(moved.original), twin: list(moved.twin) });
}

/** Missing columns and another order of columns are separate divergences. */
function compareHeads(state: ComparisonState, at: string, { original, twin }: BothTables): void {
  const path = (name: string) => joinPath(`${at}.header`, name);
  for (const name of original.head)
    if (!twin.head.includes(name)) state.report(path(name), "missing", { original: text(name), twin: null });
  for (const name of twin.head)
    if (!original.head.includes(name)) state.report(path(name), "extra", { original: null, twin: text(name) });
  const [mine, theirs] = [original, twin].map(({ head }, side) =>
    head.filter((name) => [twin, original][side]?.head.includes(name)),
  );
  if (mine && theirs && mine.some((name, index) => name !== theirs[index]))
    state.report(`${at}.header`, "order", { original: list(mine), twin: list(theirs) });
}

function compareRows(
  state: ComparisonState,
  at: string,
  { original, twin }: RowPair,
  columns: readonly Column[],
): void {
  if (original && twin) {
    for (const column of columns)
      compareCells(state, joinPath(at, column.name), original[column.original] ?? "", twin[column.twin] ?? "");
  } else if (original) state.report(at, "missing", { original: list(original), twin: null });
  else if (twin) state.report(at, "extra", { original: null, twin: list(twin) });
}

function compareCells(state: ComparisonState, at: string, original: string, twin: string): void {
  if (original === twin) return;
  // Two ways of writing one number is a difference of text: nothing is rounded, and nothing is passed over.
  const areNumbers = NUMBER.test(original) && NUMBER.test(twin) && Number(original) !== Number(twin);
  if (areNumbers) state.report(at, "number", { original: numberIn(original), twin: numberIn(twin) });
  else state.report(at, "text", { original: text(original), twin: text(twin) });
}

const numberIn = (cell: string): Value =>
  /^-?\d+$/.test(cell) ? { kind: "int", value: BigInt(cell) } : { kind: "float", value: Number(cell) };

const sameRows = (one: Table["rows"], other: Table["rows"]): boolean =>
  one.length === other.length &&
  one.every(
    (row, index) => row.length === other[index]?.length && row.every((cell, at) => cell === other[index]?.[at]),
  );

/** The same rows in another order, under the same heading. */
function sameShuffled({ original, twin }: BothTables): boolean {
  const sorted = (rows: Table["rows"]) => rows.map((row) => JSON.stringify(row)).sort();
  return sameRows([original.head, sorted(original.rows)], [twin.head, sorted(twin.rows)]);
}

const text = (value: string): Value => ({ kind: "text", value });
const list = (cells: readonly string[]): Value => ({ kind: "list", items: cells.map(text) });
