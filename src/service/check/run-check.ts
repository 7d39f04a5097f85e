/** Runs a check and gives the report: what the command line prints and the store keeps. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { sumUses, usesOf } from "@/core/allowances/review";
import { unmatchedPatterns } from "@/core/compare/unmatched";
import { isSideTwinError } from "@/core/errors";
import type { FamilyInner } from "@/core/explain/inner";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import type { Report } from "@/core/formats/report";
import { type ModuleFacts, makeReport } from "@/core/report/report";
import { giveWay } from "@/engine/pace";
import { describeProtections } from "@/engine/sandbox/sandbox";
import { type CheckEnd, type CheckOptions, checkPort } from "@/service/check/check-port";
import {
  type AnswersOf,
  FamilyGatherer,
  type PartedFamily,
  type PartFamilies,
  type SectionFamily,
} from "@/service/check/gather-families";
import { measureFigures } from "@/service/check/measure-figures";
import { SectionCodes } from "@/service/check/section-code";
import { type CheckScope, selectCases } from "@/service/check/select-cases";
import { type JudgedAnswers, toCaseReport } from "@/service/check/verdict";
import { type OpenPort, openPort, readCases } from "@/service/port/open-port";

/** Options of a check that ends in a report. */
export type RunCheckOptions = Omit<CheckOptions, "onVerdict"> &
  CheckScope & {
    readonly onVerdict?: CheckOptions["onVerdict"];
    readonly onStart?: (count: number) => void;
    /** Reads the port anew for another try, where sources changed while it was checked. */
    readonly reopen?: () => Promise<{ readonly open: OpenPort; readonly cases: readonly SharedCase[] }>;
    /** False omits the cases from the report, for callers that received them one by one. */
    readonly withCases?: boolean;
    /** Splits the families by where the sides part inside, once all verdicts are known. */
    readonly part?: PartFamilies;
  };

/** The report with its verdicts. */
export type FinishedCheck = {
  readonly report: Report;
  readonly end: CheckEnd;
  readonly open: OpenPort;
  readonly families: readonly PartedFamily[];
  readonly answersOf: AnswersOf;
};

/** Where the answers that are used again lie in a data folder; the server and the command line share them. */
export const answersFolderIn = (data: string): string => path.join(path.resolve(data), "answers");

/** Reads the port file, checks, and reports. Throws SideTwinError for anything that keeps the check from running. */
export async function runCheckOfFile(file: string, options: RunCheckOptions): Promise<FinishedCheck> {
  const open = await openPort(file);
  return runCheck(open, await readCases(open), options);
}

/** Sources that are saved while they are checked are checked again so often. */
const MAX_TRIES = 3;

/**
 * As `runCheckOfFile`, for a port that is open. All verdicts are of one text: where sources were saved meanwhile the check
 * starts over, its verdicts replacing those before. Where that goes on, the report names the files in `changed`.
 */
export async function runCheck(
  open: OpenPort,
  all: readonly SharedCase[],
  options: RunCheckOptions,
): Promise<FinishedCheck> {
  const reopen = options.reopen ?? (() => reread(open.file));
  let port = { open, cases: all };
  for (let tries = 1; ; tries++) {
    const finished = await runOnce(port.open, port.cases, options);
    if (finished.end.changed.length === 0 || finished.end.state === "stopped" || tries === MAX_TRIES) return finished;
    port = await reopen();
  }
}

async function reread(file: string): Promise<{ open: OpenPort; cases: readonly SharedCase[] }> {
  const open = await openPort(file);
  return { open, cases: await readCases(open) };
}

