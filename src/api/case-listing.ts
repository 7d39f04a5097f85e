/** A case as lists of cases show it. */
import type { Outcome } from "@/core/formats/report";

/** An outcome, or nothing known yet. */
export type Mark = Outcome | "idle";

/** One case in the list of all. */
export type CaseListing = {
  readonly id: string;
  readonly module: string | null;
  readonly section: string;
  readonly mark: Mark;
  readonly from: string | null;
  readonly stale: boolean;
};
