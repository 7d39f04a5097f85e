/**
 * Lays down an empty, migrated database by copying one made before: making one anew takes PostgreSQL seconds. The copied
 * one is made at the first start and kept in the user's cache.
 */
import { existsSync } from "node:fs";
import { cp, mkdir, mkdtemp, readdir, readFile, rename, rm, stat, utimes } from "node:fs/promises";
import { createRequire } from "node:module";
import { homedir } from "node:os";
import path from "node:path";

const UNUSED_MS = 30 * 24 * 60 * 60 * 1000;

/** `make` makes a database in a folder and closes it; `key` is unlike for databases with other tables. */
type Recipe = { readonly key: string; readonly program: string; readonly make: (folder: string) => Promise<void> };

/**
 * Fills a folder that does not exist; leaves any other alone. Where the cache or the disk cannot be written, nothing is
 * left behind: the database then makes its own, with its own errors.
 */
export async function layDown(folder: string, recipe: Recipe): Promise<void> {
  if (existsSync(folder)) return;
  const part = `${folder}.part`;
  try {
    await rm(part, { recursive: true, force: true });
    await cp(await keptDatabase(recipe), part, { recursive: true });
    await rename(part, folder);
  } catch {
    await rm(part, { recursive: true, force: true }).catch(() => undefined);
  }
}

async function keptDatabase({ key, program, make }: Recipe): Promise<string> {
  const cache = path.join(process.env.XDG_CACHE_HOME ?? path.join(homedir(), ".cache"), "side-twin", "databases");
  const kept = path.join(cache, `${await pgliteVersion(program)}-${key}`);
  if (existsSync(kept)) {
    await utimes(kept, new Date(), new Date()).catch(() => undefined);
    return kept;
  }
  await mkdir(cache, { recursive: true });
  const made = await mkdtemp(path.join(cache, "new-"));
  try {
    await make(path.join(made, "database"));
    await rename(path.join(made, "database"), kept);
    await discardUnused(cache);
  } catch (error) {
    // Another server may have been quicker.
    if (!existsSync(kept)) throw error;
  } finally {
    await rm(made, { recursive: true, force: true });
  }
  return kept;
}

/** Removes copies that no start has taken for a month: those of earlier versions. */
async function discardUnused(cache: string): Promise<void> {
  for (const name of await readdir(cache)) {
    const place = path.join(cache, name);
    if (Date.now() - (await stat(place)).mtimeMs > UNUSED_MS) await rm(place, { recursive: true, force: true });
  }
}

async function pgliteVersion(program: string): Promise<string> {
  const entry = createRequire(program).resolve("@electric-sql/pglite");
  return JSON.parse(await readFile(path.join(path.dirname(entry), "../package.json"), "utf8")).version;
}
