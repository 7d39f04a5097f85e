/** Everything known about a port and one of its twins, from which its views are computed. */
import type { DriftedSection } from "@/core/drift/drift";
import type { PortReading } from "@/service/reading/reading";
import type { CheckRow, ProvenRow } from "@/store/checks";
import type { PortRow } from "@/store/ports";
import type { VerdictRow } from "@/store/verdicts";

/** Everything known about a port and one of its twins, from which its views are computed. */
export type PortFacts = {
  readonly row: PortRow;
  readonly reading: PortReading;
  readonly twin: string;
  readonly verdicts: readonly VerdictRow[];
  readonly proven: readonly ProvenRow[];
  readonly checks: readonly CheckRow[];
  /** Module → what of it changed in the original after it was ported. */
  readonly drift: ReadonlyMap<string, readonly DriftedSection[]>;
};
