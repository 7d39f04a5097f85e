/** Where Side Twin itself is installed: bundling moves code, so files that ship beside it are found from here. */
import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

let known: string | undefined;

/** The folder with Side Twin's own package.json. `SIDE_TWIN_HOME` is set by the starter; tests find it by looking up. */
export function packageRoot(): string {
  known ??= process.env.SIDE_TWIN_HOME ?? lookUp(path.dirname(fileURLToPath(import.meta.url)));
  return known;
}

function lookUp(from: string): string {
  for (let folder = from; ; folder = path.dirname(folder)) {
    const manifest = path.join(folder, "package.json");
    if (existsSync(manifest) && JSON.parse(readFileSync(manifest, "utf8")).name === "side-twin") return folder;
    if (path.dirname(folder) === folder) throw new Error(`Side Twin's own folder was not found above ${from}`);
  }
}
