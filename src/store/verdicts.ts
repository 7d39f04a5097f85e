/**
 * Verdicts of a port's cases. They are stored in pages, one per batch; a book holds the newest verdict per case in
 * memory, so that screens need not query a hundred thousand rows.
 */
import { z } from "zod";
import { BOUNDS } from "@/core/allowances/needed";
import type { CaseUse } from "@/core/allowances/review";
import { type Divergence, outcomeSchema } from "@/core/formats/report";
import type { Connection } from "@/store/database";

const verdictRecord = z.object({
  twin: z.string(),
  caseId: z.string(),
  module: z.string().nullable(),
  section: z.string(),
  outcome: outcomeSchema,
  side: z.enum(["original", "twin", "both"]).nullable(),
  why: z.string().nullable(),
  msOriginal: z.number().nullable(),
  msTwin: z.number().nullable(),
  stamp: z.string(),
  divergenceCount: z.number(),
  /** Differences excused by allowances. */
  excuses: z.array(
    z.strictObject({
      allowance: z.string(),
      used: z.number(),
      needed: z.partialRecord(z.enum(BOUNDS), z.number()),
    }),
  ),
});
/** The newest verdict of a case on a twin. */
export type VerdictRow = Omit<z.infer<typeof verdictRecord>, "excuses"> & {
  readonly excuses: readonly CaseUse[];
  readonly checkId: number;
};

/** A column of a page: a value a verdict, or one alone that holds for all. */
const column = <T extends z.ZodType>(value: T) => z.union([z.array(value), z.strictObject({ all: value })]);

/** Writing columns takes a tenth of the time of records, and most hold the same in every row. */
const pageColumns = z.object({
  twin: column(verdictRecord.shape.twin),
  caseId: z.array(verdictRecord.shape.caseId),
  module: column(verdictRecord.shape.module),
  section: column(verdictRecord.shape.section),
  outcome: column(verdictRecord.shape.outcome),
  side: column(verdictRecord.shape.side),
  why: column(verdictRecord.shape.why),
  msOriginal: column(verdictRecord.shape.msOriginal),
  msTwin: column(verdictRecord.shape.msTwin),
  stamp: column(verdictRecord.shape.stamp),
  divergenceCount: column(verdictRecord.shape.divergenceCount),
  // Pages of an older version have none.
  excuses: column(verdictRecord.shape.excuses).default({ all: [] }),
});

const detailRecord = z.object({
  original: z.unknown(),
  twinAnswer: z.unknown().optional(),
  lastOutput: z.string().nullable().default(null),
  divergences: z
    .array(
      z.object({
        at: z.string(),
        kind: z.string(),
        original: z.unknown(),
        twin: z.unknown(),
        allowance: z.string().nullable().default(null),
      }),
    )
    .default([]),
});
/** Further data of a case: both answers (the twin's omitted if identical) and every divergence. */
export type CaseDetail = z.infer<typeof detailRecord>;

/** A verdict and the JSON of its detail, made by `formatDetail`. */
export type VerdictToSave = { readonly row: VerdictRow; readonly detail: string };

/** Answers are JSON already and are embedded as text; empty fields are omitted. */
export function formatDetail(detail: {
  readonly original: string | null;
  readonly twinAnswer: string | null;
  readonly lastOutput: string | null;
  readonly divergences: readonly Divergence[];
}): string {
  const { original, twinAnswer, lastOutput, divergences } = detail;
  let text = `{"original":${original}`;
  if (twinAnswer !== null) text += `,"twinAnswer":${twinAnswer}`;
  if (lastOutput !== null) text += `,"lastOutput":${JSON.stringify(lastOutput)}`;
  if (divergences.length > 0) text += `,"divergences":${JSON.stringify(divergences)}`;
  return `${text}}`;
}

type Entry = { readonly row: VerdictRow; readonly page: number; readonly index: number };

/** The verdicts of one port. */
export class VerdictBook {
  /** Twin → case → the last word. */
  private readonly entries = new Map<string, Map<string, Entry>>();
  /** Page → how many cases it has the last word on. */
  private readonly lastWords = new Map<number, number>();
  private listed: readonly VerdictRow[] | null = null;

  private constructor(
    private readonly store: Connection,
    private readonly portId: string,
  ) {}

  static async open(store: Connection, portId: string): Promise<VerdictBook> {
    const book = new VerdictBook(store, portId);
    const pages = await store.rows(
      z.object({ id: z.number(), check_id: z.number(), verdicts: z.string() }),
      "select id, check_id, verdicts from verdict_page where port_id = $1 order by id",
      [portId],
    );
    for (const page of pages) {
      book.enter(page.id, rowsOf(pageColumns.parse(JSON.parse(page.verdicts)), page.check_id));
    }
    return book;
  }

