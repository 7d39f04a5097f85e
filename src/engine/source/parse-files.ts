/** Parses many files of a side: what a worker thread does with its share of a port. */
import { createHash } from "node:crypto";
import { readFile } from "node:fs/promises";
import path from "node:path";
import { languageIn } from "@/core/source/language-of";
import { type ParsedSource, parseSource } from "@/engine/source/parse";

/** A parsed file with the hash of its text. */
export type ParsedFile = {
  readonly path: string;
  /** Null where the file cannot be read, or is not UTF-8. */
  readonly source: (Omit<ParsedSource, "lines"> & { readonly text: string; readonly hash: string }) | null;
};

/** Never rejects: a file that failed is read again by whoever needs it, with its error. Linear in the files. */
export async function parseFiles(root: string, files: readonly string[]): Promise<ParsedFile[]> {
  const parsed: ParsedFile[] = [];
  for (const file of files) {
    try {
      const bytes = await readFile(path.join(root, file));
      const text = new TextDecoder("utf-8", { fatal: true, ignoreBOM: true }).decode(bytes);
      // Lines are cut where they are needed: one text is handed over faster than a list of thousands.
      const { lines: _lines, ...source } = await parseSource(text, languageIn(file, text));
      parsed.push({ path: file, source: { ...source, text, hash: hashOf(text) } });
    } catch {
      parsed.push({ path: file, source: null });
    }
  }
  return parsed;
}

/** Hash of a text: 16 hexadecimal digits of SHA-256. */
export const hashOf = (text: string): string => createHash("sha256").update(text).digest("hex").slice(0, 16);
