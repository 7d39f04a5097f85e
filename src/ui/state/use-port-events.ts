"use client";
import { type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useReducer, useState } from "react";
import { type PortEvent, parsePortEvent } from "@/api/port-event";
import { urlOf } from "@/api/route";
import { PATHS, ROUTES } from "@/api/routes";
import { ask, describeRefusal } from "@/ui/api";
import { changesViews, NO_CHECK, type RunningCheck, reduceCheck } from "@/ui/state/running-check";
import { viewKey } from "@/ui/state/use-view";

/** Scope of a check; see the route. */
export type CheckScope = {
  readonly module?: string;
  readonly caseId?: string;
  readonly twin?: string;
  readonly fresh?: boolean;
  readonly resume?: string;
  /** Takes its turn after a check that runs. */
  readonly patient?: boolean;
};

/** The state of a port's check, with actions. */
export type PortEvents = RunningCheck & {
  /** False while the connection to the server is lost, null before there is one. */
  readonly connected: boolean | null;
  readonly refusal: string | null;
  readonly start: (scope?: CheckScope) => void;
  readonly stop: () => void;
};

/** While a check runs, counts on the Order are loaded again at most this often. */
const REFRESH_MS = 2000;

/** Follows a port's events, reloads the views that they change, and starts and stops its check. Null follows nothing. */
export function usePortEvents(id: string | null): PortEvents {
  const client = useQueryClient();
  const [state, dispatch] = useReducer(reduceCheck, NO_CHECK);
  const [connected, setConnected] = useState<boolean | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  useEffect(() => {
    if (id === null) return;
    dispatch({ type: "another" });
    const source = new EventSource(urlOf(PATHS.events, id));
    const refresh = createRefresh(client, id);
    source.onmessage = (message) => {
      const event = parsePortEvent(message.data);
      if (!event) return;
      dispatch(event);
      refresh(event);
    };
    source.onopen = () => setConnected(true);
    source.onerror = () => setConnected(false);
    return () => source.close();
  }, [id, client]);
  const follow = useCallback((work: Promise<void>) => {
    setRefusal(null);
    work.catch((thrown: unknown) => setRefusal(describeRefusal(thrown)));
  }, []);
  const start = useCallback<PortEvents["start"]>(
    (scope = {}) => {
      if (id !== null) follow(ask(ROUTES.startCheck, scope, { port: id }));
    },
    [id, follow],
  );
  const stop = useCallback(() => {
    if (id !== null) follow(ask(ROUTES.stopCheck, {}, { port: id }));
  }, [id, follow]);
  return { ...state, connected, refusal, start, stop };
}

/** Marks what an event changed as out of date: every view of the port, or during a check its counts now and then. */
function createRefresh(client: QueryClient, id: string): (event: PortEvent) => void {
  let greeted = false;
  let refreshed = 0;
  return (event) => {
    const isFirst = event.type === "hello" && !greeted;
    greeted = true;
    if (changesViews(event) && !isFirst) {
      void client.invalidateQueries({ queryKey: [id] });
      void client.invalidateQueries({ queryKey: viewKey("", ROUTES.ports.path) });
    } else if (event.type === "verdicts" && Date.now() - refreshed > REFRESH_MS) {
      refreshed = Date.now();
      void client.invalidateQueries({ queryKey: viewKey(id, ROUTES.order.path).slice(0, 2) });
      void client.invalidateQueries({ queryKey: viewKey("", ROUTES.ports.path) });
    }
  };
}
