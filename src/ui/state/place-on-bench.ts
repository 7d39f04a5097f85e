/** A line of a module's pages in an address: `original:src/quays.py:12`. */
import type { PlaceOnBench } from "@/api/views";

/** Returns the text for the address. */
export const placeText = ({ side, file, line }: PlaceOnBench): string => `${side}:${file}:${line}`;

/** Reads what `placeText` wrote; null for anything else. */
export function readPlace(text: string | null | undefined): PlaceOnBench | null {
  const parts = /^(original|twin):(.+):([1-9]\d*)$/.exec(text ?? "");
  if (!parts) return null;
  const [, side, file = "", line] = parts;
  return { side: side === "twin" ? "twin" : "original", file, line: Number(line) };
}

/** Whether a piece of that side holds the line. */
export const holds = (
  piece: { readonly file: string; readonly from: number; readonly to: number } | null,
  { file, line }: PlaceOnBench,
): boolean => piece !== null && piece.file === file && piece.from <= line && line <= piece.to;
