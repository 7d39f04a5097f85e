/** When people worked on modules, and the effort left over time. */
import { z } from "zod";
import type { EffortPoint } from "@/core/progress/effort";
import type { Store } from "@/store/open";

/** Notes that modules were worked on, once a minute. */
export const saveTouches = (
  store: Store,
  portId: string,
  touched: { readonly at: Date; readonly modules: readonly { readonly twin: string; readonly module: string }[] },
): Promise<void> =>
  store.run(
    `insert into module_touch (port_id, twin, module, at)
     select $1, twin, module, date_trunc('minute', $2::timestamptz)
     from jsonb_to_recordset($3::jsonb) as (twin text, module text)
     on conflict do nothing`,
    [portId, touched.at, JSON.stringify(touched.modules)],
  );

const touchRow = z.object({ module: z.string(), moments: z.array(z.number()) });

/** Module → the moments at which it was worked on, in milliseconds since 1970. */
export async function listTouches(store: Store, portId: string, twin: string): Promise<Map<string, readonly number[]>> {
  const rows = await store.rows(
    touchRow,
    `select module, jsonb_agg((extract(epoch from at) * 1000)::bigint order by at) as moments
     from module_touch where port_id = $1 and twin = $2 group by module`,
    [portId, twin],
  );
  return new Map(rows.map(({ module, moments }) => [module, moments]));
}

/** Adds a point to the history. */
export const saveEffort = (store: Store, portId: string, twin: string, point: EffortPoint): Promise<void> =>
  store.run(
    `insert into effort_point (port_id, twin, at, points_left, points_total, lines, proven_lines)
     values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing`,
    [portId, twin, point.at, point.left, point.total, point.lines, point.provenLines],
  );

const effortRow = z
  .object({
    at: z.coerce.date(),
    points_left: z.number(),
    points_total: z.number(),
    lines: z.number(),
    proven_lines: z.number().nullable(),
  })
  .transform(
    ({ at, points_left, points_total, lines, proven_lines }): EffortPoint => ({
      at: at.toISOString(),
      left: points_left,
      total: points_total,
      lines,
      provenLines: proven_lines,
    }),
  );

/** The newest `most`, oldest first. */
export const listEffort = (store: Store, portId: string, twin: string, most = 400): Promise<EffortPoint[]> =>
  store.rows(
    effortRow,
    `select * from (
       select at, points_left, points_total, lines, proven_lines from effort_point
       where port_id = $1 and twin = $2 order by at desc limit $3
     ) as newest order by at`,
    [portId, twin, most],
  );
