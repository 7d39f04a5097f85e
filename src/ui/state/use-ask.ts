"use client";
import { useCallback, useState } from "react";
import type { ErrorRecord } from "@/core/errors";
import { recordOf } from "@/ui/api";

/** State of a request made by a click: whether it is pending, and why it was refused. */
export function useAsk(): {
  readonly attempt: (work: () => Promise<void>) => void;
  readonly busy: boolean;
  readonly refusal: ErrorRecord | null;
  /** Takes a refusal off the screen: something else is wanted now. */
  readonly clear: () => void;
} {
  const [busy, setBusy] = useState(false);
  const [refusal, setRefusal] = useState<ErrorRecord | null>(null);
  const attempt = useCallback((work: () => Promise<void>) => {
    setBusy(true);
    setRefusal(null);
    work().then(
      () => setBusy(false),
      (thrown: unknown) => {
        setBusy(false);
        setRefusal(recordOf(thrown));
      },
    );
  }, []);
  const clear = useCallback(() => setRefusal(null), []);
  return { attempt, busy, refusal, clear };
}