  /** Takes a page's verdicts in; returns the pages that have no last word left. */
  private enter(page: number, rows: readonly VerdictRow[]): number[] {
    this.listed = null;
    const emptied: number[] = [];
    for (const [index, row] of rows.entries()) {
      const entries = this.entries.get(row.twin) ?? new Map<string, Entry>();
      this.entries.set(row.twin, entries);
      const before = entries.get(row.caseId);
      if (before) {
        const left = (this.lastWords.get(before.page) ?? 1) - 1;
        this.lastWords.set(before.page, left);
        if (left === 0) emptied.push(before.page);
      }
      entries.set(row.caseId, { row, page, index });
    }
    this.lastWords.set(page, (this.lastWords.get(page) ?? 0) + rows.length);
    return emptied.filter((candidate) => candidate !== page);
  }

  /** The last word on every case that was ever checked: the same list until something is saved. */
  list(): readonly VerdictRow[] {
    this.listed ??= [...this.entries.values()].flatMap((entries) => [...entries.values()].map((entry) => entry.row));
    return this.listed;
  }

  /** Saves a batch as one page; it is stored when this resolves, and only then in the book. */
  async save(checkId: number, verdicts: readonly VerdictToSave[]): Promise<void> {
    const last = withoutEarlier(verdicts);
    const rows = last.map((verdict) => verdict.row);
    const [page] = await this.store.rows(
      z.object({ id: z.number() }),
      "insert into verdict_page (port_id, check_id, verdicts, details) values ($1, $2, $3, $4) returning id",
      [this.portId, checkId, JSON.stringify(columnsOf(rows)), last.map((verdict) => verdict.detail).join("\n")],
    );
    if (!page) throw new Error("a page of verdicts was not written");
    const emptied = this.enter(page.id, rows);
    for (const old of emptied) this.lastWords.delete(old);
    if (emptied.length > 0) await this.store.run("delete from verdict_page where id = any($1)", [emptied]);
  }

  /** The outcome of the last word on a case; undefined when it was never checked. */
  outcomeOf(twin: string, caseId: string): VerdictRow["outcome"] | undefined {
    return this.entries.get(twin)?.get(caseId)?.row.outcome;
  }

  /** The last word on one case with its answers, or null when it was never checked. Cost grows with its page. */
  async find(twin: string, caseId: string): Promise<(VerdictRow & CaseDetail) | null> {
    const entry = this.entries.get(twin)?.get(caseId);
    if (!entry) return null;
    const [page] = await this.store.rows(
      z.object({ detail: z.string() }),
      "select split_part(details, chr(10), $2) as detail from verdict_page where id = $1",
      [entry.page, entry.index + 1],
    );
    if (!page) throw new Error("a page of verdicts is missing");
    return { ...entry.row, ...detailRecord.parse(JSON.parse(page.detail)) };
  }
}

/** The last verdict counts if a batch has a case twice (it turned out unsteady). */
function withoutEarlier(verdicts: readonly VerdictToSave[]): readonly VerdictToSave[] {
  const last = new Map(verdicts.map((verdict) => [`${verdict.row.twin}\0${verdict.row.caseId}`, verdict]));
  return last.size === verdicts.length ? verdicts : [...last.values()];
}

type Column<T> = T[] | { all: T };

function columnOf<T>(rows: readonly VerdictRow[], pick: (row: VerdictRow) => T): Column<T> {
  const values = rows.map(pick);
  const [first] = values;
  return first !== undefined && values.every((value) => value === first) ? { all: first } : values;
}

const columnsOf = (rows: readonly VerdictRow[]) => ({
  twin: columnOf(rows, (row) => row.twin),
  caseId: rows.map((row) => row.caseId),
  module: columnOf(rows, (row) => row.module),
  section: columnOf(rows, (row) => row.section),
  outcome: columnOf(rows, (row) => row.outcome),
  side: columnOf(rows, (row) => row.side),
  why: columnOf(rows, (row) => row.why),
  msOriginal: columnOf(rows, (row) => row.msOriginal),
  msTwin: columnOf(rows, (row) => row.msTwin),
  stamp: columnOf(rows, (row) => row.stamp),
  divergenceCount: columnOf(rows, (row) => row.divergenceCount),
  excuses: columnOf(rows, (row) => row.excuses),
});

function rowsOf(columns: z.infer<typeof pageColumns>, checkId: number): VerdictRow[] {
  const at = <T>(values: Column<T>, index: number): T => (Array.isArray(values) ? (values[index] as T) : values.all); // columns of one page are of one length
  return columns.caseId.map((caseId, index) => ({
    twin: at(columns.twin, index),
    caseId,
    module: at(columns.module, index),
    section: at(columns.section, index),
    outcome: at(columns.outcome, index),
    side: at(columns.side, index),
    why: at(columns.why, index),
    msOriginal: at(columns.msOriginal, index),
    msTwin: at(columns.msTwin, index),
    stamp: at(columns.stamp, index),
    divergenceCount: at(columns.divergenceCount, index),
    excuses: at(columns.excuses, index),
    checkId,
  }));
}
