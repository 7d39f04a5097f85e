/** The cases and twins that a check is asked for. */
import { SideTwinError } from "@/core/errors";
import type { SharedCase } from "@/core/formats/case-line";
import type { OpenPort } from "@/service/open-port";

export type CheckScope = { readonly module?: string; readonly twin?: string; readonly caseId?: string };

/** Throws SideTwinError for a name that is not there. */
export function selectCases(
  open: OpenPort,
  cases: readonly SharedCase[],
  { module, twin, caseId }: CheckScope,
): { cases: readonly SharedCase[]; twins: readonly OpenPort["twins"][number][] } {
  if (module !== undefined && !open.modules.some((entry) => entry.name === module)) {
    throw notThere(
      `There is no module "${module}"`,
      open.modules.map((entry) => entry.name),
    );
  }
  const twins = open.twins.filter((entry) => twin === undefined || entry.name === twin);
  if (twins.length === 0)
    throw notThere(
      `There is no twin "${twin}"`,
      open.twins.map((entry) => entry.name),
    );
  const selected = cases.filter(
    (item) => (module === undefined || item.module === module) && (caseId === undefined || item.id === caseId),
  );
  if (caseId !== undefined && selected.length === 0)
    throw notThere(
      `There is no case "${caseId}"`,
      cases.map((item) => item.id),
    );
  return { cases: selected, twins };
}

function notThere(what: string, known: readonly string[]): SideTwinError {
  const shown = known.slice(0, 12).join(", ");
  return new SideTwinError({ code: "bad-input", what, next: `Known: ${shown}${known.length > 12 ? ", …" : ""}.` });
}
