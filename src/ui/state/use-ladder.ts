"use client";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
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
  readonly refusal: ErrorRecord | null;
  readonly build: () => void;
} {
  const client = useQueryClient();
  const { data } = useView(ROUTES.ladder, twin === null ? null : { twin }, id);
  const { attempt, busy, refusal } = useAsk();
  const hasRungs = (data?.rungs.length ?? 0) > 0;
  const build = useCallback(() => {
    if (twin === null || busy || !hasRungs) return;
    attempt(async () => {
      const view = await ask(ROUTES.diagnose, { twin }, { port: id });
      client.setQueryData(viewKey(id, ROUTES.ladder.path, { twin }), view);
    });
  }, [attempt, busy, client, hasRungs, id, twin]);
  return { view: data, building: busy, refusal, build };
}
