/** Of many answered calls, the few that reach what no other does. */
import { sectionOf } from "@/core/cases/hand-over";
import type { Feature } from "@/core/exploring/features";
import type { CallCase, StepsCase } from "@/core/formats/case-line";

/** A case with what it reaches. */
export type Explored = { readonly item: CallCase | StepsCase; readonly features: readonly Feature[] };

/**
 * Chooses at most `most` of the cases, small ones first and the sections in turn, each for something that neither `reached` nor
 * one chosen before it has. Cases that the later ones made needless are dropped again. Cost: linear in all features, after
 * sorting.
 */
export function chooseCases(explored: readonly Explored[], reached: ReadonlySet<Feature>, most: number): Explored[] {
  const known = new Set(reached);
  const chosen: Explored[] = [];
  for (const entry of inTurn(explored)) {
    if (chosen.length >= most) break;
    if (entry.features.every((feature) => known.has(feature))) continue;
    for (const feature of entry.features) known.add(feature);
    chosen.push(entry);
  }
  return withoutNeedless(chosen, reached);
}

/** From each section one after the other, its smallest first. */
function inTurn(explored: readonly Explored[]): Explored[] {
  const queues = new Map<string, Explored[]>();
  for (const entry of explored) {
    const key = `${entry.item.module}.${sectionOf(entry.item)}`;
    const queue = queues.get(key);
    if (queue) queue.push(entry);
    else queues.set(key, [entry]);
  }
  const sorted = [...queues.values()].map((queue) =>
    queue.map((entry) => ({ entry, size: sizeOf(entry) })).sort((left, right) => left.size - right.size),
  );
  const longest = Math.max(0, ...sorted.map(({ length }) => length));
  return Array.from({ length: longest }, (_, round) => sorted.flatMap((queue) => queue[round]?.entry ?? [])).flat();
}

const sizeOf = ({ item }: Explored): number =>
  JSON.stringify("steps" in item ? item.steps : [item.args, item.kwargs]).length;

function withoutNeedless(chosen: readonly Explored[], reached: ReadonlySet<Feature>): Explored[] {
  const counts = new Map<Feature, number>();
  for (const { features } of chosen)
    for (const feature of new Set(features)) counts.set(feature, (counts.get(feature) ?? 0) + 1);
  const needed = chosen.filter(({ features }) => {
    const own = [...new Set(features)];
    const isNeeded = own.some((feature) => !reached.has(feature) && counts.get(feature) === 1);
    if (!isNeeded) for (const feature of own) counts.set(feature, (counts.get(feature) ?? 0) - 1);
    return isNeeded;
  });
  return needed;
}
