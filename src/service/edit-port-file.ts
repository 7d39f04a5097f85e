/** Changes to the port file, in place: what a person wrote, its order and its layout stay as they are. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { applyEdits, type JSONPath, modify } from "jsonc-parser";
import { parsePortFile } from "@/core/formats/port-file";
import { writeAtomically } from "@/engine/files/write";

/** One change: `value` at `path`, put in before the item there with `insert`; undefined takes it out. */
export type Edit = { readonly path: JSONPath; readonly value: unknown; readonly insert?: boolean };

/** Throws SideTwinError when the file would no longer be a port file; then nothing is written. */
export async function editPortFile(file: string, edits: readonly Edit[]): Promise<void> {
  let text = await readFile(file, "utf8");
  const formattingOptions = { insertSpaces: true, tabSize: 2, eol: text.includes("\r\n") ? "\r\n" : "\n" };
  for (const { path: at, value, insert = false } of edits) {
    text = applyEdits(text, modify(text, [...at], value, { formattingOptions, isArrayInsertion: insert }));
  }
  // What is written must be what is read again.
  parsePortFile(text, path.basename(file));
  await writeAtomically(file, text);
}
