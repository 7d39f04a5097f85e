/** Which row of the Bench is chosen, by its id: places in the list move when rows are hidden or files change. Pure. */
import type { BenchView, TapeCase } from "@/api/views";

type Row = BenchView["rows"][number];

/**
 * The place of the chosen row among the rows that are shown. Where it is hidden, the next one after it in the whole list that is shown; 0
 * where nothing is chosen or nothing is left after it.
 */
export function placeOf(chosen: string | null, shown: readonly Row[], all: readonly Row[]): number {
  const at = shown.findIndex(({ id }) => id === chosen);
  if (at >= 0) return at;
  const from = all.findIndex(({ id }) => id === chosen);
  if (from < 0) return 0;
  const visible = new Set(shown.map(({ id }) => id));
  const next =
    all.slice(from).find(({ id }) => visible.has(id)) ?? all.slice(0, from).findLast(({ id }) => visible.has(id));
  return Math.max(
    0,
    shown.findIndex(({ id }) => id === next?.id),
  );
}

/** A row in words, for those who hear it: `fare_for, renamed, 2 of 5 cases agree`. */
export function describeRow(row: Row | undefined): string {
  if (!row) return "";
  const { cases, agree, allowed, skipped } = row.totals;
  const counts =
    cases === 0 ? "no cases" : skipped === cases ? "not ported yet" : `${agree + allowed} of ${cases} cases agree`;
  return [
    row.name || "between sections",
    row.relation === "between" ? "" : row.relation,
    row.kind === "between" ? "" : counts,
  ]
    .filter(Boolean)
    .join(", ");
}

/** A case in words: `fares-1 differs`. */
export const describeTapeCase = (item: TapeCase | null, words: Readonly<Record<string, string>>): string =>
  item ? `${item.id}: ${words[item.mark] ?? item.mark}${item.stale ? ", out of date" : ""}` : "";
