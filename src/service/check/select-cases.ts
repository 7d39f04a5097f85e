/** Selects the cases and twins of a check. */
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import { DRIVERS } from "@/engine/drivers/index";
import { noDriver } from "@/engine/toolchains/toolchains";
import type { OpenPort } from "@/service/port/open-port";

/** Limits a check to a module, twin or case. */
export type CheckScope = { readonly module?: string; readonly twin?: string; readonly caseId?: string };

/** Throws SideTwinError for a name that is not there, for no cases at all, and where no case can be run on either side. */
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
  if (selected.length === 0) {
    throw new SideTwinError({
      code: "bad-input",
      what: module === undefined ? "There are no shared cases" : `There are no shared cases of the module "${module}"`,
      where: { file: path.basename(open.file), key: "cases" },
      next: `Add cases to a file that one of these patterns matches: ${open.port.cases.join(", ") || "none is given"}.`,
    });
  }
  refuseWithoutDriver(open, selected, twins);
  return { cases: selected, twins };
}

/** Where all cases are calls, a side whose language has no driver leaves nothing to compare. */
function refuseWithoutDriver(
  open: OpenPort,
  cases: readonly SharedCase[],
  twins: readonly OpenPort["twins"][number][],
): void {
  if (cases.some(isRunCase)) return;
  const isCallable = ({ language }: { readonly language: string }) => language in DRIVERS;
  if (!isCallable(open.original)) throw noDriver(open.original.language);
  const [first] = twins;
  if (first && !twins.some(isCallable)) throw noDriver(first.language);
}

function notThere(what: string, known: readonly string[]): SideTwinError {
  const shown = known.slice(0, 12).join(", ");
  return new SideTwinError({ code: "bad-input", what, next: `Known: ${shown}${known.length > 12 ? ", …" : ""}.` });
}
