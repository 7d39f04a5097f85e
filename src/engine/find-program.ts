/** Looks programs up on the PATH. */
import { accessSync, constants, statSync } from "node:fs";
import path from "node:path";

/** Looks a program up on the PATH (or as a path); null when it is not there. */
export function findProgram(program: string, searchPath = process.env.PATH ?? ""): string | null {
  const candidates = program.includes("/")
    ? [path.resolve(program)]
    : searchPath.split(path.delimiter).map((folder) => path.join(folder, program));
  return candidates.find(isExecutable) ?? null;
}

function isExecutable(file: string): boolean {
  try {
    accessSync(file, constants.X_OK);
    return statSync(file).isFile();
  } catch {
    // Missing or not executable: try the next folder of the path.
    return false;
  }
}