async function runOnce(open: OpenPort, all: readonly SharedCase[], options: RunCheckOptions): Promise<FinishedCheck> {
  const startedAt = new Date().toISOString();
  const { cases, twins } = selectCases(open, all, options);
  options.onStart?.(cases.length * twins.length);
  const gatherer = new FamilyGatherer();
  const warnings = new Map<string, string[]>();
  const end = await checkPort(open, cases, twins, {
    ...options,
    onVerdict: (verdict, answers, isNew) => {
      gatherer.take(verdict, answers);
      if (isNew && isRunCase(verdict.item)) noteUnmatched(warnings, verdict.item, answers);
      options.onVerdict?.(verdict, answers, isNew);
    },
  });
  // The rest makes several passes over all verdicts; serve pages in between.
  await giveWay();
  const names = twins.map((twin) => twin.name).sort();
  const sorted = names.flatMap((twin) => (end.verdicts.get(twin) ?? []).flatMap((verdict) => verdict ?? []));
  const modules = await moduleFacts(open, end, names);
  const families = await partedFamilies(await gatherer.families(new SectionCodes(open)), {
    open,
    all,
    options,
    end,
    warnings,
    answersOf: gatherer.answersOf,
  });
  const isWhole = options.module === undefined && options.caseId === undefined && end.state === "complete";
  const figures =
    isWhole && open.port.figures.length > 0 ? await measureFigures(open, names, options.signal) : undefined;
  await giveWay();
  const report = makeReport({
    port: open.port.name,
    startedAt,
    seconds: end.seconds,
    state: end.state,
    verdicts: sorted,
    cases: options.withCases === false ? [] : sorted.map(toCaseReport),
    modules: options.module === undefined ? modules : modules.filter((module) => module.name === options.module),
    twins: twins.map((twin) => twin.name),
    allowances: open.port.allowances,
    uses: sumUses(sorted.flatMap(({ excuses }) => usesOf(excuses))),
    toolchains: [...end.toolchains],
    ...(figures ? { figures } : {}),
    changed: end.changed,
    warnings,
    protections: describeProtections(open.port.limits),
    families: families.map(({ kind: _kind, inner, ...family }, index) => ({
      ...family,
      ...(inner ? { inner: reportedInner(inner) } : {}),
      id: `f${index + 1}`,
      cases: [...family.cases],
      suspects: [...family.suspects],
    })),
  });
  return { report, end, open, families, answersOf: gatherer.answersOf };
}

const reportedInner = ({ path: _path, ...inner }: FamilyInner) => inner;

type Parting = {
  readonly open: OpenPort;
  readonly all: readonly SharedCase[];
  readonly options: RunCheckOptions;
  readonly end: CheckEnd;
  readonly warnings: Map<string, string[]>;
  readonly answersOf: AnswersOf;
};

/** A side that cannot be traced leaves the families as they are: the verdicts hold without it. */
async function partedFamilies(
  families: readonly SectionFamily[],
  { open, all, options, end, warnings, answersOf }: Parting,
): Promise<readonly PartedFamily[]> {
  if (!options.part || end.state !== "complete" || end.changed.length > 0 || families.length === 0) return families;
  options.onPhase?.("part");
  try {
    return await options.part(open, all, { families, answersOf, signal: options.signal });
  } catch (error) {
    if (!isSideTwinError(error)) throw error;
    warnings.set(`where differing cases part inside was not found: ${error.message}`, []);
    return families;
  }
}

function noteUnmatched(warnings: Map<string, string[]>, item: RunCase, answers: JudgedAnswers): void {
  for (const pattern of unmatchedPatterns(item.observe, answers)) {
    const what = `"${pattern}" matches no file of either side`;
    const cases = warnings.get(what) ?? [];
    warnings.set(what, cases);
    if (!cases.includes(item.id)) cases.push(item.id);
  }
}

async function moduleFacts(open: OpenPort, end: CheckEnd, twins: readonly string[]): Promise<ModuleFacts[]> {
  const count = (files: Readonly<Record<string, readonly number[]>>) =>
    Object.values(files).reduce((sum, list) => sum + list.length, 0);
  return Promise.all(
    open.modules.map(async (module) => {
      const proven = new Map(twins.map((twin) => [twin, end.proven.get(twin)?.get(module.name)] as const));
      const [measured] = [...proven.values()].filter((lines) => lines !== undefined);
      const size = new Map([["original", await countLines(open.original.folder, module.original)]]);
      for (const twin of open.twins.filter(({ name }) => twins.includes(name)))
        size.set(twin.name, await countLines(twin.folder, module.twins[twin.name] ?? []));
      const peaks = [...end.peakMb].flatMap(([side, modules]) => {
        const peak = modules.get(module.name);
        return peak ? [[side, Math.round(peak)] as const] : [];
      });
      return {
        name: module.name,
        lines: measured ? count(measured.executable) : (size.get("original") ?? 0),
        provenLines: new Map([...proven].map(([twin, lines]) => [twin, lines ? count(lines.proven) : null])),
        size,
        peakMb: new Map(peaks),
      };
    }),
  );
}

async function countLines(folder: string, files: readonly string[]): Promise<number> {
  let lines = 0;
  for (const file of files) {
    const text = await readFile(path.join(folder, file), "utf8").catch(() => "");
    lines += text === "" ? 0 : text.replace(/\n$/, "").split("\n").length;
  }
  return lines;
}
