"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { ErrorRecord } from "@/core/errors";
import { ApiError, call } from "@/ui/api";

/** What we have and what is going on are two things: new data never blanks the old while it loads. */
export type Resource<T> = {
  readonly data: T | null;
  readonly error: ErrorRecord | null;
  readonly loading: boolean;
  readonly reload: () => void;
};

/** Loads a path, again on `reload`; only the newest answer counts. Null loads nothing. */
export function useResource<T>(path: string | null): Resource<T> {
  const [state, setState] = useState<{
    data: T | null;
    error: ErrorRecord | null;
    loading: boolean;
    path: string | null;
  }>({
    data: null,
    error: null,
    loading: path !== null,
    path,
  });
  const [round, setRound] = useState(0);
  const newest = useRef(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new round asks the same path again
  useEffect(() => {
    if (path === null) return;
    const ticket = ++newest.current;
    const stop = new AbortController();
    setState((before) => ({ ...before, loading: true }));
    call<T>(path, { signal: stop.signal }).then(
      (data) => ticket === newest.current && setState({ data, error: null, loading: false, path }),
      (thrown: unknown) => {
        if (ticket !== newest.current || !(thrown instanceof ApiError)) return;
        setState((before) => ({
          data: before.path === path ? before.data : null,
          error: thrown.record,
          loading: false,
          path,
        }));
      },
    );
    return () => stop.abort();
  }, [path, round]);
  const reload = useCallback(() => setRound((before) => before + 1), []);
  return { data: state.data, error: state.error, loading: state.loading, reload };
}
