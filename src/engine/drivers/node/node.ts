import path from "node:path";
import { pathToFileURL } from "node:url";
import { type Driver, fixedVariables } from "@/engine/drivers/driver";
import { probeFiles } from "@/engine/drivers/node/recording";
import { readNodeLines } from "@/engine/drivers/node/run-lines";

export const node: Driver = {
  title: "JavaScript and TypeScript",
  languages: ["javascript", "typescript"],
  program: "node/driver.mjs",
  runtime: {
    command: "node",
    names: /^node(js)?$/,
    self: process.execPath,
    locate: ["-p", "process.execPath"],
    get: "Install Node.js 20.",
  },
  flags: (memoryMb) => [`--max-old-space-size=${memoryMb}`, "--stack-size=980"],
  lines: "counted",
  shapes: "untyped",
  marksLines: true,
  build: null,
  environment: { NODE_NO_WARNINGS: "1" },
  unbuffered: {},
  otherHashes: {},
  fix: {
    by: "runtime",
    environment: (home, terms) => ({
      ...fixedVariables(terms),
      NODE_OPTIONS: `--import=${pathToFileURL(path.join(home, "node/fixed-run.mjs")).href}`,
    }),
  },
  tracing: {
    // Every process of the program writes its own file into the folder, whatever started it.
    canTrace: () => true,
    start: (command, { out }) => ({ command, environment: { NODE_V8_COVERAGE: out } }),
    read: readNodeLines,
  },
  probes: null,
  recording: {
    settings: async (root, files) => ({ files: await probeFiles(root, files) }),
    sources: async (root, files) => {
      const probed = Object.entries(await probeFiles(root, files));
      return Object.fromEntries(probed.map(([full, { after }]) => [path.relative(root, full), after]));
    },
    start: (command, { home, settings }) => ({
      command,
      environment: {
        SIDE_TWIN_RECORD: settings,
        NODE_OPTIONS: `--require=${JSON.stringify(path.join(home, "node/record-preload.cjs"))}`,
      },
    }),
  },
  madeFolders: ["node_modules"],
};
