/** The version of Side Twin, from its own package file. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { packageRoot } from "@/engine/package-root";

/** The version of Side Twin, from its package. */
export const readVersion = (): string =>
  JSON.parse(readFileSync(path.join(packageRoot(), "package.json"), "utf8")).version;
