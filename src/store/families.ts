/** The families of divergences of a port, as the last checks found them. */
import { z } from "zod";
import type { Suspect } from "@/core/explain/families";
import type { FamilyInner } from "@/core/explain/inner";
import { sharedCaseSchema } from "@/core/formats/case-line";
import type { Store } from "@/store/open";

const familyRow = z
  .object({
    check_id: z.number(),
    ordinal: z.number(),
    twin: z.string(),
    module: z.string().nullable(),
    call: z.string(),
    at: z.string(),
    kind: z.string(),
    sentence: z.string(),
    simplest: z.string(),
    cases: z.array(z.string()),
    suspects: z.array(
      z.object({
        cause: z.string(),
        score: z.number(),
        evidence: z.string(),
        place: z.object({ file: z.string(), line: z.number() }).optional(),
      }),
    ),
    inner: z
      .object({
        section: z.string(),
        path: z.array(z.string()),
        case: sharedCaseSchema.optional(),
        shared: z.number(),
      })
      .nullable(),
  })
  .transform(({ check_id, ...rest }) => ({ ...rest, checkId: check_id }));
/** A saved family. */
export type FamilyRow = z.infer<typeof familyRow>;

/** A family found by a check. */
export type FamilyToSave = Omit<FamilyRow, "checkId" | "ordinal" | "cases" | "suspects" | "inner"> & {
  readonly inner?: FamilyInner;
  readonly cases: readonly string[];
  readonly suspects: readonly Suspect[];
};

/** The families of a port, those with the most cases first. */
export const listFamilies = (store: Store, portId: string): Promise<FamilyRow[]> =>
  store.rows(
    familyRow,
    `select check_id, ordinal, twin, module, call, at, kind, sentence, simplest, cases, suspects, "inner"
     from family where port_id = $1 order by jsonb_array_length(cases) desc, module, call, at`,
    [portId],
  );

/** Replaces the families of the modules and twins that a check covered; null for all. */
export const replaceFamilies = (
  store: Store,
  check: {
    readonly portId: string;
    readonly checkId: number;
    readonly module: string | null;
    readonly twins: readonly string[];
  },
  families: readonly FamilyToSave[],
): Promise<void> =>
  store.transaction([
    {
      sql: "delete from family where port_id = $1 and twin = any($2) and ($3::text is null or module = $3)",
      values: [check.portId, check.twins, check.module],
    },
    {
      sql: `insert into family (port_id, check_id, ordinal, twin, module, call, at, kind, sentence, simplest, cases, suspects, "inner")
        select $1, $2, ordinality, twin, module, call, at, kind, sentence, simplest, cases, suspects, "inner"
        from rows from (jsonb_to_recordset($3::jsonb) as (twin text, module text, call text, at text, kind text,
          sentence text, simplest text, cases jsonb, suspects jsonb, "inner" jsonb)) with ordinality`,
      values: [check.portId, check.checkId, JSON.stringify(families).replaceAll("\\u0000", "\\u2400")],
    },
  ]);
