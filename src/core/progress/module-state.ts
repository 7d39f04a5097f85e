/** The state of a module, worked out from facts; only "left out" is a person's word. */
import type { Totals } from "@/core/formats/report";

export type ModuleState = "left-out" | "waiting" | "ready" | "under-way" | "agrees" | "proven";

export type ModuleFacts = {
  readonly leftOut: boolean;
  readonly hasTwin: boolean;
  /** Whether everything it needs agrees or is proven, or was left out. */
  readonly needsMet: boolean;
  readonly totals: Totals;
  /** True when a verdict is about older code than what stands in the folders now. */
  readonly stale: boolean;
  readonly lines: number;
  readonly provenLines: number | null;
};

/** `agrees`: every case was checked against the code of now, and agrees or is allowed; `proven`: every line, too. */
export function moduleState(facts: ModuleFacts): ModuleState {
  if (facts.leftOut) return "left-out";
  if (!facts.hasTwin) return facts.needsMet ? "ready" : "waiting";
  const { cases, agree, allowed } = facts.totals;
  if (cases === 0 || agree + allowed < cases || facts.stale) return "under-way";
  return facts.provenLines !== null && facts.provenLines >= facts.lines ? "proven" : "agrees";
}

/** The one outcome that stands for many: the worst of them, `skipped` only when nothing else is there. */
export function worstOutcome(totals: Totals): keyof Omit<Totals, "cases"> | "idle" {
  for (const outcome of ["broken", "differ", "unsteady"] as const) if (totals[outcome] > 0) return outcome;
  if (totals.agree + totals.allowed === 0) return totals.skipped > 0 ? "skipped" : "idle";
  return totals.allowed > 0 ? "allowed" : "agree";
}
