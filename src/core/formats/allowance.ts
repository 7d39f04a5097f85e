/** Allowances: what may differ between the two sides, where, and why (formats, section 4). */
import { z } from "zod";
import { json, recordOf } from "@/core/formats/json";

const numberTolerance = z.strictObject({
  abs: z.number().nonnegative().optional(),
  rel: z.number().nonnegative().optional(),
  ulps: z.number().int().nonnegative().optional(),
});

const replacement = z.strictObject({
  pattern: z.string().refine(isPattern, "This is no regular expression"),
  with: z.string(),
});

/** Replaced with the flags that it is tried with here. */
function isPattern(pattern: string): boolean {
  try {
    return new RegExp(pattern, "gu") instanceof RegExp;
  } catch {
    // The engine's message describes its own syntax; the schema names the place.
    return false;
  }
}

const textLoosening = z.strictObject({
  trim: z.boolean().optional(),
  lineEndings: z.boolean().optional(),
  case: z.boolean().optional(),
  unicode: z.boolean().optional(),
  replace: z.array(replacement).optional(),
});

/** `channel`: steps of 255 by which a channel of a pixel may differ; `share`: the part of all pixels that may differ by more. */
const imageTolerance = z.strictObject({
  channel: z.number().nonnegative().max(255).optional(),
  share: z.number().nonnegative().max(1).optional(),
});

/** Two values that were agreed to; any other value ends the agreement. */
const exactPair = z.strictObject({ original: json, twin: json });

/** The differences allowed: at least one kind with its setting. */
export const allowSchema = z
  .strictObject({
    number: numberTolerance.optional(),
    ignore: z.literal(true).optional(),
    unordered: z.union([z.literal(true), z.strictObject({ by: z.string() })]).optional(),
    text: z.union([z.literal(true), textLoosening]).optional(),
    errorKind: recordOf(z.string()).optional(),
    errorMessage: z.literal(true).optional(),
    keys: recordOf(z.string()).optional(),
    image: imageTolerance.optional(),
    timing: z.strictObject({ ms: z.number().nonnegative() }).optional(),
    exactly: z.union([exactPair, z.array(exactPair).min(1)]).optional(),
  })
  .refine((allow) => Object.keys(allow).length > 0, "An allowance must allow something");

/** An entry of the port file's `allowances`. */
export const allowanceSchema = z.strictObject({
  id: z.string().min(1),
  where: z
    .strictObject({
      module: z.string().optional(),
      call: z.string().optional(),
      case: z.string().optional(),
      at: z.string().optional(),
    })
    .default({}),
  allow: allowSchema,
  reason: z.string().trim().min(1, "An allowance needs a reason"),
  twin: z.string().optional(),
});

/** An allowance as the port file has it. */
export type Allowance = z.infer<typeof allowanceSchema>;
/** The kinds of an allowance with their settings. */
export type Allow = z.infer<typeof allowSchema>;
/** Bounds for numbers; any one of them suffices. */
export type NumberTolerance = z.infer<typeof numberTolerance>;
/** Differences in texts to ignore. */
export type TextLoosening = z.infer<typeof textLoosening>;
