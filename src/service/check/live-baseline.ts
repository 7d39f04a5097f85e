/** A baseline running in the server: reported to the screens, saved at its end. */
import { availableParallelism } from "node:os";
import type { PortEvent } from "@/api/port-event";
import { runBaseline } from "@/service/check/run-baseline";
import { answersFolderIn } from "@/service/check/run-check";
import { type PortReading, stampOf } from "@/service/reading/reading";
import { saveBaseline } from "@/store/baselines";
import type { Store } from "@/store/open";

const REPORT_EVERY_MS = 120;

/** A baseline running in the server. */
export class LiveBaseline {
  private readonly stopper = new AbortController();

  constructor(
    private readonly store: Store,
    private readonly options: {
      readonly portId: string;
      readonly reading: PortReading;
      readonly emit: (event: PortEvent) => void;
    },
  ) {}

  stop(): void {
    this.stopper.abort();
  }

  /** Resolves when it has ended, in any way, and its result is saved. */
  async run(): Promise<void> {
    const { portId, reading, emit } = this.options;
    const startedAt = new Date();
    let reportedAt = 0;
    let phase = "";
    const baseline = await runBaseline(reading.open, reading.cases, {
      jobs: Math.max(1, availableParallelism()),
      signal: this.stopper.signal,
      answersFolder: answersFolderIn(this.store.folder),
      onProgress: (progress) => {
        const now = performance.now();
        if (progress.phase === phase && now - reportedAt < REPORT_EVERY_MS) return;
        reportedAt = now;
        phase = progress.phase;
        emit({ type: "baseline", ...progress });
      },
    });
    const seconds = (Date.now() - startedAt.getTime()) / 1000;
    await saveBaseline(this.store, portId, { startedAt, seconds, baseline, stamp: stampOf(reading, null, "") });
    emit({ type: "baseline-ended" });
  }
}
