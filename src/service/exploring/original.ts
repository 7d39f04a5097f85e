/** The original, asked again and again with its lines counted: what recording and generating of cases rest on. */
import { availableParallelism } from "node:os";
import { orderForOriginal } from "@/core/cases/hand-over";
import type { Answer } from "@/core/compare/answer";
import { type Feature, featuresOf, lineFeature, passedFeatures } from "@/core/exploring/features";
import { type CallCase, isRunCase, type SharedCase, type StepsCase } from "@/core/formats/case-line";
import type { PortModule } from "@/core/pairing/modules";
import type { PoolAnswer } from "@/engine/bridge/pool";
import type { Lines } from "@/engine/drivers/driver";
import { executableLines, type FileFacts } from "@/service/check/executable-lines";
import { type Feed, SideAnswers } from "@/service/check/side-answers";
import { prepareSide } from "@/service/check/sides";
import type { OpenPort } from "@/service/port/open-port";

/** A case that is not a program run. */
export type Callable = CallCase | StepsCase;

/** A case with the original's answer. */
export type Tried = { readonly item: Callable; readonly answer: PoolAnswer; readonly features: readonly Feature[] };

export type OriginalOptions = {
  readonly signal?: AbortSignal | undefined;
  readonly jobs?: number | undefined;
  /** Milliseconds that one case may take. */
  readonly timeMs?: number;
};

const NO_LINES: Lines = {};

/** The original's drivers. Close it when done. */
export class Original {
  private readonly side: SideAnswers;
  private facts: ReadonlyMap<string, FileFacts> = new Map();
  private lines: ReadonlyMap<string, ReadonlySet<number>> = new Map();

  private constructor(
    private readonly modules: readonly PortModule[],
    open: OpenPort,
    { signal, jobs = Math.min(4, availableParallelism()), timeMs }: OriginalOptions,
  ) {
    const limits = timeMs === undefined ? open.port.limits : { ...open.port.limits, timeMs };
    this.side = new SideAnswers({
      open: { ...open, port: { ...open.port, limits } },
      side: open.original,
      name: "original",
      jobs,
      ...(signal ? { signal } : {}),
      answersFolder: null,
      resume: null,
      fresh: true,
      lines: true,
      onVersion: () => undefined,
    });
  }

  /** Prepares the side, and reads which lines of the modules can be run. Throws SideTwinError. */
  static async open(open: OpenPort, modules: readonly PortModule[], options: OriginalOptions = {}): Promise<Original> {
    await prepareSide(open, open.original, "original", { signal: options.signal, answersFolder: null });
    const original = new Original(modules, open, options);
    try {
      original.facts = await executableLines(original.side, new Set(modules.flatMap((module) => module.original)));
      original.lines = new Map([...original.facts].map(([file, { lines }]) => [file, new Set(lines)]));
    } catch (error) {
      original.close();
      throw error;
    }
    return original;
  }

  /** All executable lines of the modules. */
  get executable(): ReadonlySet<Feature> {
    return new Set([...this.facts].flatMap(([file, { lines }]) => lines.map((line) => lineFeature(file, line))));
  }

  /** The lines that loading the modules of these cases runs. */
  loaded(cases: readonly Callable[]): Feature[] {
    const called = new Set(cases.map(({ module }) => module));
    const files = this.modules.flatMap(({ name, original }) => (called.has(name) ? original : []));
    return files.flatMap((file) => (this.facts.get(file)?.load ?? []).map((line) => lineFeature(file, line)));
  }

  /** Answers with the lines that each ran, in the order of the cases; those that were not asked any more are left out. */
  async try(cases: readonly Callable[]): Promise<Tried[]> {
    const answers = await this.ask(cases, true);
    return cases.flatMap((item, index) => {
      const answer = answers[index];
      if (!answer) return [];
      const { result } = answer;
      const isAnswer = result.kind !== "broken" && result.kind !== "skipped";
      const features = isAnswer ? this.featuresOf(item, result, answer.lines ?? NO_LINES) : [];
      return [{ item, answer, features }];
    });
  }

  /** Answers alone, which is quicker. */
  async again(cases: readonly Callable[]): Promise<(PoolAnswer | undefined)[]> {
    return this.ask(cases, false);
  }

  /** The same set of lines is the same object: its features are made once. */
  private readonly ofLines = new WeakMap<Lines, Feature[]>();

  private featuresOf(item: Callable, answer: Answer, lines: Lines): Feature[] {
    let known = this.ofLines.get(lines);
    if (!known) {
      known = Object.entries(this.own(lines)).flatMap(([file, run]) => [
        ...run.map((line) => lineFeature(file, line)),
        ...passedFeatures(file, this.facts.get(file)?.lines ?? [], run),
      ]);
      this.ofLines.set(lines, known);
    }
    return [...known, ...featuresOf(item, answer)];
  }

  private own(lines: Lines): Record<string, readonly number[]> {
    return Object.fromEntries(
      Object.entries(lines).flatMap(([file, numbers]) => {
        const known = this.lines.get(file);
        return known ? [[file, numbers.filter((line) => known.has(line))]] : [];
      }),
    );
  }

  private async ask(cases: readonly Callable[], withLines: boolean): Promise<(PoolAnswer | undefined)[]> {
    const answers: (PoolAnswer | undefined)[] = [];
    const feed: Feed = {
      order: (item: SharedCase) => (isRunCase(item) ? null : orderForOriginal(item)),
      files: (module) => module.original,
      arrived: (index, answer) => {
        answers[index] = answer;
      },
    };
    if (withLines) await this.side.feedWithLines(cases, feed);
    else await this.side.feed(cases, feed);
    return answers;
  }

  close(): void {
    this.side.close();
  }
}
