/** A name for what is built of some sources: the same while neither they nor the terms change. */
import { createHash } from "node:crypto";
import { readdir, readFile, stat } from "node:fs/promises";
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

/**
 * Hashes a side: the text of its sources, and size and time of every other file, which a source may include (`#include`,
 * `go:embed`). `outside` lists include folders outside the side.
 */
export async function sideKey(
  { folder, files }: { readonly folder: string; readonly files: readonly string[] },
  isSource: (file: string) => boolean,
  terms: readonly string[],
  outside: readonly string[] = [],
): Promise<string> {
  const factsOf = async (file: string) => {
    const found = await stat(file).catch(() => null);
    return `${file}:${found?.size}:${found?.mtimeMs}`;
  };
  const others = files.filter((file) => !isSource(file)).map((file) => path.join(folder, file));
  for (const place of outside)
    for (const name of await readdir(place, { recursive: true }).catch(() => [])) others.push(path.join(place, name));
  const facts = await Promise.all(others.sort().map(factsOf));
  return buildKey(folder, files.filter(isSource), [...terms, ...facts]);
}

/** The rules that decide where probes go. */
const PROBES = "../../core/source";

/**
 * Hashes a driver's folders, and the probe rules when lines are reported, so that builds of an older version are not reused.
 */
export async function driverKey(
  { home, lines }: { readonly home: string; readonly lines: boolean },
  folders: readonly string[],
): Promise<string> {
  const keys: string[] = [];
  for (const folder of lines ? [...folders, PROBES] : folders) {
    const entries = await readdir(path.join(home, folder), { recursive: true, withFileTypes: true });
    const files = entries
      .filter((entry) => entry.isFile())
      .map((entry) => path.relative(home, path.join(entry.parentPath, entry.name)));
    keys.push(await buildKey(home, files, []));
  }
  return keys.join("-");
}
