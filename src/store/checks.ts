/** Checks: their beginning and end, the proven lines they found and what they measured. */
import { z } from "zod";
import { type ModuleReport, totalsSchema } from "@/core/formats/report";
import type { Store } from "@/store/open";

const checkRow = z
  .object({
    id: z.number(),
    port_id: z.string(),
    module: z.string().nullable(),
    state: z.enum(["running", "complete", "stopped", "interrupted", "failed"]),
    started_at: z.coerce.date(),
    ended_at: z.coerce.date().nullable(),
    seconds: z.number().nullable(),
    totals: totalsSchema.nullable(),
    proven_lines: z.number().nullable(),
    lines: z.number().nullable(),
    problem: z.object({ what: z.string(), next: z.string().optional() }).loose().nullable(),
    scope: z
      .object({
        module: z.string().optional(),
        twin: z.string().optional(),
        caseId: z.string().optional(),
        resume: z.string().optional(),
      })
      .nullable(),
    reused_original: z.number().nullable(),
    reused_twin: z.number().nullable(),
    mended: z.number().nullable(),
    worsened: z.number().nullable(),
  })
  .transform(({ port_id, started_at, ended_at, proven_lines, reused_original, reused_twin, ...rest }) => ({
    ...rest,
    reused: reused_original === null || reused_twin === null ? null : { original: reused_original, twin: reused_twin },
    portId: port_id,
    startedAt: started_at,
    endedAt: ended_at,
    provenLines: proven_lines,
  }));
/** A saved check. */
export type CheckRow = z.infer<typeof checkRow>;

/** Saves a check as running; returns its id. */
export async function startCheck(
  store: Store,
  facts: { portId: string; module: string | null; startedAt: Date; scope?: object },
): Promise<number> {
  const [row] = await store.rows(
    z.object({ id: z.number() }),
    "insert into check_run (port_id, module, state, started_at, scope) values ($1, $2, 'running', $3, $4) returning id",
    [facts.portId, facts.module, facts.startedAt, JSON.stringify(facts.scope ?? {})],
  );
  if (!row) throw new Error("a check was not written");
  return row.id;
}

/** The end of a check. */
export type CheckEndRow = {
  readonly state: "complete" | "stopped" | "failed";
  readonly endedAt: Date;
  readonly seconds: number;
  readonly totals: object | null;
  readonly provenLines: number | null;
  readonly lines: number | null;
  readonly problem?: object;
  readonly reused?: { readonly original: number; readonly twin: number };
  /** Cases that became right, and wrong, against the last word before. */
  readonly changes?: CheckChanges;
};

/** How many cases became right, and how many wrong. */
export type CheckChanges = { readonly mended: number; readonly worsened: number };

/** Saves the end of a check. */
export const endCheck = (store: Store, id: number, end: CheckEndRow): Promise<void> =>
  store.run(
    `update check_run set state = $2, ended_at = $3, seconds = $4, totals = $5, proven_lines = $6, lines = $7, problem = $8,
       reused_original = $9, reused_twin = $10, mended = $11, worsened = $12
     where id = $1`,
    [
      id,
      end.state,
      end.endedAt,
      end.seconds,
      end.totals ? JSON.stringify(end.totals) : null,
      end.provenLines,
      end.lines,
      end.problem ? JSON.stringify(end.problem) : null,
      end.reused?.original ?? null,
      end.reused?.twin ?? null,
      end.changes?.mended ?? null,
      end.changes?.worsened ?? null,
    ],
  );

/** The checks of a port, newest first. */
export const listChecks = (store: Store, portId: string, most = 50): Promise<CheckRow[]> =>
  store.rows(
    checkRow,
    `select id, port_id, module, state, started_at, ended_at, seconds, totals, proven_lines, lines, problem,
       scope, reused_original, reused_twin, mended, worsened
     from check_run where port_id = $1 order by id desc limit $2`,
    [portId, most],
  );

