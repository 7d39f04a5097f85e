/** Gathers what is handed over: a check, the ladder, the journal and the leftovers. */
import { SideTwinError } from "@/core/errors";
import { emptyTotals, type Report } from "@/core/formats/report";
import { type Handover, type HandoverTwin, journalParts, stateOf } from "@/core/handover/handover";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { answersFolderIn, runCheck } from "@/service/check/run-check";
import { readJournal } from "@/service/journal/journal-file";
import { climbLadder } from "@/service/ladder/climb-ladder";
import { findLeftovers } from "@/service/phrasebook/leftovers";
import { type OpenPort, openPort, readCases } from "@/service/port/open-port";

export type HandoverOptions = {
  /** A date (ISO 8601) or the id of a snapshot: changes after it. */
  readonly since?: string | undefined;
  readonly data: string;
  readonly jobs?: number;
  readonly signal?: AbortSignal;
  readonly onStep?: (words: string) => void;
};

/** Checks the port, with kept answers where nothing changed. Throws SideTwinError, also for an unknown `since`. */
export async function gatherHandover(file: string, options: HandoverOptions): Promise<Handover> {
  const open = await openPort(file);
  const since = options.since === undefined ? null : momentOf(open, options.since, options.data);
  const { entries } = await readJournal(open.folder);
  const report = await checked(open, options);
  const twins: HandoverTwin[] = [];
  for (const { name, language } of open.twins)
    twins.push({
      name,
      language,
      modules: modulesOf(open, report, name),
      rungs: await rungsOf(open, name, options),
      leftovers: open.port.phrasebook.length === 0 ? null : sum((await findLeftovers(open, name)).values()),
    });
  return {
    format: "side-twin/handover",
    version: 1,
    port: open.port.name,
    at: new Date().toISOString(),
    since,
    original: open.original.language,
    totals: report?.totals ?? emptyTotals(),
    twins,
    allowances: open.port.allowances.map(({ id, reason }) => ({
      id,
      reason,
      used: report?.allowances.find((entry) => entry.id === id)?.used ?? 0,
    })),
    ...journalParts(entries, since),
    figures: report?.figures ?? [],
  };
}

/** Null for a port without cases, which can be handed over too. */
async function checked(open: OpenPort, options: HandoverOptions): Promise<Report | null> {
  const cases = await readCases(open);
  if (cases.length === 0) return null;
  options.onStep?.("checking");
  const { report } = await runCheck(open, cases, {
    jobs: options.jobs ?? 1,
    answersFolder: answersFolderIn(options.data),
    signal: options.signal,
  });
  return report;
}

function modulesOf(open: OpenPort, report: Report | null, twin: string): HandoverTwin["modules"] {
  return open.modules.map(({ name, leftOut }) => {
    const found = report?.modules.find((module) => module.name === name && module.twin === twin);
    const { totals = emptyTotals(), lines = 0, provenLines = null } = found ?? {};
    const state = stateOf({ totals, lines, provenLines }, leftOut !== undefined);
    return { name, state, why: leftOut ?? null, totals, lines, provenLines };
  });
}

async function rungsOf(open: OpenPort, twin: string, options: HandoverOptions): Promise<HandoverTwin["rungs"]> {
  const { ladder, stopAt } = open.port;
  if (!ladder.some((rung) => rung.twin === undefined || rung.twin === twin)) return [];
  const { rungs } = await climbLadder(open, { ...options, twin });
  const goal = stopAt ?? ladder.at(-1)?.name;
  return rungs.map(({ name, reached, unmet }) => ({
    name,
    reached,
    unmet,
    gain: ladder.find((rung) => rung.name === name)?.gain ?? null,
    isGoal: name === goal,
  }));
}

function momentOf(open: OpenPort, since: string, data: string): string {
  const snapshot = Snapshots.open(data, open.file)
    .list()
    .find(({ id }) => id === since);
  if (snapshot) return snapshot.at;
  const moment = /^\d{4}-\d{2}-\d{2}/.test(since) ? new Date(since) : new Date(Number.NaN);
  if (!Number.isNaN(moment.getTime())) return moment.toISOString();
  throw new SideTwinError({
    code: "bad-input",
    what: `"${since}" is neither a date nor a snapshot`,
    where: { key: "--since" },
    next: "Write a date like 2026-11-01, or an id from `side-twin snapshots`.",
  });
}

const sum = (counts: Iterable<number>): number => [...counts].reduce((total, count) => total + count, 0);
