/** Text search through the modules of both sides. No I/O: the sources are those of the last reading. */
import type { SearchView } from "@/api/views";
import { findText } from "@/core/source/find-text";
import type { PortFacts } from "@/service/views/port-facts";

const MAX_HITS = 100;

/** Returns the first hundred lines of both sides, module by module. Cost: linear in the text of both sides. */
export function searchView({ reading, twin }: PortFacts, words: string): SearchView {
  const hits: SearchView["hits"][number][] = [];
  for (const { name: module, originalSources, twinSources } of reading.modules) {
    for (const [side, sources] of [
      ["original", originalSources],
      ["twin", twinSources[twin] ?? []],
    ] as const) {
      // One more than is shown reveals that there are more.
      const found = findText(sources, words, MAX_HITS + 1 - hits.length);
      hits.push(...found.map((hit) => ({ module, side, ...hit })));
      if (hits.length > MAX_HITS) return { hits: hits.slice(0, MAX_HITS), isCut: true };
    }
  }
  return { hits, isCut: false };
}
