/** Runs a TypeScript file of this project: `node scripts/run-ts.mjs FILE [ARGUMENTS…]`. */
import { bundle, HOME } from "./bundle.mjs";

process.env.SIDE_TWIN_HOME = HOME;
const [entry, ...rest] = process.argv.slice(2);
process.argv = [process.argv[0], entry, ...rest];
await import(await bundle(entry));
