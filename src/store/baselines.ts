/** Baselines: the result of the last run of each original by itself. */
import { z } from "zod";
import type { Baseline } from "@/core/progress/baseline";
import type { Store } from "@/store/open";

/** A saved baseline. */
export type BaselineRow = {
  readonly startedAt: Date;
  readonly seconds: number;
  readonly baseline: Baseline;
  /** The code it was run on. */
  readonly stamp: string;
};

const row = z
  .object({ started_at: z.coerce.date(), seconds: z.number(), summary: z.string() })
  .transform(({ started_at, seconds, summary }): BaselineRow => {
    // Written by this or an older version of `saveBaseline`; missing fields are shown as unknown.
    const { stamp, ...baseline } = JSON.parse(summary) as Baseline & { stamp: string };
    return { startedAt: started_at, seconds, baseline, stamp };
  });

/** The last baseline of a port; null if there is none. */
export async function findBaseline(store: Store, portId: string): Promise<BaselineRow | null> {
  const [found] = await store.rows(row, "select started_at, seconds, summary from baseline where port_id = $1", [
    portId,
  ]);
  return found ?? null;
}

/** Replaces the baseline of a port. */
export const saveBaseline = (store: Store, portId: string, { startedAt, seconds, baseline, stamp }: BaselineRow) =>
  store.run(
    `insert into baseline (port_id, started_at, seconds, summary) values ($1, $2, $3, $4)
     on conflict (port_id) do update set started_at = excluded.started_at, seconds = excluded.seconds,
       summary = excluded.summary`,
    [portId, startedAt, seconds, JSON.stringify({ ...baseline, stamp })],
  );
