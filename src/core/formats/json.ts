/** Any JSON value as it comes out of a JSON parser: nothing is left to check, so nothing is walked. */
import { z } from "zod";

/** Any JSON value. */
export type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };

/** Accepts whatever the JSON parser gave. Its cost does not grow with the value, unlike a recursive schema. */
export const json = z.any() as z.ZodType<Json>;

/**
 * A record from any name to `value`. The name `__proto__` is refused, where Zod's own record drops it without a word:
 * an argument that is left out in silence would give a wrong verdict.
 */
export const recordOf = <T>(value: z.ZodType<T>) =>
  z.preprocess(
    (input, context) => {
      if (typeof input === "object" && input !== null && Object.hasOwn(input, "__proto__")) {
        context.addIssue({ code: "custom", message: 'The name "__proto__" cannot be used here', path: ["__proto__"] });
      }
      return input;
    },
    z.record(z.string(), value),
  );
