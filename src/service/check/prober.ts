/** Asks both sides of a port one case after another, through drivers that stay alive, and judges each. */
import { orderForOriginal, orderForTwin, twinTerms } from "@/core/cases/hand-over";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { runPrograms } from "@/engine/runs/program-runs";
import { type Feed, SideAnswers } from "@/service/check/side-answers";
import { prepareSide, programOf, sideEnvironment } from "@/service/check/sides";
import { type Judged, judge } from "@/service/check/verdict";
import type { OpenPort, OpenSide } from "@/service/open-port";

export class Prober {
  private readonly original: SideAnswers;
  private readonly twin: SideAnswers;
  private isPrepared = false;

  constructor(
    private readonly open: OpenPort,
    private readonly twinSide: OpenPort["twins"][number],
    private readonly signal?: AbortSignal,
  ) {
    const side = (of: OpenSide, name: string) =>
      new SideAnswers({
        open,
        side: of,
        name,
        jobs: 1,
        ...(signal ? { signal } : {}),
        answersFolder: null,
        resume: null,
        fresh: true,
        lines: false,
        onVersion: () => undefined,
      });
    this.original = side(open.original, "original");
    this.twin = side(twinSide, twinSide.name);
  }

  /** Throws SideTwinError when a side cannot be run at all. */
  async probe(item: SharedCase): Promise<Judged> {
    const { open, twinSide, signal } = this;
    const modules = open.modules.map((module) => module.name);
    const terms = twinTerms(open.port, twinSide.name, modules);
    if (!this.isPrepared) {
      await prepareSide(open, open.original, "original", { signal, answersFolder: null });
      await prepareSide(open, twinSide, twinSide.name, { signal, answersFolder: null });
      this.isPrepared = true;
    }
    const present = (files: readonly string[] | undefined) =>
      (files ?? []).filter((file) => twinSide.files.includes(file));
    const [original, twin] = isRunCase(item)
      ? await Promise.all([this.run(open.original, "original", item), this.run(twinSide, twinSide.name, item)])
      : await Promise.all([
          ask(this.original, item, {
            order: (one) => (isRunCase(one) ? null : orderForOriginal(one)),
            files: (module) => module.original,
          }),
          ask(this.twin, item, {
            order: (one) => (isRunCase(one) ? null : orderForTwin(one, terms)),
            files: (module) => present(module.twins[twinSide.name]),
          }),
        ]);
    return judge(item, original, twin, { port: open.port, twin: terms });
  }

  private async run(side: OpenSide, name: string, item: RunCase): Promise<PoolAnswer> {
    const { port } = this.open;
    let answer: PoolAnswer = STOPPED;
    const options = {
      command: await programOf(side, name),
      root: side.folder,
      language: side.language,
      env: sideEnvironment(port, side),
      limits: port.limits,
      jobs: 1,
      ...(port.now === undefined ? {} : { now: port.now }),
      ...(port.seed === undefined ? {} : { seed: port.seed }),
      ...(this.signal ? { signal: this.signal } : {}),
    };
    await runPrograms([item], options, (_item, given) => {
      answer = given;
    });
    return answer;
  }

  close(): void {
    this.original.close();
    this.twin.close();
  }
}

const STOPPED: PoolAnswer = { result: { kind: "skipped", why: "stopped" }, ms: null };

async function ask(side: SideAnswers, item: SharedCase, feed: Omit<Feed, "arrived">): Promise<PoolAnswer> {
  let answer = STOPPED;
  await side.feed([item], {
    ...feed,
    arrived: (_index, given) => {
      answer = given;
    },
  });
  return answer;
}
