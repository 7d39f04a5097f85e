/** Finds out what the rungs of a port's ladder ask for, and which are reached. */

import { mkdtemp, realpath, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { Rung } from "@/core/formats/port-file";
import type { LadderFacts, PlacedDiagnostic, RungState } from "@/core/ladder/ladder";
import { climb } from "@/core/ladder/ladder";
import { answersFolderIn, type FinishedCheck, runCheck } from "@/service/check/run-check";
import { runInSide } from "@/service/check/sides";
import { runCheckCommand } from "@/service/ladder/diagnose";
import { findLeftovers } from "@/service/phrasebook/leftovers";
import { type OpenPort, readCases, twinsFor } from "@/service/port/open-port";
import { runSuites } from "@/service/suites/run-suites";

const COMMAND_TIME_MS = 10 * 60_000;

export type LadderOptions = {
  readonly twin?: string | undefined;
  readonly data: string;
  readonly jobs?: number;
  readonly signal?: AbortSignal | undefined;
  readonly onStep?: ((words: string) => void) | undefined;
};

export type ClimbedLadder = {
  readonly rungs: readonly RungState[];
  /** Whether the rung to stop at, or the last one, is reached on every twin. */
  readonly isThere: boolean;
};

/** Runs what the rungs ask for, each thing once. Throws SideTwinError where the port has no ladder or no such twin. */
export async function climbLadder(open: OpenPort, options: LadderOptions): Promise<ClimbedLadder> {
  const { ladder, stopAt } = open.port;
  if (ladder.length === 0)
    throw new SideTwinError({
      code: "bad-input",
      what: "The port has no ladder",
      where: { file: path.basename(open.file), key: "ladder" },
      next: 'Add "ladder": [{ "name": "runs", "cases": "agree" }] to the port file.',
    });
  const twins = twinsFor(open, options.twin);
  const goal = ladder.findIndex(({ name }) => name === (stopAt ?? ladder.at(-1)?.name));
  const states: RungState[] = [];
  let isThere = true;
  for (const twin of twins) {
    const own = ladder.filter((rung) => rung.twin === undefined || rung.twin === twin.name);
    const facts = await gatherFacts(open, twin.name, own, options);
    const climbed = climb(own, twin.name, facts);
    states.push(...climbed);
    const wanted = own.filter((rung) => ladder.indexOf(rung) <= goal).at(-1);
    isThere &&= wanted === undefined || (climbed.find(({ name }) => name === wanted.name)?.reached ?? false);
  }
  return { rungs: states, isThere };
}

async function gatherFacts(
  open: OpenPort,
  twin: string,
  rungs: readonly Rung[],
  options: LadderOptions,
): Promise<LadderFacts> {
  const side = open.twins.find(({ name }) => name === twin) ?? open.original;
  const diagnostics = new Map<string, readonly PlacedDiagnostic[]>();
  for (const rung of rungs) {
    if (!rung.check) continue;
    options.onStep?.(`check of "${rung.name}" on ${twin}`);
    const run = await runCheckCommand(open, { name: twin, side }, rung.check, options);
    diagnostics.set(rung.name, run.diagnostics);
  }
  const asks = (wanted: (rung: Rung) => boolean) => rungs.some(wanted);
  const needsCases = asks(({ cases, proven }) => cases !== undefined || proven !== undefined);
  if (needsCases) options.onStep?.(`cases on ${twin}`);
  const finished = needsCases ? await checkTwin(open, twin, options) : null;
  return {
    modules: open.modules.filter(({ leftOut }) => leftOut === undefined).map(({ name }) => name),
    diagnostics,
    cases: finished?.report.cases ?? null,
    lines: finished ? linesOf(finished, twin) : null,
    leftovers: asks(({ leftovers }) => leftovers !== undefined) ? await findLeftovers(open, twin) : null,
    ...(await runCommandsAndTests(open, twin, rungs, options)),
  };
}

/** Runs the commands and, once, the test suites that the rungs ask for. */
export async function runCommandsAndTests(
  open: OpenPort,
  twin: string,
  rungs: readonly Rung[],
  options: LadderOptions,
): Promise<Pick<LadderFacts, "commands" | "tests">> {
  const commands = new Map<string, number | null>();
  for (const rung of rungs) {
    if (!rung.command) continue;
    options.onStep?.(`command of "${rung.name}" on ${twin}`);
    commands.set(rung.name, await statusOf(open, twin, rung.command, options.signal));
  }
  if (!rungs.some(({ tests }) => tests !== undefined)) return { commands, tests: null };
  options.onStep?.(`tests on ${twin}`);
  return { commands, tests: await unequalTests(open, twin, options) };
}

async function checkTwin(open: OpenPort, twin: string, options: LadderOptions): Promise<FinishedCheck> {
  return runCheck(open, await readCases(open), {
    twin,
    jobs: options.jobs ?? 1,
    answersFolder: answersFolderIn(options.data),
    ...(options.signal ? { signal: options.signal } : {}),
  });
}

function linesOf({ report }: FinishedCheck, twin: string): LadderFacts["lines"] {
  const own = report.modules.filter((module) => module.twin === twin);
  return new Map(own.map(({ name, lines, provenLines }) => [name, { lines, proven: provenLines ?? 0 }]));
}

async function unequalTests(open: OpenPort, twin: string, options: LadderOptions): Promise<number> {
  const found = await runSuites(open, { twin, signal: options.signal, answersFolder: answersFolderIn(options.data) });
  return found.flatMap(({ tests }) => tests).filter(({ state }) => state !== "same").length;
}

/** Null where it did not end by itself. */
async function statusOf(
  open: OpenPort,
  twin: string,
  command: readonly string[],
  signal: AbortSignal | undefined,
): Promise<number | null> {
  const side = open.twins.find(({ name }) => name === twin) ?? open.original;
  const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-rung-")));
  try {
    const { end } = await runInSide(open, side, { command, scratch, signal, timeMs: COMMAND_TIME_MS });
    return end.kind === "exited" ? end.code : null;
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
