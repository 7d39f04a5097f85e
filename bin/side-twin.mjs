#!/usr/bin/env -S node --max-semi-space-size=64
/**
 * Starts the command line from a checkout: bundles it when a source changed, then runs it. A large check makes much that is
 * soon done with: more room for it, on the line above, makes the check a fifth faster.
 */
import fs from "node:fs";
import path from "node:path";
import { bundle, HOME } from "../scripts/bundle.mjs";

if (!fs.existsSync(path.join(HOME, "node_modules", "esbuild"))) {
  process.stderr.write("side-twin: its packages are not installed. Run `npm ci` in its folder first.\n");
  process.exit(2);
}
process.env.SIDE_TWIN_HOME = HOME;
await import(await bundle("src/cli/main.ts"));
