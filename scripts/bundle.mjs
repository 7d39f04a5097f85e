/**
 * Bundles a TypeScript entry of this project for Node.js, into the cache below node_modules, unless the bundle is newer
 * than every source. Packages stay outside the bundle. Takes about 5 ms when nothing changed, 100 ms otherwise.
 */
import fs from "node:fs";
import { createRequire } from "node:module";
import path from "node:path";
import { fileURLToPath } from "node:url";

export const HOME = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

const MAX_AGE_MS = 60 * 60 * 1000;

/** Bundles `entry` (relative to the project) and returns the path of the module to import. */
export async function bundle(entry) {
  const cache = path.join(HOME, "node_modules/.cache/side-twin");
  const name = entry.replace(/[/.]/g, "-");
  // The folder's name is a fingerprint of its sources: nothing is overwritten while another process reads it.
  const folder = path.join(
    cache,
    `${name}@${Math.round(newest(["src", "bench", "scripts", "tests", "package.json"]))}`,
  );
  const out = path.join(folder, path.basename(entry).replace(/\.ts$/, ".js"));
  if (fs.existsSync(out)) return out;
  const esbuild = createRequire(import.meta.url)("esbuild");
  const part = `${folder}.${process.pid}`;
  await esbuild.build({
    entryPoints: [path.join(HOME, entry)],
    outdir: part,
    bundle: true,
    splitting: true,
    platform: "node",
    format: "esm",
    target: "node20",
    packages: "external",
    sourcemap: "linked",
    tsconfig: path.join(HOME, "tsconfig.json"),
    logLevel: "error",
  });
  fs.writeFileSync(path.join(part, "package.json"), '{"type":"module"}');
  for (const old of fs.readdirSync(cache)) {
    // A younger one may be another start's, which is under way or loads parts of it later.
    const age = Date.now() - (fs.statSync(path.join(cache, old), { throwIfNoEntry: false })?.mtimeMs ?? 0);
    if (old.startsWith(`${name}@`) && old !== path.basename(part) && age > MAX_AGE_MS)
      fs.rmSync(path.join(cache, old), { recursive: true, force: true });
  }
  try {
    fs.renameSync(part, folder);
  } catch (error) {
    // Another start was quicker and made the same.
    if (!fs.existsSync(out)) throw error;
    fs.rmSync(part, { recursive: true, force: true });
  }
  return out;
}

function newest(names) {
  let latest = 0;
  const look = (file) => {
    const facts = fs.statSync(file, { throwIfNoEntry: false });
    if (!facts) return;
    latest = Math.max(latest, facts.mtimeMs);
    if (facts.isDirectory()) for (const name of fs.readdirSync(file)) look(path.join(file, name));
  };
  for (const name of names) look(path.join(HOME, name));
  return latest;
}
