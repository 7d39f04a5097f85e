/** Runs the cases of a family on changed copies of a twin. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import type { SharedCase } from "@/core/formats/case-line";
import { applyEdit } from "@/core/mending/edit";
import { type Ran, scoreLines } from "@/core/mending/places";
import { isAgreement } from "@/core/progress/done";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { Scratch } from "@/engine/runs/scratch";
import { Prober } from "@/service/check/prober";
import type { ChangedFiles, FileEdit, MendPlace } from "@/service/mending/edits";
import type { OpenPort } from "@/service/port/open-port";

/** Cases whose lines are recorded to find the places. */
const MAX_TRACED = 40;

/** A change that makes the cases agree. */
export type Best = FileEdit & { readonly twin?: string; readonly mended: number; readonly harmed: number };

type Ranked = { readonly at: number; readonly found: Best };

/** The least milliseconds that a case may take with a change, and how much longer than it took before. */
const MIN_TIME_MS = 300;
const MAX_SLOWER = 10;
/** Extra milliseconds before the pool ends a driver whose case waits for something instead of computing. */
const WAITING_MS = 2000;

type TrialOptions = {
  /** Milliseconds that the slowest of the cases took on either side; what never ends with a change is stopped soon after. */
  readonly slowestMs: number;
  /** A mend makes all of these agree. */
  readonly cases: readonly SharedCase[];
  /** At least one of these must agree, if there are any. Without `cases` the change that makes the most of them agree is the best. */
  readonly others: readonly SharedCase[];
  readonly agreeing: readonly SharedCase[];
  readonly changed: ChangedFiles;
  readonly jobs: number;
  readonly signal?: AbortSignal;
  /** Tries a change that mends all cases elsewhere too; null refuses it. */
  readonly confirm?: (best: Best) => Promise<Best | null>;
};

/** A copy of the twin with drivers of its own. */
type Bench = { readonly scratch: Scratch; readonly side: OpenPort["twins"][number]; readonly prober: Prober };

/** Runs the cases of a family on changed copies of the twin. Close it when done. */
export class TwinTrial {
  private constructor(
    private readonly port: OpenPort,
    private readonly benches: readonly [Bench, ...Bench[]],
    private readonly options: TrialOptions,
    private readonly originals: ReadonlyMap<string, PoolAnswer>,
  ) {}

  static async open(open: OpenPort, twin: OpenPort["twins"][number], options: TrialOptions): Promise<TwinTrial> {
    const timeMs = Math.ceil(Math.min(open.port.limits.timeMs, Math.max(MIN_TIME_MS, options.slowestMs * MAX_SLOWER)));
    const limits = { ...open.port.limits, timeMs: Math.min(open.port.limits.timeMs, timeMs + WAITING_MS) };
    const limited = { ...open, port: { ...open.port, limits } };
    const bench = async (): Promise<Bench> => {
      const scratch = await Scratch.make(twin.folder);
      for (const [full, { after }] of options.changed)
        if (full.startsWith(twin.folder + path.sep))
          writeFileSync(path.join(scratch.folder, path.relative(twin.folder, full)), after);
      const side = { ...twin, folder: scratch.folder };
      // The build of the person's sources is reused for calls.
      const { prepare: _prepare, ...plain } = side;
      return { scratch, side: plain, prober: new Prober(limited, plain, options.signal, { limitMs: timeMs }) };
    };
    const benches: [Bench, ...Bench[]] = [await bench()];
    while (benches.length < options.jobs) benches.push(await bench());
    const items = [...options.cases, ...options.others, ...options.agreeing];
    const answers = await benches[0].prober.askOriginal(items);
    const originals = new Map<string, PoolAnswer>();
    for (const [index, item] of items.entries()) {
      const answer = answers[index];
      if (answer) originals.set(item.id, answer);
    }
    const trial = new TwinTrial(open, benches, options, originals);
    // Starting a driver is not the time of a change.
    await Promise.all(benches.map(({ prober }) => trial.agreeing(prober, trial.all.slice(0, 1))));
    return trial;
  }

