/** Folders of an attack, removed at the end of the process. */
import { mkdirSync, mkdtempSync, realpathSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";

const made: string[] = [];
process.once("exit", () => {
  for (const folder of made) rmSync(folder, { recursive: true, force: true });
});

/** A new folder with the given files; what is no text or bytes is written as JSON, a list as JSON Lines. */
export function scratchFolder(files: Readonly<Record<string, unknown>> = {}): string {
  const folder = realpathSync(mkdtempSync(path.join(tmpdir(), "side-twin-attack-")));
  made.push(folder);
  for (const [name, content] of Object.entries(files)) {
    const file = path.join(folder, name);
    mkdirSync(path.dirname(file), { recursive: true });
    writeFileSync(file, toContent(content));
  }
  return folder;
}

function toContent(content: unknown): string | Uint8Array {
  if (typeof content === "string" || content instanceof Uint8Array) return content;
  return Array.isArray(content) ? content.map((line) => `${JSON.stringify(line)}\n`).join("") : JSON.stringify(content);
}

/** The least port file, from Python to JavaScript, with anything added. */
export const portFile = (extra: Readonly<Record<string, unknown>> = {}) => ({
  format: "side-twin/port",
  version: 1,
  name: "Attacked",
  original: { root: "original", language: "python" },
  twins: [{ name: "js", root: "twin", language: "javascript" }],
  cases: ["cases/*.jsonl"],
  ...extra,
});
