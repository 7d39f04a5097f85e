/** The TypeScript compiler, by its own API. Versions without one (7 and later) are started as they are: they take a tenth. */
import { existsSync, realpathSync } from "node:fs";
import path from "node:path";
import { packageRoot } from "@/engine/package-root";
import type { WarmTool } from "@/engine/warm/warm-tool";

const SERVER = "src/engine/warm/typescript-server.mjs";

export const typescript: WarmTool = {
  name: "typescript",
  start: (command) => {
    const [first = "", second = ""] = command;
    const isByNode = /^node(\.exe)?$/.test(path.basename(first)) && path.basename(second) === "tsc";
    const program = isByNode ? second : first;
    if (path.basename(program) !== "tsc" || !existsSync(program)) return null;
    // `node_modules/.bin/tsc` is a link to `typescript/bin/tsc`.
    const library = path.join(path.dirname(path.dirname(realpathSync(program))), "lib", "typescript.js");
    if (!existsSync(library)) return null;
    return {
      server: [process.execPath, path.join(packageRoot(), SERVER), library],
      args: command.slice(isByNode ? 2 : 1),
    };
  },
};
