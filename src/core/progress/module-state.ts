/** The state of a module, worked out from facts; only "left out" is a person's word. */
import type { Totals } from "@/core/formats/report";

/** The state of a module on a twin. */
export type ModuleState = "left-out" | "waiting" | "ready" | "under-way" | "agrees" | "proven";

/** The facts from which a module's state follows. */
export type ModuleFacts = {
  readonly leftOut: boolean;
  readonly hasTwin: boolean;
  /** Whether every module it needs agrees, is proven or is excluded. */
  readonly needsMet: boolean;
  readonly totals: Totals;
  /** True if a verdict is for older code than the folders contain now. */
  readonly stale: boolean;
  readonly lines: number;
  readonly provenLines: number | null;
};

/** `agrees`: every case was checked against the current code and agrees or is allowed; `proven`: every line as well. */
export function moduleState(facts: ModuleFacts): ModuleState {
  if (facts.leftOut) return "left-out";
  if (!facts.hasTwin) return facts.needsMet ? "ready" : "waiting";
  const { cases, agree, allowed } = facts.totals;
  if (cases === 0 || agree + allowed < cases || facts.stale) return "under-way";
  return facts.provenLines !== null && facts.provenLines >= facts.lines ? "proven" : "agrees";
}

/** Summarises outcomes by the worst; `skipped` only if there is nothing else. */
export function worstOutcome(totals: Totals): keyof Omit<Totals, "cases"> | "idle" {
  for (const outcome of ["broken", "differ", "unsteady"] as const) if (totals[outcome] > 0) return outcome;
  if (totals.agree + totals.allowed === 0) return totals.skipped > 0 ? "skipped" : "idle";
  return totals.allowed > 0 ? "allowed" : "agree";
}
