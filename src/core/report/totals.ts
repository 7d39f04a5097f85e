/** Sums the totals of a check. */
import type { Totals } from "@/core/formats/report";

/** Whether any case reached a verdict on both sides; without one, a check proves nothing. */
export const hasCompared = ({ agree, allowed, differ, broken, unsteady }: Totals): boolean =>
  agree + allowed + differ + broken + unsteady > 0;
