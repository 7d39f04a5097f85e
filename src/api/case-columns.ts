/** The list of all cases in the form in which it is sent: columns, as most cases share all but their name. */
import type { CaseListing, Mark } from "@/api/case-listing";

/** Cases by column, each distinct combination of shared values stored once: a tenth of the size of records. */
export type CaseColumns = {
  readonly ids: readonly string[];
  /** Values shared by several cases, and for each case the index of its value. */
  readonly shared: readonly Omit<CaseListing, "id">[];
  readonly places: readonly number[];
};

/** Cost: linear. */
export function toColumns(cases: readonly CaseListing[]): CaseColumns {
  const shared: Omit<CaseListing, "id">[] = [];
  // Nested maps instead of a joined key: a text for each of a hundred thousand cases would take most of the time.
  const places = new Map<string | null, Map<string, Map<Mark, Map<string | null, [number, number]>>>>();
  const placeOf = ({ module, section, mark, from, stale }: CaseListing): number => {
    const bySection = ensure(places, module, () => new Map<string, Map<Mark, Map<string | null, [number, number]>>>());
    const byMark = ensure(bySection, section, () => new Map<Mark, Map<string | null, [number, number]>>());
    const byFrom = ensure(byMark, mark, () => new Map<string | null, [number, number]>());
    const pair = ensure(byFrom, from, (): [number, number] => [-1, -1]);
    const known = pair[stale ? 1 : 0];
    if (known >= 0) return known;
    shared.push({ module, section, mark, from, stale });
    pair[stale ? 1 : 0] = shared.length - 1;
    return shared.length - 1;
  };
  return { ids: cases.map(({ id }) => id), places: cases.map(placeOf), shared };
}

/** Restores the records. Linear in the cases. */
export function fromColumns({ ids, shared, places }: CaseColumns): CaseListing[] {
  return ids.map((id, index) => ({ id, ...(shared[places[index] ?? 0] as Omit<CaseListing, "id">) })); // columns are of one length
}

function ensure<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}
