/** Pairs made by hand for one module and twin: the port file's `pairs`. */
import type { PortFile } from "@/core/formats/port-file";

/** The manual pairs of one module and twin. */
export type ManualPairs = {
  /** Original → twin; null if dropped. */
  readonly pairs: ReadonlyMap<string, string | null>;
  /** Original → why it is dropped; empty without a note. */
  readonly dropped: ReadonlyMap<string, string>;
  /** Sections of the twin that are new. */
  readonly isNew: ReadonlySet<string>;
};

/** Collects the manual pairs of one module and twin from the port file. Linear in the pairs. */
export function manualPairsOf(pairs: PortFile["pairs"], module: string, twin: string): ManualPairs {
  const prefix = `${module}.`;
  const own = (name: string | null) => (name?.startsWith(prefix) ? name.slice(prefix.length) : null);
  const manual = {
    pairs: new Map<string, string | null>(),
    dropped: new Map<string, string>(),
    isNew: new Set<string>(),
  };
  for (const { original, twin: other, on, note } of pairs) {
    if (on !== undefined && on !== twin) continue;
    const [mine, theirs] = [own(original), own(other)];
    if (mine !== null) {
      // The twin's section may be in another module.
      manual.pairs.set(mine, other === null ? null : (theirs ?? other.replace(/^[^.]+\./, "")));
      if (other === null) manual.dropped.set(mine, note ?? "");
    } else if (original === null && theirs !== null) manual.isNew.add(theirs);
  }
  return manual;
}
