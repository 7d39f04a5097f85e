/** Predicates for the product's central terms: what agrees, and what is done. `module-state.ts` defines proven. */
import type { ModuleState } from "@/core/progress/module-state";

/** Whether an outcome or mark means that both sides gave the same answer, with or without an allowance. */
export const isAgreement = (outcome: string | undefined): boolean => outcome === "agree" || outcome === "allowed";

const DONE: ReadonlySet<ModuleState> = new Set(["agrees", "proven", "left-out"]);

/** Whether a module needs no more work as far as its dependents are concerned. */
export const isDone = ({ state }: { readonly state: ModuleState }): boolean => DONE.has(state);
