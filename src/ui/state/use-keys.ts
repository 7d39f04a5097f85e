"use client";
import { useLayoutEffect, useRef } from "react";

/** A key with its meaning. */
export type Key = {
  readonly key: string;
  readonly shows?: string;
  readonly does: string;
  /** Omitted if a part of the view handles the key and the view only lists it. */
  readonly run?: () => void;
};

const LETTERS_OFF = "side-twin-letters-off";

/** Whether single letters and signs act: some people type or speak where a slip must write nothing. */
export const hasLetterKeys = (): boolean => localStorage.getItem(LETTERS_OFF) === null;

/** Kept in this browser. */
export function setLetterKeys(on: boolean): void {
  if (on) localStorage.removeItem(LETTERS_OFF);
  else localStorage.setItem(LETTERS_OFF, "yes");
}

/** Keys of a view. They rest while a person types, holds a modifier, or a dialog is open. */
export function useKeys(keys: readonly Key[]): void {
  const current = useRef(keys);
  current.current = keys;
  // Before anybody sees the view: a key that is pressed as it appears must not be lost.
  useLayoutEffect(() => {
    const press = (event: KeyboardEvent) => {
      const { target } = event;
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      if (
        target instanceof HTMLElement &&
        (target.closest("input, textarea, select, [role=dialog]") || target.isContentEditable)
      )
        return;
      // A focused button or link keeps the keys that work it.
      if (
        target instanceof HTMLElement &&
        target.closest("button, a, summary, [role=menuitem]") &&
        (event.key === "Enter" || event.key === " ")
      )
        return;
      if (event.key.length === 1 && event.key !== "?" && !hasLetterKeys()) return;
      const found = current.current.find((entry) => entry.key === event.key);
      if (!found?.run) return;
      event.preventDefault();
      found.run();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