  /** Cases that changes are tried on. */
  get count(): number {
    return this.all.length;
  }

  private get all(): SharedCase[] {
    return [...this.options.cases, ...this.options.others];
  }

  /** Whether the family's cases agree as the twin is. */
  async agrees(): Promise<boolean> {
    return (await this.agreeing(this.benches[0].prober, this.all)) === this.count;
  }

  /** How many of the cases agree. */
  private async agreeing(prober: Prober, items: readonly SharedCase[]): Promise<number> {
    const answers = items.map((item) => this.originals.get(item.id) as PoolAnswer); // asked for all of them
    const judged = await prober.probeTwin(items, answers);
    return judged.filter(({ verdict }) => isAgreement(verdict.outcome)).length;
  }

  /** The lines that the family's cases run, those that agreeing cases run less come first. */
  async places(): Promise<MendPlace[]> {
    const { agreeing } = this.options;
    const cases = this.all;
    const traced = [...cases.slice(0, MAX_TRACED), ...agreeing.slice(0, MAX_TRACED * 3)];
    const prober = new Prober(this.port, this.benches[0].side, this.options.signal, { isTraced: true });
    const lines = await prober.linesOfTwin(traced).finally(() => prober.close());
    const files = new Set(lines.flatMap((own) => Object.keys(own ?? {})));
    const places = [...files].flatMap((file) => {
      const runs = traced.map(
        (_item, index): Ran => ({
          lines: new Set(lines[index]?.[file] ?? []),
          isDiffering: index < Math.min(cases.length, MAX_TRACED),
        }),
      );
      return [...scoreLines(runs)].map(([line, score]) => ({ file, line, score }));
    });
    return places.sort((left, right) => right.score - left.score);
  }

  /**
   * The first change that mends the cases and harms none, in the order of the changes; where only some of the others can be
   * mended, the one that mends the most.
   */
  async search(edits: readonly FileEdit[], isOver: () => boolean): Promise<{ best: Best | null; tried: number }> {
    let next = 0;
    let tried = 0;
    let best: Ranked | null = null;
    const work = async (bench: Bench) => {
      for (;;) {
        const at = next++;
        const edit = edits[at];
        if (!edit || isOver() || (best && best.found.mended >= this.enough && best.at < at)) return;
        tried++;
        const found = await this.attempt(bench, edit);
        if (found && (!best || this.isBetter({ at, found }, best))) best = { at, found };
      }
    };
    await Promise.all(this.benches.map(work));
    return { best: (best as Ranked | null)?.found ?? null, tried }; // set in the closures above
  }

  /** With cases of its own the first change that mends these is taken, else one that mends all others. */
  private get enough(): number {
    const { cases, others } = this.options;
    return cases.length > 0 ? 0 : others.length;
  }

  private isBetter(one: Ranked, other: Ranked): boolean {
    const [mended, before] = [one, other].map(({ found }) => Math.min(found.mended, this.enough));
    return mended === before ? one.at < other.at : (mended ?? 0) > (before ?? 0);
  }

  private async attempt({ prober }: Bench, { file, before, edit, rank }: FileEdit): Promise<Best | null> {
    await prober.replaceTwin({ [file]: applyEdit(before, edit) });
    const { cases, others, agreeing } = this.options;
    const count = (items: readonly SharedCase[]) => this.agreeing(prober, items);
    // Most changes fail at the smallest case.
    if (cases.length > 0 && (await count(cases.slice(0, 1))) === 0) return null;
    if (cases.length > 1 && (await count(cases.slice(1))) < cases.length - 1) return null;
    const beyond = await count(others);
    if (others.length > 0 && beyond === 0) return null;
    const harmed = agreeing.length - (await count(agreeing));
    if (harmed > 0) return null;
    const best = { file, before, edit, rank, mended: cases.length + beyond, harmed };
    return this.options.confirm ? this.options.confirm(best) : best;
  }

  async close(): Promise<void> {
    for (const { prober, scratch } of this.benches) {
      prober.close();
      await scratch.remove();
    }
  }
}
