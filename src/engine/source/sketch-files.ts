/** Sketches files for pairing, in a worker thread: the names of their sections and the fingerprints of their texts. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { FileSketch } from "@/core/pairing/file-pairing";
import { plainNames } from "@/core/pairing/plain-names";
import { traceOf } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";
import { languageIn } from "@/core/source/language-of";
import { parseSource } from "@/engine/source/parse";

/** Rejects where a file cannot be read. Cost: linear in the files. */
export async function sketchFiles(root: string, files: readonly string[]): Promise<FileSketch[]> {
  const sketches: FileSketch[] = [];
  for (const file of files) {
    const text = await readFile(path.join(root, file), "utf8");
    const { sections } = await parseSource(text, languageIn(file, text));
    const own = sections.map((section) => ({ ...section, file }));
    // In C, only the prefix of a function's name shows where it belongs.
    const plain = /\.[ch]$/.test(file) ? [...plainNames(own, []).values()] : own.map(({ name }) => name);
    const names = plain.map((name) => wordsOf(name.split(".").at(-1) ?? "").join(""));
    sketches.push({ path: file, names: new Set(names), trace: traceOf(text) });
  }
  return sketches;
}
