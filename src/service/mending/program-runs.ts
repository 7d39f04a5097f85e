/** Mends of program runs: tried on the call inside them where the sides part, and confirmed on the runs themselves. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import { applyEdit } from "@/core/mending/edit";
import { isAgreement } from "@/core/progress/done";
import { Scratch } from "@/engine/runs/scratch";
import { Prober } from "@/service/check/prober";
import type { Family } from "@/service/mending/edits";
import type { Best } from "@/service/mending/trial";
import type { OpenPort } from "@/service/port/open-port";

/** What changes are tried on for a family. */
export type ToTry = {
  /** With the section that the cases part in. */
  readonly family: Family;
  /** A mend makes all of these agree. */
  readonly cases: readonly SharedCase[];
  /** Cases of other sections that lead there: they may show another fault too, so that at least one must agree. */
  readonly others: readonly SharedCase[];
};

/**
 * The family's own cases; where it parts in an inner section, that section's cases and the inner call that shows the fault by
 * itself, if there is one.
 */
export function casesToTry(family: Family, whole: readonly SharedCase[], modules: readonly string[]): ToTry {
  const calls = whole.filter((item) => !isRunCase(item));
  const { inner } = family;
  if (!inner) return { family, cases: calls, others: [] };
  const module = modules
    .filter((name) => inner.section.startsWith(`${name}.`))
    .sort((left, right) => right.length - left.length)[0];
  const call = module === undefined ? family.call : inner.section.slice(module.length + 1);
  const at = { ...family, module: module ?? family.module, call };
  const isDirect = (item: SharedCase) => item.module === at.module && "call" in item && item.call === call;
  const direct = calls.filter(isDirect);
  const others = calls.filter((item) => !isDirect(item));
  const alone = inner.case;
  if (direct.length > 0 || !alone || !("call" in alone)) return { family: at, cases: direct, others };
  // A report leaves empty named arguments out.
  const item = { ...alone, args: alone.args ?? [], kwargs: alone.kwargs ?? {} };
  return { family: { ...at, cases: [item.id] }, cases: [item], others };
}

/** Program runs of a family that are run again with a mend of the call inside them. */
export const MAX_RUNS = 10;

/** The mend with the number of program runs that agree by it; null where none does. */
export async function confirmOnRuns(
  open: OpenPort,
  twin: OpenPort["twins"][number],
  {
    best,
    runs,
    signal,
  }: { readonly best: Best; readonly runs: readonly SharedCase[]; readonly signal: AbortSignal | undefined },
): Promise<Best | null> {
  const scratch = await Scratch.make(twin.folder);
  writeFileSync(path.join(scratch.folder, best.file), applyEdit(best.before, best.edit));
  const prober = new Prober(open, { ...twin, folder: scratch.folder }, signal);
  try {
    let mended = 0;
    for (const item of runs.slice(0, MAX_RUNS)) if (isAgreement((await prober.probe(item)).verdict.outcome)) mended++;
    return mended === 0 ? null : { ...best, mended };
  } finally {
    prober.close();
    await scratch.remove();
  }
}
