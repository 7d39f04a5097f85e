/** How many complaints the checks of the ladder had, over time. */
import { z } from "zod";
import type { Store } from "@/store/open";

const pointRow = z
  .object({
    at: z.coerce.date(),
    errors: z.number(),
    warnings: z.number(),
    /** Names of the rungs that were reached; null in rows from before they were noted. */
    reached: z.array(z.string()).nullable(),
  })
  .transform(({ at, ...counts }) => ({ at: at.toISOString(), ...counts }));
/** The complaints of one run of the checks. */
export type ComplaintPoint = z.infer<typeof pointRow>;

/** Adds a point to the history. */
export const saveComplaints = (store: Store, portId: string, twin: string, point: ComplaintPoint): Promise<void> =>
  store.run(
    `insert into complaint_point (port_id, twin, at, errors, warnings, reached) values ($1, $2, $3, $4, $5, $6::jsonb)
     on conflict do nothing`,
    [portId, twin, point.at, point.errors, point.warnings, JSON.stringify(point.reached)],
  );

/** The newest `most`, oldest first. */
export const listComplaints = (store: Store, portId: string, twin: string, most = 400): Promise<ComplaintPoint[]> =>
  store.rows(
    pointRow,
    `select * from (
       select at, errors, warnings, reached from complaint_point where port_id = $1 and twin = $2 order by at desc limit $3
     ) as newest order by at`,
    [portId, twin, most],
  );
