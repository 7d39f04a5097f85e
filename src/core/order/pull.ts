/** The fewest modules to port for a wanted one, in a possible order. */
import type { ModuleNeeds } from "@/core/order/layers";

/** Modules to port for the pinned ones, in order, with the lines left. */
export type Pull = {
  /** Wanted modules and all that they need, except finished ones; needed ones come first. */
  readonly modules: readonly string[];
  readonly lines: number;
};

/**
 * `layer` orders the modules; `isDone` is true of finished ones; `lines` are the lines left to port. Needs of finished
 * modules are ignored. Linear in the needs.
 */
export function findPull(
  wanted: Iterable<string>,
  graph: {
    readonly needs: ModuleNeeds;
    readonly layer: (module: string) => number;
    readonly isDone: (module: string) => boolean;
    readonly lines: (module: string) => number;
  },
): Pull {
  const found = new Set<string>();
  const queue = [...wanted].filter((name) => graph.needs.has(name));
  for (let name = queue.pop(); name !== undefined; name = queue.pop()) {
    if (found.has(name) || graph.isDone(name)) continue;
    found.add(name);
    queue.push(...(graph.needs.get(name) ?? []).filter((need) => graph.needs.has(need)));
  }
  const modules = [...found].sort((one, other) => graph.layer(one) - graph.layer(other) || (one < other ? -1 : 1));
  return { modules, lines: modules.reduce((sum, name) => sum + graph.lines(name), 0) };
}
