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

/** The cases that changes are tried on: for program runs the call inside them where the sides part. */
export function casesToTry(
  family: Family,
  whole: readonly SharedCase[],
): { family: Family; cases: readonly SharedCase[] } {
  const cases = whole.filter((item) => !isRunCase(item));
  const inner = family.inner?.case;
  if (cases.length > 0 || !inner || !("call" in inner)) return { family, cases };
  // A report leaves empty named arguments out.
  const item = { ...inner, args: inner.args ?? [], kwargs: inner.kwargs ?? {} };
  return { family: { ...family, module: inner.module, call: inner.call, cases: [inner.id] }, cases: [item] };
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
