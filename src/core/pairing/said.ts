/** What a person says of the sections of one module: the port file's `pairs`, for one twin. */
import type { PortFile } from "@/core/formats/port-file";

export type Said = {
  /** Original → twin; null for what is dropped. */
  readonly pairs: ReadonlyMap<string, string | null>;
  /** Original → why it is dropped; empty where nobody said. */
  readonly dropped: ReadonlyMap<string, string>;
  /** Sections of the twin that are new. */
  readonly isNew: ReadonlySet<string>;
};

/** Cost: linear in what is said. */
export function saidOf(pairs: PortFile["pairs"], module: string, twin: string): Said {
  const prefix = `${module}.`;
  const own = (name: string | null) => (name?.startsWith(prefix) ? name.slice(prefix.length) : null);
  const said = {
    pairs: new Map<string, string | null>(),
    dropped: new Map<string, string>(),
    isNew: new Set<string>(),
  };
  for (const { original, twin: other, on, note } of pairs) {
    if (on !== undefined && on !== twin) continue;
    const [mine, theirs] = [own(original), own(other)];
    if (mine !== null) {
      // The twin's section may stand in another module.
      said.pairs.set(mine, other === null ? null : (theirs ?? other.replace(/^[^.]+\./, "")));
      if (other === null) said.dropped.set(mine, note ?? "");
    } else if (original === null && theirs !== null) said.isNew.add(theirs);
  }
  return said;
}
