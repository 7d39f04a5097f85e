"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { ExploreView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import type { ErrorRecord } from "@/core/errors";
import { ask } from "@/ui/api";
import { useAsk } from "@/ui/state/use-ask";

/** Input of the forms for recording and generating. */
export type MakeWanted =
  | { readonly kind: "record"; readonly command: string }
  | {
      readonly kind: "generate";
      readonly modules: readonly string[];
      readonly seconds: number;
      readonly seed: number;
      readonly twins: boolean;
    };

/** The last result, by kind. */
export type Made = { readonly kind: MakeWanted["kind"]; readonly end: ExploreView };

/** Recording and generating of cases: one at a time. `seconds` since the start of what runs. */
export function useMaking(
  port: string,
  onMade: () => void,
): {
  readonly made: Made | null;
  readonly running: MakeWanted["kind"] | null;
  readonly seconds: number;
  readonly problem: ErrorRecord | null;
  readonly start: (wanted: MakeWanted) => void;
  /** Recording is broken off; generating keeps what it has. */
  readonly stop: () => void;
  /** Takes cases out of their files again. */
  readonly drop: (ids: readonly string[]) => void;
} {
  const { attempt, busy, refusal } = useAsk();
  const [made, setMade] = useState<Made | null>(null);
  const [running, setRunning] = useState<MakeWanted["kind"] | null>(null);
  const [seconds, setSeconds] = useState(0);
  const stopper = useRef<AbortController | null>(null);
  useEffect(() => {
    if (!busy || running === null) return;
    const since = performance.now();
    setSeconds(0);
    const timer = setInterval(() => setSeconds(Math.floor((performance.now() - since) / 1000)), 1000);
    return () => clearInterval(timer);
  }, [busy, running]);
  const start = useCallback(
    (wanted: MakeWanted) => {
      const controller = new AbortController();
      stopper.current = controller;
      setRunning(wanted.kind);
      attempt(async () => {
        try {
          const at = { port, signal: controller.signal };
          const end = await request(wanted, at);
          setMade({ kind: wanted.kind, end });
          onMade();
        } catch (thrown) {
          // A person's stop is not a refusal.
          if (!controller.signal.aborted) throw thrown;
        } finally {
          setRunning(null);
        }
      });
    },
    [attempt, onMade, port],
  );
  const stop = useCallback(() => {
    if (running === "generate") void ask(ROUTES.finishMaking, {}, { port }).catch(() => stopper.current?.abort());
    else stopper.current?.abort();
  }, [port, running]);
  const drop = useCallback(
    (ids: readonly string[]) =>
      attempt(async () => {
        await ask(ROUTES.dropCases, { ids: [...ids] }, { port });
        const gone = new Set(ids);
        setMade(
          (before) =>
            before && { ...before, end: { ...before.end, cases: before.end.cases.filter(({ id }) => !gone.has(id)) } },
        );
        onMade();
      }),
    [attempt, onMade, port],
  );
  return { made, running, seconds, problem: refusal, start, stop, drop };
}

function request(
  wanted: MakeWanted,
  at: { readonly port: string; readonly signal: AbortSignal },
): Promise<ExploreView> {
  if (wanted.kind === "record") return ask(ROUTES.record, { command: wanted.command, modules: [] }, at);
  const { modules, seconds, seed, twins } = wanted;
  return ask(ROUTES.generate, { modules: [...modules], seconds, seed, twins }, at);
}
