/** Which rows of the Bench are expanded: those that need work; others fold to their first line. Pure. */

import type { BenchView } from "@/api/views";
import { isAgreement } from "@/core/progress/done";

type Row = BenchView["rows"][number];

/** Row id → folded, where a person decided. */
export type FoldChoices = Readonly<Record<string, boolean>>;

/** Whether a row needs work: it differs, is broken or unsteady, is not ported, or has cases not run. */
export function needsWork(row: Row): boolean {
  if (row.kind === "between" || row.relation === "dropped") return false;
  if (row.drift) return true;
  if (row.relation === "missing") return row.kind !== "constant" && row.kind !== "class";
  return row.mark === "differ" || row.mark === "broken" || row.mark === "unsteady";
}

/** Constants, import blocks and agreeing sections fold; sections without cases and those with complaints stay expanded. */
export function isFolded(row: Row, choices: FoldChoices, hasComplaint = false): boolean {
  const chosen = choices[row.id];
  if (chosen !== undefined) return chosen;
  if (row.drift || hasComplaint) return false;
  if (row.relation === "dropped" || row.relation === "moved") return true;
  if (row.kind === "between" || row.kind === "constant" || row.relation === "new" || row.relation === "split")
    return true;
  if (row.relation === "missing") return row.kind === "class";
  if (isAgreement(row.mark)) return true;
  return row.mark === "idle" && row.kind === "class";
}
