/** Limits the build cache: removes entries unused for some time, and the oldest of a kind beyond a limit. */
import { readdir, rm, stat } from "node:fs/promises";
import path from "node:path";

const HOUR_MS = 3_600_000;
/** Entries unused for longer are removed. */
export const MAX_UNUSED_MS = 14 * 24 * HOUR_MS;
/** Folders of one kind, the part of their names before the last dash; those used in the last hour stay in any case. */
export const MAX_OF_KIND = 40;
/** Limit for a compiler's own target folders, which are large. */
export const MAX_TARGETS = 6;

/** Never throws: what cannot be removed stays. Cost: one look at each entry. */
export async function pruneBuilds(cache: string, now = Date.now()): Promise<void> {
  const kinds = new Map<string, { place: string; age: number }[]>();
  for (const name of await readdir(cache).catch(() => [])) {
    const place = path.join(cache, name);
    const facts = await stat(place).catch(() => null);
    if (!facts) continue;
    const kind = name.replace(/-[^-]*$/, "");
    if (/-parts$/.test(name)) {
      await pruneFiles(place, now);
      continue;
    }
    const known = kinds.get(kind);
    const entry = { place, age: now - facts.mtimeMs };
    if (known) known.push(entry);
    else kinds.set(kind, [entry]);
  }
  for (const [kind, entries] of kinds) {
    const most = kind.endsWith("-target") ? MAX_TARGETS : MAX_OF_KIND;
    entries.sort((left, right) => left.age - right.age);
    for (const [at, { place, age }] of entries.entries())
      if (age > MAX_UNUSED_MS || (at >= most && age > HOUR_MS))
        await rm(place, { recursive: true, force: true }).catch(() => undefined);
  }
}

async function pruneFiles(folder: string, now: number): Promise<void> {
  for (const name of await readdir(folder).catch(() => [])) {
    const file = path.join(folder, name);
    const facts = await stat(file).catch(() => null);
    if (facts && now - facts.mtimeMs > MAX_UNUSED_MS) await rm(file, { force: true }).catch(() => undefined);
  }
}
