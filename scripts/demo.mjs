/** `npm run demo`: installs what is missing, builds, loads the demo ports, starts on 127.0.0.1 and prints the address. */
import path from "node:path";
import { HOME, installPackages } from "./setup.mjs";

installPackages();
process.argv = [process.argv[0], path.join(HOME, "bin/side-twin.mjs"), "demo", ...process.argv.slice(2)];
await import("../bin/side-twin.mjs");
