/**
 * Finds the fewest imports to cut so that no dependency cycle is left. For small cycles every set is tried, smallest
 * first; larger ones are ordered so that few imports point backwards (Eades, Lin and Smyth, "A fast and effective
 * heuristic for the feedback arc set problem", 1993), which is near the minimum and is marked as such.
 */

/** Imports to cut; `isLeast` if no smaller set exists. */
export type Untie = {
  readonly imports: readonly { readonly from: string; readonly to: string }[];
  /** True where no smaller set would do. */
  readonly isLeast: boolean;
};

type Edge = readonly [string, string];

/** At most this many sets are tried. */
const MAX_SETS = 20_000;

/** `needs` of the members of one dependency cycle; imports to other modules are ignored. */
export function findUntie(knot: readonly string[], needs: ReadonlyMap<string, readonly string[]>): Untie {
  const members = new Set(knot);
  const edges = knot.flatMap((from) =>
    (needs.get(from) ?? []).filter((to) => members.has(to) && to !== from).map((to): Edge => [from, to]),
  );
  const bound = backwardEdges(knot, edges);
  for (let size = 1; size < bound.length; size++) {
    if (combinations(edges.length, size) * edges.length > MAX_SETS * 20)
      return { imports: bound.map(toImport), isLeast: false };
    const found = firstSet(edges, size, (cut) => isFree(knot, edges, cut));
    if (found) return { imports: found.map(toImport), isLeast: true };
  }
  return { imports: bound.map(toImport), isLeast: true };
}

const toImport = ([from, to]: Edge) => ({ from, to });

/** The order by the heuristic, and the edges that point back in it. Cost: members squared, and the edges. */
function backwardEdges(knot: readonly string[], edges: readonly Edge[]): Edge[] {
  const left = new Map(knot.map((name) => [name, { out: 0, into: 0 }]));
  const count = (name: string, end: "out" | "into", step: number) => {
    const degree = left.get(name);
    if (degree) degree[end] += step;
  };
  const touching = new Map(knot.map((name) => [name, [] as Edge[]]));
  for (const edge of edges) {
    count(edge[0], "out", 1);
    count(edge[1], "into", 1);
    for (const name of edge) touching.get(name)?.push(edge);
  }
  const [first, last]: [string[], string[]] = [[], []];
  while (left.size > 0) {
    let chosen: { readonly name: string; readonly isSink: boolean; readonly weight: number } | null = null;
    for (const [name, { out, into }] of left) {
      const weight = out === 0 || into === 0 ? Number.POSITIVE_INFINITY : out - into;
      if (!chosen || weight > chosen.weight) chosen = { name, isSink: out === 0, weight };
      if (weight === Number.POSITIVE_INFINITY) break;
    }
    if (!chosen) break;
    left.delete(chosen.name);
    for (const [from, to] of touching.get(chosen.name) ?? []) {
      if (from === chosen.name) count(to, "into", -1);
      else count(from, "out", -1);
    }
    if (chosen.isSink) last.unshift(chosen.name);
    else first.push(chosen.name);
  }
  const place = new Map([...first, ...last].map((name, index) => [name, index]));
  return edges.filter(([from, to]) => (place.get(from) ?? 0) > (place.get(to) ?? 0));
}

function combinations(of: number, size: number): number {
  let count = 1;
  for (let step = 0; step < size; step++) count = (count * (of - step)) / (step + 1);
  return count;
}

function firstSet(edges: readonly Edge[], size: number, holds: (cut: ReadonlySet<Edge>) => boolean): Edge[] | null {
  const chosen: Edge[] = [];
  const walk = (from: number): Edge[] | null => {
    if (chosen.length === size) return holds(new Set(chosen)) ? [...chosen] : null;
    for (let at = from; at <= edges.length - (size - chosen.length); at++) {
      const edge = edges[at];
      if (!edge) continue;
      chosen.push(edge);
      const found = walk(at + 1);
      if (found) return found;
      chosen.pop();
    }
    return null;
  };
  return walk(0);
}

/** Whether no cycle is left without these edges: repeatedly removes members without imports. */
function isFree(knot: readonly string[], edges: readonly Edge[], cut: ReadonlySet<Edge>): boolean {
  const left = new Set(knot);
  for (let gone = true; gone; ) {
    gone = false;
    for (const name of left) {
      if (edges.some((edge) => !cut.has(edge) && edge[0] === name && left.has(edge[1]))) continue;
      left.delete(name);
      gone = true;
    }
  }
  return left.size === 0;
}
