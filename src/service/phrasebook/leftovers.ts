/** What is left of the old way on a twin, for the ladder. */

import { runPhrases } from "@/service/phrasebook/run-phrases";
import type { OpenPort } from "@/service/port/open-port";

/** Module → places that are ready, open or in conflict, and leftovers; `""` for files of no module. */
export async function findLeftovers(open: OpenPort, twin: string): Promise<Map<string, number>> {
  const counts = new Map<string, number>();
  if (open.port.phrasebook.length === 0) return counts;
  const run = await runPhrases(open, { twin });
  const moduleOf = new Map(
    open.modules.flatMap(({ name, twins }) => (twins[twin] ?? []).map((file) => [file, name] as const)),
  );
  const places = run.phrases.flatMap(({ occurrences }) => occurrences).filter(({ state }) => state !== "kept");
  for (const { file } of [...places, ...run.leftovers]) {
    const module = moduleOf.get(file) ?? "";
    counts.set(module, (counts.get(module) ?? 0) + 1);
  }
  return counts;
}
