/** The allowances of a port with what became of them, and the changes that are proposed: to tighten one, to take one out. */

import type { AllowanceState, AllowanceView } from "@/api/views";
import { allowancesFor } from "@/core/allowances/allowances";
import { formatNeeded } from "@/core/allowances/needed";
import { proposeTighter, sumUses, type Use } from "@/core/allowances/review";
import { sectionOf } from "@/core/cases/hand-over";
import { SideTwinError } from "@/core/errors";
import type { Allowance } from "@/core/formats/allowance";
import type { SharedCase } from "@/core/formats/case-line";
import type { PortFile } from "@/core/formats/port-file";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";
import type { VerdictRow } from "@/store/verdicts";

/** Counted over the last word on every case, so that a check of one module forgets nothing of the others. */
export function allowanceViews(
  allowances: readonly Allowance[],
  cases: readonly SharedCase[],
  verdicts: readonly VerdictRow[],
  twin: string,
): AllowanceView[] {
  if (allowances.length === 0) return [];
  const mine = verdicts.filter((verdict) => verdict.twin === twin);
  const checked = new Set(mine.map(({ caseId }) => caseId));
  const known = new Set(cases.map(({ id }) => id));
  const current = mine.filter(({ caseId }) => known.has(caseId));
  const uses = sumUses(current.flatMap(({ excuses }) => excuses));
  const casesOf = countCases(current);
  return allowances
    .filter((allowance) => allowance.twin === undefined || allowance.twin === twin)
    .map((allowance) => {
      const use = uses.get(allowance.id);
      const inScope = cases.filter((item) => speaksOf(allowance, item, twin));
      const isChecked = inScope.some(({ id }) => checked.has(id));
      const { id, where, allow, reason } = allowance;
      return {
        id,
        where,
        allow,
        reason,
        used: use?.used ?? 0,
        cases: casesOf.get(id) ?? 0,
        inScope: inScope.length,
        needed: use ? formatNeeded(use.needed, 3) : null,
        tighter: proposeTighter(allowance, use),
        state: stateOf(allowance, use, isChecked),
      };
    });
}

function stateOf(allowance: Allowance, use: Use | undefined, isChecked: boolean): AllowanceState {
  if (use && use.used > 0) return "used";
  if (!isChecked) return "not-checked";
  return allowance.allow.exactly ? "lapsed" : "unused";
}

const speaksOf = (allowance: Allowance, item: SharedCase, twin: string): boolean =>
  allowancesFor([allowance], { id: item.id, module: item.module ?? null, call: sectionOf(item), twin }).length > 0;

function countCases(verdicts: readonly VerdictRow[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { excuses } of verdicts) {
    for (const { allowance } of excuses) counts.set(allowance, (counts.get(allowance) ?? 0) + 1);
  }
  return counts;
}

/** Saves the proposed tighter allowance to the port file. Throws SideTwinError if there is no proposal now. */
export async function tightenAllowance(open: OpenPort, view: AllowanceView): Promise<void> {
  if (!view.tighter) {
    throw new SideTwinError({
      code: "bad-input",
      what: `Nothing tighter is proposed for the allowance "${view.id}"`,
      next: "Check the port again.",
    });
  }
  const { allow } = view.tighter;
  await editPortFile(open.file, (port) => [{ path: ["allowances", placeOf(port, view.id), "allow"], value: allow }]);
}

/** Takes an allowance out of the port file. Throws SideTwinError when it is not there. */
export async function removeAllowance(open: OpenPort, id: string): Promise<void> {
  await editPortFile(open.file, (port) => [{ path: ["allowances", placeOf(port, id)], value: undefined }]);
}

function placeOf(port: PortFile, id: string): number {
  const place = port.allowances.findIndex((allowance) => allowance.id === id);
  if (place !== -1) return place;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no allowance "${id}"`,
    where: { file: "side-twin.json", key: "allowances" },
    next: "It may have been taken out of the file.",
  });
}
