import type { Json } from "@/core/formats/json";

/** A port of several modules whose functions call each other, with several faults. */
export type PortedProgram = {
  readonly from: string;
  readonly to: string;
  readonly functions: string;
  readonly files: Readonly<Record<string, string>>;
  /** Where a fault is (`module.section`), and the cause that its one family must name first. Faults without a cause are left out. */
  readonly faults: readonly { readonly section: string; readonly cause: string }[];
  /** Module, function, arguments, and named arguments. */
  readonly calls: readonly (readonly Json[])[];
  /** Module and steps. */
  readonly steps: readonly (readonly Json[])[];
};
