/** Asks both sides of a port one case after another, through drivers that stay alive, and judges each. */
import { orderForOriginal, orderForTwin, type TwinTerms, twinTerms } from "@/core/cases/hand-over";
import { isRunCase, type RunCase, type SharedCase } from "@/core/formats/case-line";
import type { PortModule } from "@/core/pairing/modules";
import type { PoolAnswer } from "@/engine/bridge/pool";
import type { Lines } from "@/engine/drivers/driver";
import { runPrograms } from "@/engine/runs/program-runs";
import { findRenamed, isMissingSection } from "@/service/check/renamed-sections";
import { type Feed, SideAnswers } from "@/service/check/side-answers";
import { prepareSide, programOf, sideEnvironment } from "@/service/check/sides";
import { type Judged, judge } from "@/service/check/verdict";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

export type ProberOptions = {
  /** Whether lines are traced. */
  readonly isTraced?: boolean;
  /** Milliseconds after which the twin's driver stops a case by itself, see SideTerms. */
  readonly limitMs?: number;
};

/** Runs single inputs on both sides, for shrinking and mending. */
export class Prober {
  private readonly original: SideAnswers;
  private readonly twin: SideAnswers;
  private isPrepared = false;
  private hasLookedFurther = false;
  private terms: TwinTerms;

  constructor(
    private readonly open: OpenPort,
    private readonly twinSide: OpenPort["twins"][number],
    private readonly signal?: AbortSignal,
    { isTraced = false, limitMs }: ProberOptions = {},
  ) {
    const side = (of: OpenSide, name: string, withLines = false, limit?: number) =>
      new SideAnswers({
        open,
        side: of,
        name,
        jobs: 1,
        ...(signal ? { signal } : {}),
        answersFolder: null,
        resume: null,
        fresh: true,
        lines: withLines,
        onVersion: () => undefined,
        ...(limit === undefined ? {} : { limitMs: limit }),
      });
    this.terms = twinTerms(
      open.port,
      twinSide.name,
      open.modules.map((module) => module.name),
    );
    this.original = side(open.original, "original", isTraced);
    this.twin = side(twinSide, twinSide.name, isTraced, limitMs);
  }

  /** Throws SideTwinError when a side cannot be run at all. */
  async probe(item: SharedCase): Promise<Judged> {
    const { open, twinSide, signal } = this;
    if (!this.isPrepared) {
      await prepareSide(open, open.original, "original", { signal, answersFolder: null });
      await prepareSide(open, twinSide, twinSide.name, { signal, answersFolder: null });
      this.isPrepared = true;
    }
    const [original, twin] = isRunCase(item)
      ? await Promise.all([this.run(open.original, "original", item), this.run(twinSide, twinSide.name, item)])
      : await Promise.all([
          ask(this.original, item, {
            order: (one) => (isRunCase(one) ? null : orderForOriginal(one)),
            files: (module) => module.original,
          }),
          this.askTwin(item),
        ]);
    return judge(item, original, twin, { port: open.port, twin: this.terms });
  }

  /** Uses the paired name if the twin lacks the case's own section. */
  private async askTwin(item: SharedCase): Promise<PoolAnswer> {
    const { open, twinSide } = this;
    const answer = await ask(this.twin, item, this.feedOf(this.terms));
    if (this.hasLookedFurther || !isMissingSection(answer)) return answer;
    this.hasLookedFurther = true;
    const hookups = await findRenamed(open, twinSide.name, new Set(item.module === undefined ? [] : [item.module]));
    this.terms = { ...this.terms, hookups: [...this.terms.hookups, ...hookups] };
    return hookups.length === 0 ? answer : ask(this.twin, item, this.feedOf(this.terms));
  }

  private feedOf(terms: TwinTerms): Omit<Feed, "arrived"> {
    const { twinSide } = this;
    return {
      order: (one: SharedCase) => (isRunCase(one) ? null : orderForTwin(one, terms)),
      files: (module: PortModule) =>
        (module.twins[twinSide.name] ?? []).filter((file) => twinSide.files.includes(file)),
    };
  }

  /** The original's answers to cases that are no program runs, in their order. */
  async askOriginal(items: readonly SharedCase[]): Promise<PoolAnswer[]> {
    return askAll(this.original, items, {
      order: (one) => (isRunCase(one) ? null : orderForOriginal(one)),
      files: (module) => module.original,
    });
  }

  /** Judges such cases against answers of the original that are known. */
  async probeTwin(items: readonly SharedCase[], originals: readonly PoolAnswer[]): Promise<Judged[]> {
    const answers = await askAll(this.twin, items, this.feedOf(this.terms));
    const missing = answers.some(isMissingSection) && !this.hasLookedFurther;
    if (missing) {
      const [item] = items;
      if (item) await this.askTwin(item);
      return this.probeTwin(items, originals);
    }
    return items.map((item, index) =>
      judge(item, originals[index] ?? STOPPED, answers[index] ?? STOPPED, { port: this.open.port, twin: this.terms }),
    );
  }

  /** The lines of the twin that each case ran. */
  linesOfTwin(items: readonly SharedCase[]): Promise<(Lines | undefined)[]> {
    return this.lines(this.twin, items, this.feedOf(this.terms));
  }

  /** The lines of the original that each case ran. */
  linesOfOriginal(items: readonly SharedCase[]): Promise<(Lines | undefined)[]> {
    return this.lines(this.original, items, {
      order: (one) => (isRunCase(one) ? null : orderForOriginal(one)),
      files: (module) => module.original,
    });
  }

  private async lines(
    side: SideAnswers,
    items: readonly SharedCase[],
    feed: Omit<Feed, "arrived">,
  ): Promise<(Lines | undefined)[]> {
    const lines: (Lines | undefined)[] = [];
    // The first one runs twice: what loading its module runs is not its own.
    await side.feedWithLines([...items.slice(0, 1), ...items], {
      ...feed,
      arrived: (index, answer) => {
        if (index > 0) lines[index - 1] = answer.lines;
      },
    });
    return lines;
  }

  /** These files of the twin changed: what was loaded of them is read again. */
  async reloadTwin(files: readonly string[]): Promise<void> {
    const pool = await this.twin.drivers();
    pool.add([{ request: { op: "reset", files }, tries: 0, done: () => undefined }]);
  }

  /** Runs the twin with these texts in place of its files; replaces texts given earlier. */
  async replaceTwin(texts: { readonly [file: string]: string }): Promise<void> {
    (await this.twin.drivers()).replaceTexts(texts);
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
  const [answer = STOPPED] = await askAll(side, [item], feed);
  return answer;
}

async function askAll(
  side: SideAnswers,
  items: readonly SharedCase[],
  feed: Omit<Feed, "arrived">,
): Promise<PoolAnswer[]> {
  const answers: PoolAnswer[] = items.map(() => STOPPED);
  await side.feed(items, {
    ...feed,
    arrived: (index, given) => {
      answers[index] = given;
    },
  });
  return answers;
}