const provenRow = z.object({
  twin: z.string(),
  module: z.string(),
  file: z.string(),
  executable: z.array(z.number()),
  proven: z.array(z.number()),
  stamp: z.string(),
});
/** Proven lines of a file on a twin. */
export type ProvenRow = z.infer<typeof provenRow>;

/** Lines that agreeing cases of a twin proved. */
export const listProven = (store: Store, portId: string, twin: string): Promise<ProvenRow[]> =>
  store.rows(
    provenRow,
    "select twin, module, file, executable, proven, stamp from proven where port_id = $1 and twin = $2",
    [portId, twin],
  );

/** Replaces the proven lines of the twins and modules that are given. */
export const saveProven = (store: Store, portId: string, checkId: number, rows: readonly ProvenRow[]): Promise<void> =>
  store.run(
    `insert into proven (port_id, twin, module, file, executable, proven, stamp, check_id)
     select $1, twin, module, file, executable, proven, stamp, $2
     from jsonb_to_recordset($3::jsonb)
       as (twin text, module text, file text, executable jsonb, proven jsonb, stamp text)
     on conflict (port_id, twin, module, file) do update set executable = excluded.executable, proven = excluded.proven,
       stamp = excluded.stamp, check_id = excluded.check_id`,
    [portId, checkId, JSON.stringify(rows)],
  );

const measureRow = z
  .object({
    check_id: z.number(),
    module: z.string(),
    twin: z.string(),
    started_at: z.coerce.date(),
    lines_original: z.number().nullable(),
    lines_twin: z.number().nullable(),
    seconds_original: z.number().nullable(),
    seconds_twin: z.number().nullable(),
    peak_mb_original: z.number().nullable(),
    peak_mb_twin: z.number().nullable(),
  })
  .transform((row) => ({
    checkId: row.check_id,
    module: row.module,
    twin: row.twin,
    startedAt: row.started_at,
    size: { original: row.lines_original, twin: row.lines_twin },
    seconds: { original: row.seconds_original, twin: row.seconds_twin },
    peakMb: { original: row.peak_mb_original, twin: row.peak_mb_twin },
  }));
/** Measures of a module from one check. */
export type MeasureRow = z.infer<typeof measureRow>;

/** Keeps the size and speed of both sides of modules as a check found them. */
export const saveMeasures = (store: Store, checkId: number, modules: readonly ModuleReport[]): Promise<void> =>
  store.run(
    `insert into module_measure (check_id, module, twin, lines_original, lines_twin, seconds_original, seconds_twin,
       peak_mb_original, peak_mb_twin)
     select $1, module, twin, lines_original, lines_twin, seconds_original, seconds_twin, peak_mb_original, peak_mb_twin
     from jsonb_to_recordset($2::jsonb) as (module text, twin text, lines_original integer, lines_twin integer,
       seconds_original float8, seconds_twin float8, peak_mb_original float8, peak_mb_twin float8)`,
    [
      checkId,
      JSON.stringify(
        modules.map(({ name, twin, size, seconds, peakMb }) => ({
          module: name,
          twin,
          lines_original: size.original,
          lines_twin: size.twin,
          seconds_original: seconds.original,
          seconds_twin: seconds.twin,
          peak_mb_original: peakMb.original,
          peak_mb_twin: peakMb.twin,
        })),
      ),
    ],
  );

/** Measurements of a module on a twin, oldest first. */
export const listMeasures = (store: Store, portId: string, module: string, twin: string): Promise<MeasureRow[]> =>
  store.rows(
    measureRow,
    `select check_id, module_measure.module, twin, started_at, lines_original, lines_twin, seconds_original, seconds_twin,
       peak_mb_original, peak_mb_twin
     from module_measure join check_run on check_run.id = check_id
     where port_id = $1 and module_measure.module = $2 and twin = $3 order by check_id`,
    [portId, module, twin],
  );
