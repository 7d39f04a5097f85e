"use client";
import { useEffect, useRef, useState } from "react";
import type { useLadder } from "@/ui/state/use-ladder";

const KEY = "side-twin-check-on-save";
/** Default maximum number of cases of a module that is checked when a file is saved. */
const MAX_CASES = 300;

type Terms = {
  readonly cases: number;
  /** How often files were saved since the screen was loaded. */
  readonly saves: number;
  /** Whether the module's verdicts are of older code. */
  readonly isStale: boolean;
  readonly isRunning: boolean;
  readonly check: () => void;
};

/** Checks the module again when a save made its verdicts stale; once a save, so that what cannot run is not run again and again. */
export function useCheckOnSave({ cases, saves, isStale, isRunning, check }: Terms): {
  readonly isOn: boolean;
  readonly toggle: () => void;
} {
  const [chosen, setChosen] = useState<boolean | null>(null);
  useEffect(() => {
    const kept = localStorage.getItem(KEY);
    if (kept !== null) setChosen(kept === "on");
  }, []);
  const isOn = chosen ?? (cases > 0 && cases <= MAX_CASES);
  const handled = useRef(0);
  useEffect(() => {
    if (!isOn || isRunning || !isStale || saves === handled.current) return;
    handled.current = saves;
    check();
  }, [isOn, isRunning, isStale, saves, check]);
  const toggle = () => {
    localStorage.setItem(KEY, isOn ? "off" : "on");
    setChosen(!isOn);
  };
  return { isOn, toggle };
}

/** Checks of the ladder that take longer are left to a key. */
const MAX_DIAGNOSE_SECONDS = 10;

/** Runs the checks of the ladder again when a save made their complaints stale, where the last run was quick. */
export function useDiagnoseOnSave({
  isOn,
  saves,
  ladder: { view, building, start },
}: {
  readonly isOn: boolean;
  readonly saves: number;
  readonly ladder: Pick<ReturnType<typeof useLadder>, "view" | "building" | "start">;
}): void {
  const handled = useRef(0);
  const isDue = view?.diagnosed?.isStale === true && view.diagnosed.seconds <= MAX_DIAGNOSE_SECONDS;
  useEffect(() => {
    if (!isOn || building || !isDue || saves === handled.current) return;
    handled.current = saves;
    start();
  }, [isOn, building, isDue, saves, start]);
}
