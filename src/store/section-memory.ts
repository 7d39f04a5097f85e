/** Remembered texts of the original's sections, by port. */
import { z } from "zod";
import type { MemoryLine } from "@/core/formats/memory-line";
import type { Store } from "@/store/open";

const memoryRow = z
  .object({
    twin: z.string(),
    module: z.string(),
    section: z.string(),
    twin_section: z.string(),
    file: z.string(),
    body: z.string(),
    remembered_at: z.coerce.date(),
    basis: z.enum(["paired", "proven", "said"]),
    commit_id: z.string().nullable(),
  })
  .transform(
    ({ twin_section, body, remembered_at, commit_id, ...rest }): MemoryLine => ({
      ...rest,
      twinSection: twin_section,
      text: body,
      at: remembered_at.toISOString(),
      commit: commit_id,
    }),
  );

/** Remembered sections of a port. */
export const listMemory = (store: Store, portId: string): Promise<MemoryLine[]> =>
  store.rows(
    memoryRow,
    `select twin, module, section, twin_section, file, body, remembered_at, basis, commit_id
     from section_memory where port_id = $1 order by twin, module, section`,
    [portId],
  );

/** Puts rows in the place of those of the same sections, in one statement. */
export const saveMemory = (store: Store, portId: string, rows: readonly MemoryLine[]): Promise<void> =>
  store.run(
    `insert into section_memory (port_id, twin, module, section, twin_section, file, body, remembered_at, basis, commit_id)
     select $1, twin, module, section, twin_section, file, body, remembered_at, basis, commit_id
     from jsonb_to_recordset($2::jsonb) as (twin text, module text, section text, twin_section text, file text, body text,
       remembered_at timestamptz, basis text, commit_id text)
     on conflict (port_id, twin, module, section) do update set twin_section = excluded.twin_section,
       file = excluded.file, body = excluded.body, remembered_at = excluded.remembered_at, basis = excluded.basis,
       commit_id = excluded.commit_id`,
    [
      portId,
      JSON.stringify(
        rows.map(({ twinSection, text, at, commit, ...rest }) => ({
          ...rest,
          twin_section: twinSection,
          body: text.replaceAll("\0", "\u2400"),
          remembered_at: at,
          commit_id: commit,
        })),
      ),
    ],
  );

/** Forgets one remembered section. */
export const deleteMemory = (
  store: Store,
  portId: string,
  { twin, module, section }: Pick<MemoryLine, "twin" | "module" | "section">,
): Promise<void> =>
  store.run("delete from section_memory where port_id = $1 and twin = $2 and module = $3 and section = $4", [
    portId,
    twin,
    module,
    section,
  ]);
