/** The state of a check as a screen follows it, from the server's events. Pure. */

import type { Mark } from "@/api/case-listing";
import type { PortEvent } from "@/api/port-event";
import type { ErrorRecord } from "@/core/errors";

/** The state of a port's check. */
export type RunningCheck = {
  readonly running: boolean;
  readonly phase: string | null;
  readonly module: string | null;
  readonly done: number;
  readonly total: number;
  /** Verdicts that came since the screen was loaded: `twin\0case` → mark. */
  readonly fresh: ReadonlyMap<string, Mark>;
  readonly problem: ErrorRecord | null;
  /** How the last check that ended here came out. */
  readonly last: CheckOutcome | null;
  /** How often files were saved since the screen was loaded. */
  readonly saves: number;
};

/** Changes by a check against the verdicts before it. */
export type CheckOutcome = {
  readonly module: string | null;
  readonly mended: number;
  readonly worsened: number;
  readonly seconds: number;
  readonly isStopped: boolean;
};

/** Nothing runs, and nothing has been reported. */
export const NO_CHECK: RunningCheck = {
  running: false,
  phase: null,
  module: null,
  done: 0,
  total: 0,
  fresh: new Map(),
  problem: null,
  last: null,
  saves: 0,
};

/** `another`: a different port is followed from now on. */
export type StreamEvent = PortEvent | { readonly type: "another" };

/** Whether an event may make loaded views out of date; after a lost connection anything may have changed. */
export const changesViews = ({ type }: PortEvent): boolean =>
  type === "hello" || type === "ended" || type === "baseline-ended" || type === "files";

/** Applies an event. */
export function reduceCheck(state: RunningCheck, event: StreamEvent): RunningCheck {
  switch (event.type) {
    case "another":
      return NO_CHECK;
    case "hello":
      return { ...state, running: event.running };
    case "started":
      return {
        ...state,
        running: true,
        phase: "prepare",
        module: event.module,
        done: 0,
        total: event.total,
        problem: null,
        last: null,
        fresh: new Map(),
      };
    case "phase":
      return { ...state, phase: event.phase };
    case "verdicts": {
      const fresh = new Map(state.fresh);
      for (const { twin, id, outcome } of event.list) fresh.set(`${twin}\0${id}`, outcome);
      return { ...state, running: true, done: event.done, total: event.total, fresh };
    }
    case "ended":
      return {
        ...state,
        running: false,
        phase: null,
        problem: event.problem,
        last: event.changes && { ...event.changes, isStopped: event.state !== "complete" },
      };
    case "baseline":
      return {
        ...state,
        running: true,
        phase: `baseline-${event.phase}`,
        done: event.done,
        total: event.total,
        problem: null,
      };
    case "baseline-ended":
      return { ...state, running: false, phase: null };
    case "files":
      return event.paths.length === 0 ? state : { ...state, saves: state.saves + 1 };
  }
}

const PHASES: Readonly<Record<string, string>> = {
  prepare: "preparing both sides",
  run: "running",
  steady: "running the original again",
  trace: "tracing proven lines",
  part: "finding where differing cases part inside",
  "baseline-prepare": "building the original",
};

/** `fares: 5 mended, 0 newly differ, 1.4 s`, or `checked: no change, 2.1 s`; null where no check has ended. */
export function describeOutcome({ last }: RunningCheck): string | null {
  if (!last) return null;
  const { module, mended, worsened, seconds, isStopped } = last;
  const where = module ?? "checked";
  if (isStopped) return `${where}: stopped after ${seconds.toFixed(1)} s`;
  if (mended + worsened === 0) return `${where}: no change, ${seconds.toFixed(1)} s`;
  return `${where}: ${mended} mended, ${worsened} newly ${worsened === 1 ? "differs" : "differ"}, ${seconds.toFixed(1)} s`;
}

/** Describes the running check; null if none runs. */
export function describeCheck(state: RunningCheck): string | null {
  if (!state.running) return null;
  if (state.phase === "run" || state.phase === null) {
    // A case that runs into its time limit holds the count up: the reason is shown meanwhile.
    const broken = [...state.fresh.values()].filter((mark) => mark === "broken").length;
    return `${state.done} of ${state.total || "…"} cases${broken > 0 ? `, ${broken} broken` : ""}`;
  }
  const counts = `${state.done} of ${state.total} cases`;
  if (state.phase === "baseline-run") return `the original alone, ${counts}`;
  if (state.phase === "baseline-again") return `the original once more, ${counts}`;
  return PHASES[state.phase] ?? state.phase;
}
