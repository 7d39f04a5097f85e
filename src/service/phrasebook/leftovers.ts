/** Counts the leftovers of a twin, for the ladder. */
import { type PhraseRun, runPhrases } from "@/service/phrasebook/run-phrases";
import type { OpenPort } from "@/service/port/open-port";

/** Runs the phrasebook and counts as `countLeftovers`; nothing without a phrasebook. */
export const findLeftovers = async (open: OpenPort, twin: string): Promise<Map<string, number>> =>
  open.port.phrasebook.length === 0 ? new Map() : countLeftovers(open, await runPhrases(open, { twin }));

/** Module → places that are ready, open or in conflict, and leftovers; `""` for files of no module. */
export function countLeftovers(open: OpenPort, run: PhraseRun): Map<string, number> {
  const counts = new Map<string, number>();
  const moduleOf = new Map(
    open.modules.flatMap(({ name, twins }) => (twins[run.twin] ?? []).map((file) => [file, name] as const)),
  );
  const places = run.phrases.flatMap(({ occurrences }) => occurrences).filter(({ state }) => state !== "kept");
  for (const { file } of [...places, ...run.leftovers]) {
    const module = moduleOf.get(file) ?? "";
    counts.set(module, (counts.get(module) ?? 0) + 1);
  }
  return counts;
}
