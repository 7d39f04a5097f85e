"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import type { LadderView } from "@/api/making-views";
import { ROUTES } from "@/api/routes";
import type { ErrorRecord } from "@/core/errors";
import { ask } from "@/ui/api";
import { useAsk } from "@/ui/state/use-ask";
import { useView, viewKey } from "@/ui/state/use-view";

/** The ladder of a twin, and how to run its checks. Null without a twin, and while it loads. */
export function useLadder(
  id: string,
  twin: string | null,
): {
  readonly view: LadderView | null;
  readonly building: boolean;
  /** Why the ladder could not be loaded, or its checks could not run. */
  readonly problem: ErrorRecord | null;
  /** Starts the checks for a save or another act; does nothing while they run. */
  readonly start: () => void;
  /** Starts the checks, or stops those that were asked for. Those that a save started go on: they are what is wanted. */
  readonly toggle: () => void;
} {
  const client = useQueryClient();
  const { data, error } = useView(ROUTES.ladder, twin === null ? null : { twin }, id);
  const { attempt, busy, refusal } = useAsk();
  const stopper = useRef<AbortController | null>(null);
  const hasRungs = (data?.rungs.length ?? 0) > 0;
  const start = useCallback(() => {
    if (busy || twin === null || !hasRungs) return;
    const controller = new AbortController();
    stopper.current = controller;
    attempt(async () => {
      try {
        const view = await ask(ROUTES.diagnose, { twin }, { port: id, signal: controller.signal });
        client.setQueryData(viewKey(id, ROUTES.ladder.path, { twin }), view);
        void client.invalidateQueries({ queryKey: viewKey(id, ROUTES.counts.path).slice(0, 2) });
      } catch (thrown) {
        // A person's stop is not a refusal.
        if (!controller.signal.aborted) throw thrown;
      }
    });
  }, [attempt, busy, client, hasRungs, id, twin]);
  const isAskedFor = useRef(false);
  const toggle = useCallback(() => {
    if (busy && isAskedFor.current) stopper.current?.abort();
    isAskedFor.current = true;
    if (!busy) start();
  }, [busy, start]);
  useEffect(() => {
    if (!busy) isAskedFor.current = false;
  }, [busy]);
  return { view: data, building: busy, problem: refusal ?? error, start, toggle };
}
