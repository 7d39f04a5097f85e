/** Learns phrases from the files of a port that are ported already (formats, section 10). */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { BothTexts, Proposal } from "@/core/phrasebook/propose";
import { languageIn } from "@/core/source/language-of";
import { phraseThreads } from "@/service/phrasebook/threads";
import { type OpenPort, twinsFor } from "@/service/port/open-port";

/** The best first. Throws SideTwinError for an unknown twin. */
export async function learnFromPort(open: OpenPort, wanted?: string): Promise<Proposal[]> {
  const [twin] = twinsFor(open, wanted);
  return phraseThreads.run("learnPhrasebook", await readBoth(open, twin));
}

/** Files of both sides that are the same and of one language. */
async function readBoth(open: OpenPort, side: OpenPort["twins"][number]): Promise<BothTexts[]> {
  const read = (folder: string, file: string) => readFile(path.join(folder, file), "utf8").catch(() => "");
  const found: BothTexts[] = [];
  const seen = new Set<string>();
  const add = async (original: string | undefined, file: string) => {
    if (seen.has(file)) return;
    seen.add(file);
    const text = await read(side.folder, file);
    const source = original === undefined ? "" : await read(open.original.folder, original);
    const language = languageIn(file, text);
    if (language === null || (original !== undefined && languageIn(original, source) !== language)) return;
    found.push({ file, language, original: source, twin: text });
  };
  for (const module of open.modules) {
    const own = module.twins[side.name] ?? [];
    for (const [index, file] of own.entries())
      await add(
        module.original.find((name) => name === file) ??
          (own.length === module.original.length ? module.original[index] : undefined),
        file,
      );
  }
  for (const file of side.files)
    await add(
      open.original.files.find((name) => name === file),
      file,
    );
  return found;
}
