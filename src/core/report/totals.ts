/** What the totals of a check come to. */
import type { Totals } from "@/core/formats/report";

/** Whether any case got as far as a verdict on both sides: without one, a check shows nothing. */
export const hasCompared = ({ agree, allowed, differ, broken, unsteady }: Totals): boolean =>
  agree + allowed + differ + broken + unsteady > 0;
