/** A name for what is built of some sources: the same while neither they nor the terms change. */
import { createHash } from "node:crypto";
import { readdir, readFile } from "node:fs/promises";
import path from "node:path";

/** `terms`: commands and flags. Files that are not there count as empty. Cost: linear in the files. */
export async function buildKey(folder: string, files: readonly string[], terms: readonly string[]): Promise<string> {
  const hash = createHash("sha256").update(JSON.stringify([folder, terms]));
  for (const file of [...files].sort()) {
    hash.update(`\0${file}\0`);
    hash.update(await readFile(path.join(folder, file)).catch(() => ""));
  }
  return hash.digest("hex").slice(0, 20);
}

/** The same for all that is in some folders of a driver: what an older version of it built is not taken again. */
export async function driverKey(home: string, folders: readonly string[]): Promise<string> {
  const keys: string[] = [];
  for (const folder of folders) {
    const entries = await readdir(path.join(home, folder), { recursive: true, withFileTypes: true });
    const files = entries
      .filter((entry) => entry.isFile())
      .map((entry) => path.relative(home, path.join(entry.parentPath, entry.name)));
    keys.push(await buildKey(home, files, []));
  }
  return keys.join("-");
}
