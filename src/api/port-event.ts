/** Events of a port's stream (server-sent events), as the server writes and the screens read them. */
import { z } from "zod";
import { ERROR_CODES, type ErrorRecord } from "@/core/errors";
import { OUTCOMES } from "@/core/formats/report";

const errorRecord: z.ZodType<ErrorRecord> = z.object({
  code: z.enum(ERROR_CODES),
  what: z.string(),
  where: z
    .object({
      file: z.string().optional(),
      line: z.number().optional(),
      column: z.number().optional(),
      key: z.string().optional(),
    })
    .optional(),
  next: z.string().optional(),
});

const CHECK_STATES = ["running", "complete", "stopped", "interrupted", "failed"] as const;
/** `interrupted`: the server ended while the check ran. */
export type CheckState = (typeof CHECK_STATES)[number];

const verdictNews = z.object({
  id: z.string(),
  twin: z.string(),
  module: z.string().nullable(),
  outcome: z.enum(OUTCOMES),
});
/** The outcome of one case on one twin. */
export type VerdictNews = z.infer<typeof verdictNews>;

const eventSchema = z.discriminatedUnion("type", [
  /** The first one, also after a lost connection. */
  z.object({ type: z.literal("hello"), running: z.boolean() }),
  z.object({ type: z.literal("started"), check: z.number(), module: z.string().nullable(), total: z.number() }),
  z.object({ type: z.literal("phase"), phase: z.string() }),
  z.object({ type: z.literal("verdicts"), done: z.number(), total: z.number(), list: z.array(verdictNews) }),
  z.object({
    type: z.literal("ended"),
    check: z.number(),
    state: z.enum(CHECK_STATES),
    problem: errorRecord.nullable(),
    /** Of the cases that it covered; null where it failed. */
    changes: z
      .object({ module: z.string().nullable(), mended: z.number(), worsened: z.number(), seconds: z.number() })
      .nullable(),
  }),
  z.object({
    type: z.literal("baseline"),
    phase: z.enum(["prepare", "run", "again"]),
    done: z.number(),
    total: z.number(),
  }),
  z.object({ type: z.literal("baseline-ended") }),
  z.object({ type: z.literal("files"), paths: z.array(z.string()) }),
]);

/** One event of the stream. */
export type PortEvent = z.infer<typeof eventSchema>;

/** Null for what no screen of this version understands. */
export function parsePortEvent(text: string): PortEvent | null {
  const read = eventSchema.safeParse(JSON.parse(text));
  return read.success ? read.data : null;
}
