/** Hands ES modules of a recorded program to Node.js with their probes. Runs on the loader's own thread. */
import { fileURLToPath } from "node:url";

let files = {};

export function initialize(data) {
  files = data;
}

export async function load(url, context, nextLoad) {
  const loaded = await nextLoad(url, context);
  const found = url.startsWith("file:") ? files[fileURLToPath(url.replace(/[?#].*$/, ""))] : undefined;
  if (!found) return loaded;
  // CommonJS that an ES module imports is read by Node.js behind the public functions.
  if (loaded.source === null || loaded.source === undefined)
    return loaded.format === "commonjs" ? { ...loaded, source: found.after } : loaded;
  const source = typeof loaded.source === "string" ? loaded.source : Buffer.from(loaded.source).toString("utf8");
  return source === found.before ? { ...loaded, source: found.after } : loaded;
}
