/** The predicates behind the product's central words: what agrees, and what is done. `module-state.ts` says what is proven. */
import type { ModuleState } from "@/core/progress/module-state";

/** Whether an outcome or mark means that both sides answered alike, by an allowance or without one. */
export const isAgreement = (outcome: string | undefined): boolean => outcome === "agree" || outcome === "allowed";

const DONE: ReadonlySet<ModuleState> = new Set(["agrees", "proven", "left-out"]);

/** Whether a module needs no more work for the modules that rest on it. */
export const isDone = ({ state }: { readonly state: ModuleState }): boolean => DONE.has(state);
