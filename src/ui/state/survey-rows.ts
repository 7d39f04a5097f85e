/** The rows of the Survey's table: filtered and sorted. */
import type { SurveyView } from "@/api/views";

/** A row of the table. */
export type SurveyRow = SurveyView["rows"][number];

/** The orders of the rows, by name. */
export const ROW_ORDERS = ["layer", "name", "lines", "complexity", "uses"] as const;

/** One of the orders. */
export type RowOrder = (typeof ROW_ORDERS)[number];

type Wanted = {
  readonly words: string;
  readonly order: RowOrder;
  /** The chosen column; the order "uses" sorts by its count. */
  readonly column: string | null;
};

/**
 * Returns the columns and rows that the filter's words match, in the wanted order.
 * Words match a module, or a column and then the modules that use it; empty words match everything.
 */
export function surveyTable(
  { rows, grid }: Pick<SurveyView, "rows" | "grid">,
  { words, order, column }: Wanted,
): { readonly rows: readonly SurveyRow[]; readonly columns: SurveyView["grid"]["columns"] } {
  const needle = words.trim().toLowerCase();
  const has = (name: string) => name.toLowerCase().includes(needle);
  const columns = grid.columns.filter(({ name }) => has(name));
  const users = new Set(grid.cells.filter((cell) => has(cell.column)).map(({ module }) => module));
  const shown = rows.filter(({ module }) => has(module) || users.has(module));
  const uses = new Map(grid.cells.filter((cell) => cell.column === column).map((cell) => [cell.module, cell.uses]));
  const sorted = [...shown].sort((left, right) => {
    if (order === "name") return left.module < right.module ? -1 : 1;
    if (order === "lines") return right.lines - left.lines;
    if (order === "complexity") return right.complexity - left.complexity;
    if (order === "uses") return (uses.get(right.module) ?? 0) - (uses.get(left.module) ?? 0);
    return 0;
  });
  // A module's own name keeps every column in view: what it uses is the answer then.
  return { rows: sorted, columns: columns.length > 0 && needle !== "" ? columns : grid.columns };
}
