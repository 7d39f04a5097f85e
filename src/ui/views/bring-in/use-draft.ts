"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { EffectView, FoundView } from "@/api/bring-in-views";
import { ROUTES } from "@/api/routes";
import type { Draft } from "@/core/bring-in/draft";
import type { ErrorRecord } from "@/core/errors";
import { ApiError, ask, recordOf } from "@/ui/api";

/** A draft with its effect and edits. */
export type DraftState = {
  readonly draft: Draft;
  readonly effect: EffectView | null;
  /** Why the draft is not a valid port. */
  readonly problem: ErrorRecord | null;
  readonly change: (part: Partial<Draft>) => void;
  /** A change from which others follow: languages decide commands, names and the moduleMap. */
  readonly follow: (part: Partial<Draft>) => void;
};

const SETTLE_MS = 200;

/** Fields derived from the languages and the twin's folder until a person edits them. */
const FOLLOWING = ["prepare", "run", "functions", "keys", "moduleMap"] as const;

/** A draft being edited; its effect is recomputed shortly after each change. */
export function useDraft(found: FoundView): DraftState {
  const [draft, setDraft] = useState(found.draft);
  const [effect, setEffect] = useState<EffectView | null>(null);
  const [problem, setProblem] = useState<ErrorRecord | null>(null);
  const { token } = found;
  useEffect(() => {
    const stop = new AbortController();
    const timer = setTimeout(() => {
      ask(ROUTES.draftEffect, { token, draft }, { signal: stop.signal }).then(
        (made) => {
          setEffect(made);
          setProblem(null);
        },
        (thrown: unknown) => {
          if (thrown instanceof ApiError) setProblem(thrown.record);
        },
      );
    }, SETTLE_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [token, draft]);
  const corrected = useRef(new Set<string>());
  const change = useCallback((part: Partial<Draft>) => {
    for (const name of Object.keys(part)) corrected.current.add(name);
    setDraft((before) => ({ ...before, ...part }));
  }, []);
  const newest = useRef(0);
  const follow = useCallback(
    (part: Partial<Draft>) => {
      const ticket = ++newest.current;
      const wanted = { ...draft, ...part };
      setDraft(wanted);
      ask(ROUTES.adaptDraft, { token, draft: wanted }).then(
        (adapted) => {
          if (ticket !== newest.current) return;
          // Fields edited by a person keep their values.
          const taken = FOLLOWING.filter((name) => !corrected.current.has(name)).map((name) => [name, adapted[name]]);
          setDraft((before) => ({ ...before, ...Object.fromEntries(taken) }));
        },
        (thrown: unknown) => setProblem(recordOf(thrown)),
      );
    },
    [token, draft],
  );
  return { draft, effect, problem, change, follow };
}
