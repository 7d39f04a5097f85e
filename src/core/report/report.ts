/** The report of a check, from its verdicts (formats, section 5). */
import { formatNeeded } from "@/core/allowances/needed";
import { proposeTighter, type Use } from "@/core/allowances/review";
import type { Allowance } from "@/core/formats/allowance";
import {
  type BothSides,
  type CaseReport,
  countOutcomes,
  type ModuleReport,
  type Outcome,
  type Report,
} from "@/core/formats/report";

/** Facts about a module of the original, and about its twins by name. */
export type ModuleFacts = {
  readonly name: string;
  readonly lines: number;
  /** Twin → lines; null where they are not traced. */
  readonly provenLines: ReadonlyMap<string, number | null>;
  /** Side → lines of text. */
  readonly size: ReadonlyMap<string, number>;
  /** Side → most memory seen, in megabytes. */
  readonly peakMb: ReadonlyMap<string, number>;
};

/** The fields of a case that the counts of a report need. */
export type CountedCase = {
  readonly outcome: Outcome;
  readonly module: string | null;
  readonly twin: string;
  readonly ms: CaseReport["ms"];
  readonly reused?: readonly ("original" | "twin")[] | undefined;
};

/** Everything that a report is built from. */
export type ReportFacts = {
  readonly port: string;
  readonly startedAt: string;
  readonly seconds: number;
  readonly state: Report["state"];
  /** Counted: every case of the check. */
  readonly verdicts: readonly CountedCase[];
  /** Listed; may be omitted if only counts are needed. */
  readonly cases: readonly CaseReport[];
  readonly modules: readonly ModuleFacts[];
  readonly twins: readonly string[];
  readonly allowances: readonly Allowance[];
  /** Allowance → how often it excused something, and the most that was needed of its bounds. */
  readonly uses: ReadonlyMap<string, Use>;
  readonly toolchains: Report["toolchains"];
  readonly figures?: Report["figures"];
  readonly protections: Report["protections"];
  readonly changed: readonly string[];
  /** Warning → the cases it is about. */
  readonly warnings: ReadonlyMap<string, readonly string[]>;
  readonly families: Report["families"];
};

/** Puts the report together. Pure: the time is given. */
export function makeReport(facts: ReportFacts): Report {
  return {
    format: "side-twin/report",
    version: 1,
    port: facts.port,
    startedAt: facts.startedAt,
    seconds: Math.round(facts.seconds * 1000) / 1000,
    state: facts.state,
    totals: countOutcomes(facts.verdicts.map((item) => item.outcome)),
    reused: { original: countReused(facts.verdicts, "original"), twin: countReused(facts.verdicts, "twin") },
    protections: [...facts.protections],
    ...(facts.changed.length > 0 ? { changed: [...facts.changed] } : {}),
    ...(facts.warnings.size > 0
      ? { warnings: [...facts.warnings].map(([what, cases]) => ({ what, cases: [...cases] })) }
      : {}),
    modules: moduleReports(facts),
    cases: [...facts.cases],
    families: facts.families,
    allowances: facts.allowances.map((allowance) => {
      const { id, reason } = allowance;
      const use = facts.uses.get(id);
      const needed = use ? formatNeeded(use.needed) : null;
      const tighter = proposeTighter(allowance, use);
      return {
        id,
        reason,
        used: use?.used ?? 0,
        ...(needed === null ? {} : { needed }),
        ...(tighter ? { tighter } : {}),
      };
    }),
    ...(facts.figures ? { figures: facts.figures } : {}),
    toolchains: facts.toolchains,
  };
}

const countReused = (cases: readonly CountedCase[], side: "original" | "twin"): number =>
  cases.reduce((count, item) => count + (item.reused?.includes(side) ? 1 : 0), 0);

function moduleReports(facts: ReportFacts): ModuleReport[] {
  const byModule = new Map<string, CountedCase[]>();
  for (const item of facts.verdicts) {
    const key = `${item.twin}\0${item.module ?? ""}`;
    const list = byModule.get(key);
    if (list) list.push(item);
    else byModule.set(key, [item]);
  }
  return facts.twins.flatMap((twin) =>
    facts.modules.map(({ name, lines, provenLines, size, peakMb }) => {
      const cases = byModule.get(`${twin}\0${name}`) ?? [];
      const both = (values: ReadonlyMap<string, number>): BothSides => ({
        original: values.get("original") ?? null,
        twin: values.get(twin) ?? null,
      });
      return {
        name,
        twin,
        totals: countOutcomes(cases.map((item) => item.outcome)),
        lines,
        provenLines: provenLines.get(twin) ?? null,
        size: both(size),
        seconds: { original: secondsOf(cases, "original"), twin: secondsOf(cases, "twin") },
        peakMb: both(peakMb),
      };
    }),
  );
}

/** Null when no case has a time on the side. */
function secondsOf(cases: readonly CountedCase[], side: "original" | "twin"): number | null {
  let [timed, sum] = [0, 0];
  for (const { ms } of cases) {
    const time = ms[side];
    if (time === null) continue;
    timed++;
    sum += time;
  }
  return timed === 0 ? null : Math.round(sum) / 1000;
}
