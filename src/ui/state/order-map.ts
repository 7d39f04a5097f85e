/** The map of the Order: modules in layers, what lights up around the chosen one, and walking along what needs what. Pure. */

import type { ModuleView, OrderView } from "@/api/views";
import { isDone } from "@/core/progress/done";

/** How close the map is looked at: bars with words, names with short bars, or bars alone. */
export type Zoom = 0 | 1 | 2;
/** Zoom levels of the Order, closest first. */
export const ZOOMS = ["bars", "names", "marks"] as const;

/** Reads the name of a zoom; null for any other text. */
export function readZoom(name: string | null): Zoom | null {
  const names: readonly (string | null)[] = ZOOMS;
  const at = names.indexOf(name);
  return at === 0 || at === 1 || at === 2 ? at : null;
}

/** The closest zoom at which a port of this size is still seen as a whole. */
export const zoomFor = (modules: number): Zoom => (modules <= 48 ? 0 : modules <= 260 ? 1 : 2);

/** Groups a dependency cycle; every other module is a group of its own. */
export type Group = { readonly knot: OrderView["knots"][number] | null; readonly modules: readonly ModuleView[] };

/** Layers from the top, each in groups: what depends on nothing is the last. */
export function layersOf({ modules, knots }: Pick<OrderView, "modules" | "knots">): Group[][] {
  const knotOf = new Map(knots.flatMap((knot) => knot.members.map((name) => [name, knot] as const)));
  const layers: Map<OrderView["knots"][number] | ModuleView, Group>[] = [];
  for (const module of modules) {
    layers[module.layer] ??= new Map();
    const layer = layers[module.layer];
    const knot = knotOf.get(module.name) ?? null;
    const before = layer?.get(knot ?? module);
    layer?.set(knot ?? module, { knot, modules: [...(before?.modules ?? []), module] });
  }
  return layers
    .filter(Boolean)
    .map((layer) => [...layer.values()])
    .reverse();
}

/** `needed` and `waits` are one step away; what lies beyond is `below` and `above`. */
export type Relation = "chosen" | "needed" | "below" | "waits" | "above" | "other";

/** The whole path of a module, down to what needs nothing and up to the finished product. Cost: linear in the needs. */
export function relationsOf(modules: readonly ModuleView[], chosen: ModuleView): Map<string, Relation> {
  const byName = new Map(modules.map((module) => [module.name, module]));
  const found = new Map<string, Relation>([[chosen.name, "chosen"]]);
  const walk = (next: (module: ModuleView) => readonly string[], near: Relation, far: Relation) => {
    const queue = next(chosen).map((name) => ({ name, relation: near }));
    for (let item = queue.shift(); item; item = queue.shift()) {
      if (found.has(item.name)) continue;
      found.set(item.name, item.relation);
      const module = byName.get(item.name);
      for (const name of module ? next(module) : []) queue.push({ name, relation: far });
    }
  };
  walk(({ needs }) => needs, "needed", "below");
  walk(({ neededBy }) => neededBy, "waits", "above");
  return found;
}

/** One step on the map: rows up or down, columns to the side. */
export function neighbour(
  layers: readonly (readonly Group[])[],
  from: ModuleView,
  rows: number,
  columns: number,
): ModuleView {
  const flat = layers.map((layer) => layer.flatMap(({ modules }) => modules));
  const row = flat.findIndex((layer) => layer.includes(from));
  const column = flat[row]?.indexOf(from) ?? 0;
  const next = flat[Math.max(0, Math.min(flat.length - 1, row + rows))] ?? [];
  return next[Math.max(0, Math.min(next.length - 1, column + columns))] ?? from;
}

/** A walk along what needs what: where it came from, to which side, and which of several is looked at. */
export type Walk = { readonly from: string; readonly side: "needs" | "neededBy"; readonly at: number } | null;

/** A step down to what the module needs or up to what rests on it; the same key again looks at the next of them. */
export function walkAlong(
  modules: readonly ModuleView[],
  chosen: ModuleView,
  { walk, side }: { readonly walk: Walk; readonly side: "needs" | "neededBy" },
): { readonly walk: Walk; readonly chosen: string } {
  const byName = new Map(modules.map((module) => [module.name, module]));
  const before = walk && byName.get(walk.from);
  const isAgain = before && walk.side === side && before[side][walk.at] === chosen.name && before[side].length > 1;
  const from = isAgain ? before : chosen;
  const at = isAgain ? (walk.at + 1) % before[side].length : 0;
  const next = from[side][at];
  return next === undefined
    ? { walk: null, chosen: chosen.name }
    : { walk: { from: from.name, side, at }, chosen: next };
}

/** The modules that a module waits for. */
export const waitsFor = (module: ModuleView, modules: readonly ModuleView[]): string[] =>
  modules.filter((other) => module.needs.includes(other.name) && !isDone(other)).map(({ name }) => name);

/** Describes which imports to cut to break a dependency cycle. */
export function untieWords({ untie }: OrderView["knots"][number]): string {
  const cuts = untie.imports.map(({ from, to }) => `${from} → ${to}`);
  const count = `${cuts.length} import${cuts.length === 1 ? "" : "s"}`;
  return `import cycle: cut ${cuts.slice(0, 3).join(", ")}${cuts.length > 3 ? ", …" : ""}, ${count}${untie.isLeast ? "" : " as far as was tried"}`;
}
