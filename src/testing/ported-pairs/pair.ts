import type { Json } from "@/core/formats/json";

/** A function of the original and its twin with one fault. */
export type PortedPair = {
  readonly call: string;
  /** The cause that must be named first; null for a slip that has none. */
  readonly cause: string | null;
  /** Python, with the imports that it needs. */
  readonly original: string;
  /** JavaScript. */
  readonly twin: string;
  /** The arguments of each case. */
  readonly inputs: readonly (readonly Json[])[];
};
