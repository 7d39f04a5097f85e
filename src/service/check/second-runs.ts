/** Runs cases again on the original: those with a different answer are unsteady, and do not count against a twin. */

import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { OriginalAgain } from "@/service/check/run-original";
import type { SideTerms } from "@/service/check/side-answers";
import { isSteady, isToRepeat, sampleOf } from "@/service/check/steadiness";
import type { Verdict } from "@/service/check/verdict";
import type { OpenPort } from "@/service/port/open-port";

/** The check's data that second runs need. */
export type SecondTerms = {
  readonly open: OpenPort;
  readonly cases: readonly SharedCase[];
  /** Runs every case again, in another environment, instead of a sample. */
  readonly all: boolean;
  /** Twin → the last verdict on each case, at the case's place. */
  readonly latest: ReadonlyMap<string, readonly (Verdict | undefined)[]>;
  readonly original: () => SideTerms;
  /** Called before the first case runs again; never if none does. */
  readonly onStart: () => void;
  readonly onUnsteady: (index: number, verdict: Verdict, first: PoolAnswer, second: PoolAnswer) => void;
  /** The first answer of a traced run does not count; the verdict is to be given on this one. */
  readonly onOtherUntraced: (index: number, twin: string, second: PoolAnswer) => void;
};

type Untraced = { readonly index: number; readonly twin: string; readonly second: PoolAnswer };

/** Second runs of one check. */
export class SecondRuns {
  /** The original's first answers to the cases that may run again. */
  private readonly firstAnswers: (PoolAnswer | undefined)[] = [];
  /** Twin and index of a traced run → its first untraced answer. */
  private readonly untraced = new Map<string, Untraced>();
  /** Those that answered differently from the traced run. */
  private readonly doubted = new Map<string, Untraced>();
  /** Cases that are run again even if they agree. */
  private readonly sample: ReadonlySet<string>;
  /** The original in another process. */
  private again: OriginalAgain | null = null;

  constructor(private readonly terms: SecondTerms) {
    const { all, cases } = terms;
    this.sample = all ? new Set(cases.map((item) => item.id)) : sampleOf(cases);
  }

  /** Whether a case may run again, so that its first answer must be kept. */
  isPossible({ outcome, item }: Verdict): boolean {
    return outcome === "differ" || this.sample.has(item.id);
  }

  keepFirst(index: number, answer: PoolAnswer): void {
    this.firstAnswers[index] = answer;
  }

  async run(): Promise<void> {
    const { all, onStart, original } = this.terms;
    const due = this.due();
    if (due.size === 0) return;
    onStart();
    const rounds = Math.max(2, ...[...due.keys()].map((item) => item.repeat ?? 1)) - 1;
    this.again ??= new OriginalAgain(original());
    for (let round = 0; round < rounds; round++) {
      const cases = [...due.keys()].filter((item) => round === 0 || (item.repeat ?? 1) > round + 1);
      await this.again.run(this.withKeptState(cases), all, (item, second) => {
        const { index, verdicts } = due.get(item) ?? { index: -1, verdicts: [] };
        for (const verdict of verdicts) this.compareAgain(index, verdict, second);
      });
    }
    await this.settleDoubted();
  }

  close(): void {
    this.again?.close();
  }

  private due(): ReadonlyMap<SharedCase, { readonly index: number; readonly verdicts: readonly Verdict[] }> {
    const due = new Map<SharedCase, { readonly index: number; readonly verdicts: Verdict[] }>();
    for (const verdicts of this.terms.latest.values()) {
      for (const [index, verdict] of verdicts.entries()) {
        if (!verdict || !isToRepeat(verdict, { all: this.terms.all, sample: this.sample })) continue;
        const entry = due.get(verdict.item) ?? { index, verdicts: [] };
        due.set(verdict.item, entry);
        entry.verdicts.push(verdict);
      }
    }
    return due;
  }

  /** A case whose module keeps its state rests on all cases before it: they run again as well. */
  private withKeptState(cases: readonly SharedCase[]): readonly SharedCase[] {
    const { state } = this.terms.open.port;
    const isKept = (item: SharedCase) => !isRunCase(item) && (item.state ?? state) === "kept";
    const modules = new Set(cases.filter(isKept).map((item) => item.module));
    if (modules.size === 0) return cases;
    const wanted = new Set(cases);
    return this.terms.cases.filter((item) => wanted.has(item) || (isKept(item) && modules.has(item.module)));
  }

  private compareAgain(index: number, verdict: Verdict, second: PoolAnswer): void {
    const first = this.firstAnswers[index];
    if (!first) return;
    const isTraced = isRunCase(verdict.item) && first.lines !== undefined;
    const key = `${verdict.twin}\0${index}`;
    const before = this.untraced.get(key);
    const isSame = isSteady(verdict, before?.second ?? first, second, this.terms.open.port);
    if (isTraced && !before) {
      const entry = { index, twin: verdict.twin, second };
      this.untraced.set(key, entry);
      if (!isSame) this.doubted.set(key, entry);
    } else if (!isSame) {
      // Two runs alike but for their answers: it is not for the tracing.
      this.doubted.delete(key);
      this.terms.onUnsteady(index, verdict, first, second);
    }
  }

  /**
   * A third run decides whether tracing changed the first answer, which is then ignored, or the original is unsteady.
   */
  private async settleDoubted(): Promise<void> {
    const { all, cases, latest, open, onOtherUntraced, onUnsteady } = this.terms;
    const doubted = [...this.doubted.values()];
    if (doubted.length === 0 || !this.again) return;
    const items = [...new Set(doubted.flatMap(({ index }) => cases[index] ?? []))];
    await this.again.run(items, all, (item, third) => {
      for (const { index, twin, second } of doubted) {
        const verdict = latest.get(twin)?.[index];
        const first = this.firstAnswers[index];
        if (cases[index] !== item || !verdict || !first) continue;
        if (isSteady(verdict, second, third, open.port)) onOtherUntraced(index, twin, second);
        else onUnsteady(index, verdict, first, second);
      }
    });
  }
}
