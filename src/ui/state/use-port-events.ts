"use client";
import { useCallback, useEffect, useReducer, useState } from "react";
import { formatError } from "@/core/errors";
import { ApiError, call, portPath } from "@/ui/api";
import { NO_CHECK, type RunningCheck, reduceCheck, type StreamEvent } from "@/ui/state/running-check";

export type PortEvents = RunningCheck & {
  /** False while the connection to the server is lost. */
  readonly connected: boolean;
  readonly refusal: string | null;
  /** `fresh` runs every case, also where an answer is kept. */
  readonly start: (scope?: {
    module?: string;
    caseId?: string;
    twin?: string;
    fresh?: boolean;
    /** The name of an interrupted check that is taken up where it stopped. */
    resume?: string;
  }) => void;
  readonly stop: () => void;
};

/** Follows a port's events, and starts and stops its check; with no port there is nothing to follow. */
export function usePortEvents(id: string | null): PortEvents {
  const [state, dispatch] = useReducer(reduceCheck, NO_CHECK);
  const [connected, setConnected] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  useEffect(() => {
    if (id === null) return;
    dispatch({ type: "another" });
    const source = new EventSource(portPath(id, "events"));
    source.onmessage = (message) => dispatch(JSON.parse(message.data) as StreamEvent); // our own server's events
    source.onopen = () => setConnected(true);
    source.onerror = () => setConnected(false);
    return () => source.close();
  }, [id]);
  const ask = useCallback(
    (method: "POST" | "DELETE", body?: unknown) => {
      setRefusal(null);
      if (id === null) return;
      call(portPath(id, "check"), { method, ...(body === undefined ? {} : { body }) }).catch((thrown: unknown) => {
        if (thrown instanceof ApiError) setRefusal(formatError(thrown.record));
      });
    },
    [id],
  );
  const start = useCallback<PortEvents["start"]>((scope = {}) => ask("POST", scope), [ask]);
  const stop = useCallback(() => ask("DELETE"), [ask]);
  return { ...state, connected, refusal, start, stop };
}
