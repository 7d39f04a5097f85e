/** mypy, by the daemon that comes with it. Its own process would detach itself and outlive the sandbox. */
import { closeSync, existsSync, openSync, readSync } from "node:fs";
import path from "node:path";
import { packageRoot } from "@/engine/package-root";
import type { WarmTool } from "@/engine/warm/warm-tool";

const SERVER = "src/engine/warm/mypy-server.py";
const IS_PYTHON = /^python[\d.]*$/;

export const mypy: WarmTool = {
  name: "mypy",
  start: (command) => {
    const [program = "", ...rest] = command;
    const isModule = IS_PYTHON.test(path.basename(program)) && rest[0] === "-m" && rest[1] === "mypy";
    const interpreter = isModule ? [program] : path.basename(program) === "mypy" ? interpreterOf(program) : null;
    if (!interpreter) return null;
    const args = isModule ? rest.slice(2) : rest;
    return { server: [...interpreter, path.join(packageRoot(), SERVER), ...args], args };
  },
};

const MAX_FIRST_LINE = 512;

/** Returns the interpreter that a script's first line names, with its arguments; null where that is not Python. */
function interpreterOf(script: string): string[] | null {
  if (!existsSync(script)) return null;
  const bytes = Buffer.alloc(MAX_FIRST_LINE);
  const file = openSync(script, "r");
  const length = readSync(file, bytes);
  closeSync(file);
  const [, named] = /^#!\s*([^\n]+?)\s*\n/.exec(bytes.toString("utf8", 0, length)) ?? [];
  const words = named?.split(/\s+/) ?? [];
  return words.some((word) => IS_PYTHON.test(path.basename(word))) ? words : null;
}
