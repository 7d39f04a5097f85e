"use client";
import { useEffect } from "react";

/**
 * Keeps the selection in the address, without a step in the history, so that a reload, Back and a shared link lead to the same place.
 * Null and empty values are removed from the address.
 */
export function useAddress(values: Values): void {
  const text = JSON.stringify(values);
  useEffect(() => setAddress(JSON.parse(text) as Values), [text]);
}

/** Writes values into the address at once; see `useAddress`. */
export function setAddress(values: Values): void {
  const url = new URL(window.location.href);
  for (const [key, value] of Object.entries(values)) {
    if (value === null || value === "") url.searchParams.delete(key);
    else url.searchParams.set(key, value);
  }
  if (url.href !== window.location.href) window.history.replaceState(window.history.state, "", url);
}

type Values = Readonly<Record<string, string | null>>;
