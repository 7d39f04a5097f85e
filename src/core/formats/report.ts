/** The report of a check (formats, section 5). */
import { z } from "zod";
import { allowSchema } from "@/core/formats/allowance";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { json, recordOf } from "@/core/formats/json";

/** The outcomes of a case, from best to worst as far as they compare. */
export const OUTCOMES = ["agree", "allowed", "differ", "broken", "unsteady", "skipped"] as const;

/** An outcome. */
export const outcomeSchema = z.enum(OUTCOMES);
/** The outcome of a case on a twin. */
export type Outcome = z.infer<typeof outcomeSchema>;

/** Cases by outcome. */
export const totalsSchema = z.strictObject({
  cases: z.number().int(),
  agree: z.number().int(),
  allowed: z.number().int(),
  differ: z.number().int(),
  broken: z.number().int(),
  unsteady: z.number().int(),
  skipped: z.number().int(),
});
/** Cases by outcome. */
export type Totals = z.infer<typeof totalsSchema>;

const divergenceSchema = z.strictObject({
  at: z.string(),
  original: json,
  twin: json,
  kind: z.string(),
  allowance: z.string().optional(),
});
/** A place at which two answers differ; values in notation. */
export type Divergence = z.infer<typeof divergenceSchema>;

const caseReportSchema = z.strictObject({
  id: z.string(),
  module: z.string().nullable(),
  twin: z.string(),
  outcome: outcomeSchema,
  divergences: z.array(divergenceSchema),
  more: z.number().int().optional(),
  allowances: z.array(z.string()),
  side: z.enum(["original", "twin", "both"]).optional(),
  why: z.string().optional(),
  lastOutput: z.string().optional(),
  /** The sides whose answer came from the cache. */
  reused: z.array(z.enum(["original", "twin"])).optional(),
  ms: z.strictObject({ original: z.number().nullable(), twin: z.number().nullable() }),
});
/** A case in the report. */
export type CaseReport = z.infer<typeof caseReportSchema>;

const bothSides = z.strictObject({ original: z.number().nullable(), twin: z.number().nullable() });

const moduleReportSchema = z.strictObject({
  name: z.string(),
  twin: z.string(),
  totals: totalsSchema,
  lines: z.number().int(),
  provenLines: z.number().int().nullable(),
  /** Lines of text of both sides, the seconds that the cases took there, and the most memory seen, in megabytes. */
  size: bothSides,
  seconds: bothSides,
  peakMb: bothSides,
});
/** A measurement of both sides; null where it is unknown. */
export type BothSides = z.infer<typeof bothSides>;
/** A module in the report. */
export type ModuleReport = z.infer<typeof moduleReportSchema>;

/** The report of `side-twin check --json`. */
export const reportSchema = z.strictObject({
  format: z.literal("side-twin/report"),
  version: z.literal(1),
  port: z.string(),
  startedAt: z.string(),
  seconds: z.number(),
  state: z.enum(["complete", "stopped"]),
  /** Sources that were saved while the check ran, again and again: its verdicts are of no one text. */
  changed: z.array(z.string()).optional(),
  /** Reasons to doubt a verdict, with the cases. */
  warnings: z.array(z.strictObject({ what: z.string(), cases: z.array(z.string()) })).optional(),
  totals: totalsSchema,
  /** How many answers of each side came from the cache. */
  reused: z.strictObject({ original: z.number().int(), twin: z.number().int() }),
  /** Restrictions on ported code while it ran, as sentences. */
  protections: z.array(z.string()),
  modules: z.array(moduleReportSchema),
  cases: z.array(caseReportSchema),
  families: z.array(
    z.strictObject({
      id: z.string(),
      twin: z.string(),
      module: z.string().nullable(),
      call: z.string(),
      at: z.string(),
      /** The difference as a sentence, and the case with the shortest input. */
      sentence: z.string(),
      simplest: z.string(),
      cases: z.array(z.string()),
      suspects: z.array(
        z.strictObject({
          cause: z.string(),
          score: z.number(),
          evidence: z.string(),
          /** Where the twin's code has what brings it about. */
          place: z.strictObject({ file: z.string(), line: z.number().int() }).optional(),
        }),
      ),
      /** The section where the cases part inside, a small case that shows it by itself, and how many cases part there. */
      inner: z
        .strictObject({ section: z.string(), case: sharedCaseSchema.optional(), shared: z.number().int() })
        .optional(),
    }),
  ),
  allowances: z.array(
    z.strictObject({
      id: z.string(),
      reason: z.string(),
      used: z.number().int(),
      /** The most that a difference needed of its bound. */
      needed: z.string().optional(),
      /** A tighter limit that still excuses everything, and why it is proposed. */
      tighter: z.strictObject({ allow: allowSchema, advice: z.string() }).optional(),
    }),
  ),
  /** Measured by the port's own commands; null where a command gave no number. */
  figures: z
    .array(
      z.strictObject({
        name: z.string(),
        unit: z.string(),
        original: z.number().nullable(),
        twins: recordOf(z.number().nullable()),
      }),
    )
    .optional(),
  toolchains: z.array(
    z.strictObject({ side: z.string(), language: z.string(), version: z.string(), path: z.string() }),
  ),
});
/** The report of a check. */
export type Report = z.infer<typeof reportSchema>;

/** Totals with nothing counted yet. */
export function emptyTotals(): Totals {
  return { cases: 0, agree: 0, allowed: 0, differ: 0, broken: 0, unsteady: 0, skipped: 0 };
}

/** Totals over a list of outcomes. */
export function countOutcomes(outcomes: Iterable<Outcome>): Totals {
  const totals = emptyTotals();
  for (const outcome of outcomes) {
    totals.cases++;
    totals[outcome]++;
  }
  return totals;
}
