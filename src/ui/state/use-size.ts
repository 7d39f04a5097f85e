"use client";
import { type KeyboardEvent, type PointerEvent, useEffect, useState } from "react";

type Bounds = { readonly words: string; readonly least: number; readonly most: number; readonly start: number };

const STEP = 24;

/** A pane's height in pixels, moved by pointer or arrow keys and kept in this browser. `separator`: for the element between the panes. */
export function useSize(name: string, { words, least, most, start }: Bounds) {
  const key = `side-twin-size-${name}`;
  const [size, setSize] = useState(start);
  useEffect(() => {
    const kept = Number(localStorage.getItem(key));
    if (kept >= least && kept <= most) setSize(kept);
  }, [key, least, most]);
  const set = (wanted: number) => {
    const next = Math.round(Math.max(least, Math.min(most, wanted)));
    setSize(next);
    localStorage.setItem(key, String(next));
  };
  const separator = {
    role: "separator",
    "aria-label": words,
    tabIndex: 0,
    "aria-orientation": "horizontal",
    "aria-valuenow": size,
    "aria-valuemin": least,
    "aria-valuemax": most,
    onKeyDown: (event: KeyboardEvent) => {
      const step = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
      if (step === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      set(size + step);
    },
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      const [from, before] = [event.clientY, size];
      const handle = event.currentTarget;
      const move = (moved: globalThis.PointerEvent) => set(before + from - moved.clientY);
      const end = () => {
        handle.removeEventListener("pointermove", move);
        handle.removeEventListener("pointerup", end);
      };
      handle.addEventListener("pointermove", move);
      handle.addEventListener("pointerup", end);
    },
  } as const;
  return { size, separator };
}
