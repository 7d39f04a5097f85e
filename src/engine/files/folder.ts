/** Making folders of ours, such as the data folder, and telling why that cannot be. */
import { accessSync, constants, mkdirSync, statSync } from "node:fs";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { describeSystemError } from "@/engine/files/write";

/** Makes a folder and those above it. Throws SideTwinError `not-writable` where that is not possible. */
export function makeFolder(folder: string): void {
  const full = path.resolve(folder);
  const missing: string[] = [];
  let at = full;
  // One by one: made recursively, a folder in a file system that takes none is tried for ever.
  while (statSync(at, { throwIfNoEntry: false }) === undefined && path.dirname(at) !== at) {
    missing.push(at);
    at = path.dirname(at);
  }
  try {
    if (!statSync(at).isDirectory()) throw Object.assign(new Error(), { code: "ENOTDIR" });
    for (const one of missing.reverse()) mkdirSync(one);
    accessSync(full, constants.W_OK);
  } catch (cause) {
    throw new SideTwinError(
      {
        code: "not-writable",
        what: `The folder ${full} cannot be used: ${describeSystemError(cause)}`,
        next: "Name a folder that can be written to.",
      },
      cause,
    );
  }
}
