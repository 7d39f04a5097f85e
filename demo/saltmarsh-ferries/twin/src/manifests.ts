/** Passenger manifests: read from CSV, merged, sorted and summed up. */

export const FIELDS = ["name", "kind", "landing", "bags"] as const;

export class ManifestError extends Error {}

export type Passenger = { name: string; kind: string; landing: string; bags: number };

function cells(line: string): string[] {
  const found: string[] = [];
  const pattern = /(?:^|,)(?:"((?:[^"]|"")*)"|([^,]*))/g;
  for (const [, quoted, plain] of line.matchAll(pattern)) found.push(quoted?.replaceAll('""', '"') ?? plain ?? "");
  return found;
}

export function read(text: string): Passenger[] {
  const rows = text
    .split(/\r?\n/)
    .filter((line) => line !== "")
    .map(cells);
  if (rows.length === 0) throw new ManifestError("the manifest is empty");
  if (rows[0]!.join() !== FIELDS.join()) throw new ManifestError(`the first line must be ${FIELDS.join(",")}`);
  return rows.slice(1).map((row, index) => {
    if (row.length !== FIELDS.length) throw new ManifestError(`row ${index + 2} has ${row.length} fields`);
    const [name, kind, landing, bags] = row as [string, string, string, string];
    if (!/^\d+$/.test(bags)) throw new ManifestError(`row ${index + 2}: bags must be a number`);
    return { name, kind, landing, bags: Number(bags) };
  });
}

export function write(rows: readonly Passenger[]): string {
  const quote = (cell: string) => (/[",\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);
  const lines = rows.map((row) => FIELDS.map((field) => quote(String(row[field]))).join(","));
  return [FIELDS.join(","), ...lines, ""].join("\n");
}

export function byLanding(rows: readonly Passenger[]): Record<string, string[]> {
  const result: Record<string, string[]> = {};
  for (const row of rows) {
    result[row.landing] ??= [];
    result[row.landing]!.push(row.name);
  }
  return result;
}

export function sortedNames(rows: readonly Passenger[]): string[] {
  return rows.map((row) => row.name).sort();
}

export function merge(first: Passenger[], second: Passenger[]): Passenger[] {
  const merged = new Map<string, Passenger>();
  for (const row of [...first, ...second]) {
    const known = merged.get(row.name);
    if (known) known.bags += row.bags;
    else merged.set(row.name, row);
  }
  return [...merged.values()];
}

export function heaviest(rows: Passenger[], count = 3): string[] {
  return rows
    .sort((one, other) => other.bags - one.bags)
    .slice(0, count)
    .map((row) => row.name);
}

export function summary(rows: readonly Passenger[]) {
  const kinds: Record<string, number> = {};
  for (const row of rows) kinds[row.kind] = (kinds[row.kind] ?? 0) + 1;
  return { people: rows.length, kinds, bags: rows.reduce((sum, row) => sum + row.bags, 0) };
}

export function drop(rows: readonly Passenger[], names: readonly string[]): Passenger[] {
  const gone = new Set(names);
  return rows.filter((row) => !gone.has(row.name));
}
