/** Writing a file so that it is all old or all new, whatever happens in between. */
import { mkdir, rename, writeFile } from "node:fs/promises";
import path from "node:path";

export async function writeAtomically(file: string, text: string): Promise<void> {
  await mkdir(path.dirname(file), { recursive: true });
  const part = `${file}.${process.pid}.part`;
  await writeFile(part, text, { flush: true });
  await rename(part, file);
}
