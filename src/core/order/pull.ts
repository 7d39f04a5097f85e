/** What somebody who needs a module soon has to port: the fewest modules, in the order in which they can be done. */
import type { ModuleNeeds } from "@/core/order/layers";

export type Pull = {
  /** What is wanted and all that it needs, as far as it is not done; what is needed comes first. */
  readonly modules: readonly string[];
  readonly lines: number;
};

/**
 * `layer` orders the modules; `isDone` says of which nothing is left to do; `lines` are the lines that are left of one.
 * A module that is done holds up nothing below it: what it needs in turn is not looked at. Cost: linear in the needs.
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
