/** Ports made for one test, in a folder that is removed afterwards. */
import { mkdirSync, mkdtempSync, realpathSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { afterAll } from "vitest";

const made: string[] = [];
const removeAll = () => {
  for (const folder of made.splice(0)) rmSync(folder, { recursive: true, force: true });
};
afterAll(removeAll);
// Files that share a process share this module, whose hook runs after the first of them.
process.once("exit", removeAll);

/** A folder with the given files; content that is not text is written as JSON, a list of objects as JSON Lines. */
export function temporaryFolder(files: Readonly<Record<string, unknown>> = {}): string {
  const folder = realpathSync(mkdtempSync(path.join(tmpdir(), "side-twin-test-")));
  made.push(folder);
  writeFiles(folder, files);
  return folder;
}

export function writeFiles(folder: string, files: Readonly<Record<string, unknown>>): void {
  for (const [name, content] of Object.entries(files)) {
    const file = path.join(folder, name);
    mkdirSync(path.dirname(file), { recursive: true });
    writeFileSync(file, toContent(content));
  }
}

function toContent(content: unknown): string | Uint8Array {
  if (typeof content === "string" || content instanceof Uint8Array) return content;
  if (Array.isArray(content)) return content.map((line) => `${JSON.stringify(line)}\n`).join("");
  return JSON.stringify(content, null, 2);
}

/** The least port file, from Python to TypeScript, with anything added. */
export const portFile = (extra: Readonly<Record<string, unknown>> = {}) => ({
  format: "side-twin/port",
  version: 1,
  name: "A port",
  original: { root: "original", language: "python" },
  twins: [{ name: "ts", root: "twin", language: "typescript" }],
  ...extra,
});

/** A port of one module `m`, its cases in one file. Returns its folder. */
export function temporaryPort(parts: {
  readonly original: string;
  readonly twin: string;
  readonly cases: readonly object[];
  readonly port?: Readonly<Record<string, unknown>>;
}): string {
  return temporaryFolder({
    "side-twin.json": portFile(parts.port),
    "original/m.py": parts.original,
    "twin/m.ts": parts.twin,
    "cases/m.jsonl": parts.cases,
  });
}
