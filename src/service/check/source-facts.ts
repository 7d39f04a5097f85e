/** Detects sources that change during a check, whose answers then belong to no single version. */
import path from "node:path";
import { statNow } from "@/engine/files/tree";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

/** Absolute path → fingerprint of its version. */
export type SourceFacts = ReadonlyMap<string, string>;

/** Cost: one look at each file of the sides. */
export function factsOfSources(open: OpenPort, twins: readonly OpenSide[]): SourceFacts {
  const facts = new Map<string, string>();
  for (const { folder, files } of [open.original, ...twins]) {
    for (const file of files) {
      const full = path.join(folder, file);
      facts.set(full, factsOf(full));
    }
  }
  return facts;
}

/** Files, relative to the port, that have changed. */
export const changedSince = (open: OpenPort, before: SourceFacts): string[] =>
  [...before].flatMap(([file, facts]) => (factsOf(file) === facts ? [] : [path.relative(open.folder, file)]));

function factsOf(file: string): string {
  const found = statNow(file);
  return found ? `${found.ino}:${found.size}:${found.mtimeMs}:${found.ctimeMs}` : "gone";
}
