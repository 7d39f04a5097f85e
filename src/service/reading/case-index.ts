/**
 * The cases of a port by module, with the last word on each. Worked out once for a reading and its verdicts: each page of a
 * port with a hundred thousand cases would else wait for it.
 */
import type { SharedCase } from "@/core/formats/case-line";
import { countOutcomes, emptyTotals, type Totals } from "@/core/formats/report";
import type { PortReading } from "@/service/reading/reading";
import type { VerdictRow } from "@/store/verdicts";

/** Totals of a module's cases. */
export type ModuleCases = {
  readonly cases: readonly SharedCase[];
  readonly verdicts: readonly VerdictRow[];
  /** Cases that were never checked are counted too, and have no outcome. */
  readonly totals: Totals;
  /** Section → its outcomes, as the cases name it. */
  readonly bySection: ReadonlyMap<string, Totals>;
};

/** Cases of a reading by module and section. */
export type CaseIndex = {
  /** Case → the last word on it. */
  readonly verdictOf: ReadonlyMap<string, VerdictRow>;
  readonly of: (module: string) => ModuleCases;
};

type Indexed = {
  readonly reading: PortReading;
  readonly verdicts: readonly VerdictRow[];
  readonly twin: string;
};

const kept = new WeakMap<readonly VerdictRow[], Map<string, { cases: readonly SharedCase[]; index: CaseIndex }>>();

const NO_CASES: ModuleCases = { cases: [], verdicts: [], totals: emptyTotals(), bySection: new Map() };

/** The index of a twin. The same one as long as cases and verdicts are the same lists. Cost: linear in the cases, once. */
export function caseIndex({ reading: { cases }, verdicts, twin }: Indexed): CaseIndex {
  const byTwin = kept.get(verdicts) ?? new Map<string, { cases: readonly SharedCase[]; index: CaseIndex }>();
  kept.set(verdicts, byTwin);
  const known = byTwin.get(twin);
  if (known?.cases === cases) return known.index;
  const index = makeIndex(cases, verdicts, twin);
  byTwin.set(twin, { cases, index });
  return index;
}

function makeIndex(cases: readonly SharedCase[], verdicts: readonly VerdictRow[], twin: string): CaseIndex {
  const verdictOf = new Map<string, VerdictRow>();
  for (const verdict of verdicts) if (verdict.twin === twin) verdictOf.set(verdict.caseId, verdict);
  const modules = new Map<string, { cases: SharedCase[]; verdicts: VerdictRow[] }>();
  for (const item of cases) {
    const name = item.module ?? "";
    const own = modules.get(name) ?? { cases: [], verdicts: [] };
    modules.set(name, own);
    own.cases.push(item);
    const verdict = verdictOf.get(item.id);
    if (verdict) own.verdicts.push(verdict);
  }
  const done = new Map(
    [...modules].map(([name, own]): [string, ModuleCases] => [
      name,
      {
        ...own,
        totals: { ...countOutcomes(own.verdicts.map(({ outcome }) => outcome)), cases: own.cases.length },
        bySection: totalsBySection(own.verdicts),
      },
    ]),
  );
  return { verdictOf, of: (module) => done.get(module) ?? NO_CASES };
}

function totalsBySection(verdicts: readonly VerdictRow[]): Map<string, Totals> {
  const outcomes = new Map<string, VerdictRow["outcome"][]>();
  for (const { section, outcome } of verdicts) {
    const own = outcomes.get(section);
    if (own) own.push(outcome);
    else outcomes.set(section, [outcome]);
  }
  return new Map([...outcomes].map(([section, list]) => [section, countOutcomes(list)]));
}
