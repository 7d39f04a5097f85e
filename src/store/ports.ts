/** Ports, with their modules and sections as last read. */
import { z } from "zod";
import type { Store } from "@/store/open";

const portRow = z
  .object({ id: z.string(), file: z.string(), name: z.string(), added_at: z.coerce.date() })
  .transform(({ added_at, ...rest }) => ({ ...rest, addedAt: added_at }));
/** A listed port. */
export type PortRow = z.infer<typeof portRow>;

const COLUMNS = "id, file, name, added_at";

/** All ports, by name. */
export const listPorts = (store: Store): Promise<PortRow[]> =>
  store.rows(portRow, `select ${COLUMNS} from port order by added_at, id`);

/** Finds a port by id. */
export async function findPort(store: Store, id: string): Promise<PortRow | null> {
  const [row] = await store.rows(portRow, `select ${COLUMNS} from port where id = $1`, [id]);
  return row ?? null;
}

/** Finds a port by its port file. */
export async function findPortByFile(store: Store, file: string): Promise<PortRow | null> {
  const [row] = await store.rows(portRow, `select ${COLUMNS} from port where file = $1`, [file]);
  return row ?? null;
}

/** Adds a port, or updates its name. */
export const savePort = (store: Store, port: PortRow): Promise<void> =>
  store.run(
    `insert into port (id, file, name, added_at) values ($1, $2, $3, $4)
     on conflict (id) do update set file = excluded.file, name = excluded.name`,
    [port.id, port.file, port.name, port.addedAt],
  );

/** Removes a port with everything stored about it. */
export const deletePort = (store: Store, id: string): Promise<void> => {
  store.forget(id);
  return store.run("delete from port where id = $1", [id]);
};

/** Modules and sections to store. */
export type Reading = {
  readonly modules: readonly { readonly name: string; readonly original: readonly string[]; readonly twins: object }[];
  readonly sections: readonly {
    readonly module: string;
    readonly name: string;
    readonly kind: string;
    readonly file: string;
    readonly from: number;
    readonly to: number;
    readonly complexity: number;
  }[];
};

/** Replaces a port's modules and sections in one transaction of two bulk statements. */
export async function saveReading(store: Store, portId: string, reading: Reading): Promise<void> {
  await store.transaction([
    { sql: "delete from module where port_id = $1", values: [portId] },
    { sql: "delete from section where port_id = $1", values: [portId] },
    {
      sql: `insert into module (port_id, name, ordinal, original_files, twin_files)
        select $1, name, ordinality, original, twins
        from rows from (jsonb_to_recordset($2::jsonb) as (name text, original jsonb, twins jsonb)) with ordinality`,
      values: [portId, JSON.stringify(reading.modules)],
    },
    {
      sql: `insert into section (port_id, module, ordinal, name, kind, file, from_line, to_line, complexity)
        select $1, module, ordinality, name, kind, file, "from", "to", complexity
        from rows from (jsonb_to_recordset($2::jsonb)
          as (module text, name text, kind text, file text, "from" integer, "to" integer, complexity integer)) with ordinality`,
      values: [portId, JSON.stringify(reading.sections)],
    },
  ]);
}
