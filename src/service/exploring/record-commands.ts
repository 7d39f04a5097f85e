/** Proposes commands to record: the port's own tests and program, and those found in the tree. */
import { readFile, stat } from "node:fs/promises";
import path from "node:path";
import { formatCommand } from "@/core/bring-in/draft";
import { guessTestCommands, tellsOfTests } from "@/core/bring-in/test-commands";
import { listFiles } from "@/engine/files/tree";
import { decode } from "@/engine/source/read-files";
import type { OpenPort } from "@/service/port/open-port";

const MAX_TEXTS = 60;
const MAX_TEXT_BYTES = 256 * 1024;

/** As lines that a person can edit, the likeliest first, each once. Reads at most 60 files of the original. */
export async function recordCommands(open: OpenPort): Promise<string[]> {
  const { folder, language, run } = open.original;
  // Tests are often ignored as sources.
  const files = await listFiles(folder);
  const texts = new Map<string, string>();
  for (const file of files.filter(tellsOfTests).slice(0, MAX_TEXTS)) {
    const full = path.join(folder, file);
    const size = (await stat(full).catch(() => null))?.size ?? Number.POSITIVE_INFINITY;
    const bytes = size <= MAX_TEXT_BYTES ? await readFile(full).catch(() => null) : null;
    if (bytes) texts.set(file, decode(bytes).text);
  }
  const known = [open.port.tests?.original?.command, ...guessTestCommands(language, { files, texts }), run];
  return [...new Set(known.flatMap((command) => (command && command.length > 0 ? [formatCommand(command)] : [])))];
}
