/** Reads many source files for the survey: what a worker thread does with its share of a tree. */
import { readFile, stat } from "node:fs/promises";
import path from "node:path";
import { languageIn } from "@/core/source/language-of";
import type { FileFacts } from "@/core/survey/file-facts";
import { readFileFacts } from "@/engine/source/parse";

/** Facts of files, with those that could not be read. */
export type ReadFiles = {
  readonly files: readonly FileFacts[];
  readonly problems: readonly { readonly file: string; readonly line?: number; readonly message: string }[];
};

/** Larger files are data in the form of code. */
const MAX_BYTES = 16 * 1024 * 1024;

/** Never rejects: a file that cannot be read is a problem. Cost: linear in the files. */
export async function readFiles(
  root: string,
  wanted: readonly { path: string; language: string }[],
): Promise<ReadFiles> {
  const files: FileFacts[] = [];
  const problems: { file: string; line?: number; message: string }[] = [];
  for (const { path: file, language } of wanted) {
    try {
      const { size } = await stat(path.join(root, file));
      if (size > MAX_BYTES) {
        problems.push({ file, message: `is larger than ${MAX_BYTES / 1024 / 1024} MB and was not read` });
        continue;
      }
      const bytes = await readFile(path.join(root, file));
      const { text, note } = decode(bytes);
      const facts = await readFileFacts(file, text, languageIn(file, text) ?? language);
      if (note) problems.push({ file, message: note });
      if (!facts) continue;
      files.push(facts);
      if (facts.errorLine !== null) problems.push({ file, line: facts.errorLine, message: "does not parse here" });
    } catch (thrown) {
      problems.push({ file, message: `cannot be read: ${thrown instanceof Error ? thrown.message : thrown}` });
    }
  }
  return { files, problems };
}

/** UTF-8 as it should be; UTF-16 by its mark; anything else byte by byte, which keeps all that code is made of. */
export function decode(bytes: Uint8Array): { text: string; note: string | null } {
  try {
    return { text: new TextDecoder("utf-8", { fatal: true }).decode(bytes), note: null };
  } catch {
    const [first, second] = bytes;
    if (first === 0xff && second === 0xfe)
      return { text: new TextDecoder("utf-16le").decode(bytes), note: "is UTF-16" };
    if (first === 0xfe && second === 0xff)
      return { text: new TextDecoder("utf-16be").decode(bytes), note: "is UTF-16" };
    return { text: new TextDecoder("latin1").decode(bytes), note: "is not UTF-8; it was read as Latin-1" };
  }
}
