/** Grid of modules against what they use: libraries and platform-bound items, with counts. */
import type { Way } from "@/core/formats/ways";
import type { Place } from "@/core/survey/file-facts";
import { fits, type SnagKind } from "@/core/survey/snags/snag";
import type { Survey } from "@/core/survey/survey";

/** A person's decision about a column; with a pattern it defines a snag of their own. */
export type SnagChoice = {
  readonly name: string;
  /** Matches `package.name` of a use; a trailing `*` matches any rest. */
  readonly match?: string | undefined;
  readonly way?: Way | undefined;
  readonly note?: string | undefined;
};

/** A library or platform-bound item. */
export type GridColumn = {
  readonly name: string;
  /** Null for a library that nothing binds to the old platform, as far as is known. */
  readonly snag: { readonly kind: SnagKind | "own"; readonly title: string; readonly why: string } | null;
  readonly uses: number;
  readonly modules: number;
  /** Uses in modules that are not ported yet. */
  readonly left: number;
  readonly way: Way | null;
  readonly note: string | null;
};

/** The uses of a column in a module. */
export type GridCell = { readonly module: string; readonly column: string; readonly uses: number };

/** The grid of modules and what they use. */
export type UsesGrid = { readonly columns: readonly GridColumn[]; readonly cells: readonly GridCell[] };

type Entry = { readonly name: string; readonly snag: GridColumn["snag"]; readonly places: readonly Place[] };

type Terms = {
  /** File → its module; files of no module are left out. */
  readonly moduleOf: ReadonlyMap<string, string>;
  /** Modules whose twin agrees, is proven, or which were left out. */
  readonly done: ReadonlySet<string>;
  readonly choices: readonly SnagChoice[];
};

/** Snags first, then the rest, each by the number of uses. Cost: linear in the uses, times the choices with a pattern. */
export function makeUsesGrid(survey: Pick<Survey, "outside" | "snags">, { moduleOf, done, choices }: Terms): UsesGrid {
  const columns: GridColumn[] = [];
  const cells: GridCell[] = [];
  for (const { name, snag, places } of columnPlaces(survey, choices)) {
    const counts = new Map<string, number>();
    for (const { file } of places) {
      const module = moduleOf.get(file);
      if (module !== undefined) counts.set(module, (counts.get(module) ?? 0) + 1);
    }
    if (counts.size === 0) continue;
    const choice = choices.find((entry) => entry.name === name);
    const sum = (of: Iterable<readonly [string, number]>) => [...of].reduce((total, [, uses]) => total + uses, 0);
    columns.push({
      name,
      snag,
      uses: sum(counts),
      modules: counts.size,
      left: sum([...counts].filter(([module]) => !done.has(module))),
      way: choice?.way ?? null,
      note: choice?.note ?? null,
    });
    for (const [module, uses] of counts) cells.push({ module, column: name, uses });
  }
  const rank = (column: GridColumn) => (column.snag ? 0 : 1);
  columns.sort((one, other) => rank(one) - rank(other) || other.uses - one.uses || (one.name < other.name ? -1 : 1));
  return { columns, cells };
}

/** Returns the places of one column; empty if there is no such column. */
export const placesOf = (
  survey: Pick<Survey, "outside" | "snags">,
  choices: readonly SnagChoice[],
  name: string,
): readonly Place[] => columnPlaces(survey, choices).find((entry) => entry.name === name)?.places ?? [];

/** Libraries are columns by name; the language's own facilities by kind. */
function columnPlaces({ outside, snags }: Pick<Survey, "outside" | "snags">, choices: readonly SnagChoice[]): Entry[] {
  const columns = new Map<string, { snag: GridColumn["snag"]; places: Place[] }>();
  const column = (name: string) => {
    const known = columns.get(name) ?? { snag: null, places: [] };
    columns.set(name, known);
    return known;
  };
  for (const { package: name, uses } of outside) column(name).places.push(...uses);
  for (const { kind, title, why, name, uses } of snags) {
    const owner = outside.find((entry) => name === entry.package || name === `${entry.package}.${entry.name}`);
    const target = column(owner ? owner.package : title);
    target.snag ??= { kind, title, why };
    if (!owner) target.places.push(...uses);
  }
  for (const { name, match } of choices) {
    if (match === undefined) continue;
    const target = column(name);
    target.snag = { kind: "own", title: "A snag of your own", why: `what matches ${match}` };
    target.places = outside.flatMap((entry) =>
      fits(`${entry.package}.${entry.name}`, match) || fits(entry.package, match) ? entry.uses : [],
    );
  }
  return [...columns].map(([name, { snag, places }]) => ({ name, snag, places: inOrder(places) }));
}

const inOrder = (places: readonly Place[]): Place[] =>
  [...places].sort((one, other) => (one.file === other.file ? one.line - other.line : one.file < other.file ? -1 : 1));
