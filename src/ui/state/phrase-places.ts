/** The places of a phrase as the Phrasebook walks them: by file, with those refused for this time. Pure. */
import type { PhraseView } from "@/api/making-views";

export type Place = PhraseView["places"][number];

/** The fate of a place: its state, or `refused` while the person leaves it out. */
export type PlaceFate = Place["state"] | "refused";

export const placeKey = ({ file, line }: Pick<Place, "file" | "line">): string => `${file}:${line}`;

export const fateOf = (place: Place, refused: ReadonlySet<string>): PlaceFate =>
  place.state === "ready" && refused.has(placeKey(place)) ? "refused" : place.state;

/** Counts by fate, in the order in which they are shown. */
export function countFates(places: readonly Place[], refused: ReadonlySet<string>): [PlaceFate, number][] {
  const counts = new Map<PlaceFate, number>();
  for (const place of places) counts.set(fateOf(place, refused), (counts.get(fateOf(place, refused)) ?? 0) + 1);
  return (["ready", "refused", "open", "conflict", "kept"] as const).flatMap((fate) => {
    const count = counts.get(fate);
    return count === undefined ? [] : [[fate, count] as [PlaceFate, number]];
  });
}

/** Places by file, files in the order in which they come; those that are kept come last. */
export function byFile(places: readonly Place[]): (readonly [string, readonly Place[]])[] {
  const files = new Map<string, Place[]>();
  const sorted = [...places].sort((a, b) => Number(a.state === "kept") - Number(b.state === "kept"));
  for (const place of sorted) files.set(place.file, [...(files.get(place.file) ?? []), place]);
  return [...files];
}

/** The exception that keeps one place: its file and, except for moves, the text of its line. */
export function exceptionFor(
  { id, kind }: Pick<PhraseView, "id" | "kind">,
  { file, before }: Pick<Place, "file" | "before">,
): { readonly phrase: string; readonly file: string; readonly text?: string } {
  const text = before.split("\n")[0]?.trim() ?? "";
  return { phrase: id, file, ...(kind === "file" || text === "" ? {} : { text }) };
}

export const FATE_WORDS: Readonly<Record<PlaceFate, string>> = {
  ready: "will change",
  refused: "left out this time",
  open: "open",
  conflict: "taken by another phrase",
  kept: "kept",
};
