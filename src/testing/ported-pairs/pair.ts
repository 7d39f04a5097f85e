import type { Json } from "@/core/formats/json";

/** A function of the original and its twin with one fault. */
export type PortedPair = {
  readonly call: string;
  /** The cause that must be named first; null for a slip that has none. */
  readonly cause: string | null;
  /** With the imports that it needs. */
  readonly original: string;
  readonly twin: string;
  /** The arguments of each case. */
  readonly inputs: readonly (readonly Json[])[];
};

/** A pair in the order in which they are written down. */
export const pair = (
  cause: string | null,
  call: string,
  original: string,
  twin: string,
  inputs: readonly (readonly Json[])[],
): PortedPair => ({ cause, call, original, twin, inputs });

/** Cases of one argument. */
export const each = (...values: readonly Json[]): Json[][] => values.map((value) => [value]);
