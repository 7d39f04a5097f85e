/** Changes to the port file, in place: what a person wrote, its order and its layout stay as they are. */
import path from "node:path";
import { applyEdits, type JSONPath, modify } from "jsonc-parser";
import { SideTwinError } from "@/core/errors";
import { type PortFile, parsePortFile } from "@/core/formats/port-file";
import { editFile } from "@/engine/files/write";

/** One change: `value` at `path`, put in before the item there with `insert`; undefined takes it out. */
export type Edit = { readonly path: JSONPath; readonly value: unknown; readonly insert?: boolean };

/**
 * Applies the edits that `decide` returns for the port file as it is on disk now, so that places in lists are never those of
 * an older text; no edits leave the file alone. Throws SideTwinError when the result would not be a port file; then nothing
 * is written.
 */
export async function editPortFile(file: string, decide: (port: PortFile) => readonly Edit[]): Promise<void> {
  const name = path.basename(file);
  await editFile(file, (before) => {
    if (before === null) {
      throw new SideTwinError({
        code: "not-found",
        what: `There is no file ${file}`,
        next: "Put it back and try again.",
      });
    }
    const formattingOptions = { insertSpaces: true, tabSize: 2, eol: before.includes("\r\n") ? "\r\n" : "\n" };
    let text = before;
    for (const { path: at, value, insert = false } of decide(parsePortFile(before, name))) {
      text = applyEdits(text, modify(text, [...at], value, { formattingOptions, isArrayInsertion: insert }));
    }
    // Validate what is written, since it is read again.
    parsePortFile(text, name);
    return text;
  });
}
