/** Runs the original: its cases, and again in a new process to find nondeterminism. */
import { orderForOriginal } from "@/core/cases/hand-over";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { canFix } from "@/engine/runs/fixed-environment";
import { type ProgramOptions, runPrograms } from "@/engine/runs/program-runs";
import { type Feed, SideAnswers, type SideTerms } from "@/service/check/side-answers";
import { programOf, sideEnvironment } from "@/service/check/sides";
import { OTHER_HASHES, OTHER_WORLD, otherMoment } from "@/service/check/steadiness";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

/** Cases as calls of the original; program runs are not sent to drivers. */
export const originalFeed = (arrived: Feed["arrived"]): Feed => ({
  order: (item) => (isRunCase(item) ? null : orderForOriginal(item)),
  files: (module) => module.original,
  arrived,
});

type RunTerms = {
  readonly jobs: number;
  readonly signal?: AbortSignal | undefined;
  readonly env?: Readonly<Record<string, string>>;
};

/** The port's own terms for runs of a side's program; `command` is resolved. */
export function programTerms(
  { port }: OpenPort,
  side: OpenSide,
  command: readonly string[],
  { jobs, signal, env = {} }: RunTerms,
): ProgramOptions {
  return {
    command,
    root: side.folder,
    language: side.language,
    env: { ...sideEnvironment(port, side), ...env },
    limits: port.limits,
    jobs,
    ...(port.now === undefined ? {} : { now: port.now }),
    ...(port.seed === undefined ? {} : { seed: port.seed }),
    ...(signal ? { signal } : {}),
  };
}

/**
 * Runs the original in a separate process with another hash seed; in full mode also another time zone, locale and
 * clock.
 */
export class OriginalAgain {
  private answers: SideAnswers | null = null;

  constructor(private readonly terms: SideTerms) {}

  async run(
    cases: readonly SharedCase[],
    all: boolean,
    arrived: (item: SharedCase, answer: PoolAnswer) => void,
  ): Promise<void> {
    const { open, jobs, signal } = this.terms;
    const moment = otherMoment(new Date());
    const env = all ? OTHER_WORLD : OTHER_HASHES;
    const calls = cases.filter((item) => !isRunCase(item));
    if (calls.length > 0) {
      const side = { ...open.original, env: { ...env, ...open.original.env } };
      this.answers ??= new SideAnswers({ ...this.terms, side, answersFolder: null, lines: false });
      const moved = all ? calls.map((item) => ({ ...item, now: item.now ?? open.port.now ?? moment })) : calls;
      const feed = originalFeed((index, answer) => {
        const item = calls[index];
        if (item) arrived(item, answer);
      });
      await this.answers.feed(moved, feed);
    }
    const runs = cases.filter(isRunCase);
    if (runs.length === 0 || signal?.aborted) return;
    const command = await programOf(open.original, "original");
    const options = programTerms(open, open.original, command, { jobs, signal, env });
    // A program whose clock cannot be fixed runs at the current time, which alone does not make it unsteady.
    const isMoved = all && (await canFix({ language: open.original.language, command, root: open.original.folder }));
    await runPrograms(runs, { ...options, ...(isMoved ? { now: open.port.now ?? moment } : {}) }, arrived);
  }

  close(): void {
    this.answers?.close();
  }
}
