/** Output files of a command: refused before any work if they cannot be written. */
import { statSync } from "node:fs";
import { writeFile } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { makeFolder } from "@/engine/files/folder";
import { notWritable } from "@/engine/files/write";

/** Makes the folder in which the server and the command line keep their own data. Throws SideTwinError `not-writable`. */
export const prepareDataFolder = (folder: string): void => makeFolder(folder);

/** Throws SideTwinError for a file that is a folder, or whose folder is not there. */
export function refuseUnwritable(files: readonly (string | undefined)[]): void {
  for (const file of files) {
    if (file === undefined) continue;
    const folder = path.dirname(path.resolve(file));
    const isFolder = statSync(file, { throwIfNoEntry: false })?.isDirectory() ?? false;
    if (!isFolder && statSync(folder, { throwIfNoEntry: false })?.isDirectory()) continue;
    throw new SideTwinError({
      code: "not-writable",
      what: isFolder ? `${file} is a folder` : `There is no folder ${folder}`,
      next: "Name a file in a folder that is there.",
    });
  }
}

/** Throws SideTwinError `not-writable`. */
export async function writeOutput(file: string, text: string): Promise<void> {
  await writeFile(file, text).catch((cause: unknown) => {
    throw notWritable(path.resolve(file), cause);
  });
}
