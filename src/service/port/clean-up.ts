/** Removes what a killed server left in a port's folders. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { parsePortFile } from "@/core/formats/port-file";
import { removeLeftParts } from "@/engine/files/write";

/** Deletes the temporary files of interrupted edits: beside the port file, its case files and its memory file. */
export async function cleanUpPort(file: string): Promise<void> {
  const folder = path.dirname(file);
  const folders = new Set([folder]);
  try {
    const { cases, memory } = parsePortFile(await readFile(file, "utf8"), path.basename(file));
    for (const pattern of cases) folders.add(path.join(folder, path.dirname(pattern).replace(/\/?[*?{[].*$/, "")));
    if (memory !== undefined) folders.add(path.dirname(path.join(folder, memory)));
  } catch {
    // A port that cannot be read is shown with the reason on the Ports view; its own folder is cleaned all the same.
  }
  for (const one of folders) removeLeftParts(one);
}
