/** Callers of sections whose signature was changed by hand, on both sides. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { ChangedSection } from "@/api/making-views";
import { languageIn } from "@/core/source/language-of";
import { changedSignatures } from "@/core/source/signature-change";
import { escapePattern } from "@/core/values/escape-pattern";
import { parseSource } from "@/engine/source/parse";
import { twinsFor } from "@/service/port/open-port";
import type { PortReading } from "@/service/reading/reading";

/** Of one section on one side. */
const MAX_CALLERS = 200;

type Edited = { readonly twin: string; readonly file: string; readonly before: string; readonly after: string };

/** Sections of the edited file whose signature changed and that are mentioned elsewhere. Cost: the files of both sides are searched. */
export async function changedSections(reading: PortReading, edited: Edited): Promise<ChangedSection[]> {
  const { open } = reading;
  const [twin] = twinsFor(open, edited.twin);
  const language = languageIn(edited.file, edited.after);
  const [before, after] = [await parseSource(edited.before, language), await parseSource(edited.after, language)];
  const found: ChangedSection[] = [];
  for (const change of changedSignatures(before, after)) {
    const own = after.sections.find(({ name }) => name === change.section);
    const inside = (file: string, line: number) =>
      file === edited.file && own !== undefined && own.from <= line && line <= own.to;
    const callers = [
      ...(await mentions({ folder: twin.folder, files: twin.files, name: change.section, side: twin.name })).filter(
        ({ file, line }) => !inside(file, line),
      ),
      ...(await originalCallers(reading, edited, change.section)),
    ];
    if (callers.length > 0) found.push({ ...change, file: edited.file, callers });
  }
  return found;
}

/** Mentions of the original's section outside of itself: what calls it there calls it in the twin too, or will. */
async function originalCallers(
  { open, modules }: PortReading,
  { twin, file }: Edited,
  section: string,
): Promise<ChangedSection["callers"]> {
  for (const module of modules) {
    if (!(module.twins[twin] ?? []).includes(file)) continue;
    const pair = (module.pairs[twin] ?? []).find((one) => one.twin === section);
    const home = module.originalSources.find((source) => source.sections.some(({ name }) => name === pair?.original));
    const own = home?.sections.find(({ name }) => name === pair?.original);
    if (!pair || !home || !own) continue;
    const all = await mentions({
      folder: open.original.folder,
      files: open.original.files,
      name: pair.original,
      side: "original",
    });
    return all.filter((place) => place.file !== home.file || place.line < own.from || place.line > own.to);
  }
  return [];
}

type Sought = {
  readonly folder: string;
  readonly files: readonly string[];
  readonly name: string;
  readonly side: string;
};

async function mentions({ folder, files, name, side }: Sought): Promise<ChangedSection["callers"][number][]> {
  const word = new RegExp(
    `(?<![\\p{L}\\p{N}_$])${escapePattern(name.slice(name.lastIndexOf(".") + 1))}(?![\\p{L}\\p{N}_$])`,
    "u",
  );
  const places: ChangedSection["callers"][number][] = [];
  for (const file of files) {
    const text = await readFile(path.join(folder, file), "utf8").catch(() => "");
    if (languageIn(file, text) === null || !word.test(text)) continue;
    for (const [index, line] of text.split("\n").entries())
      if (
        word.test(line) &&
        !/^\s*(import|from|export \{|#include|use |require)/.test(line) &&
        places.length < MAX_CALLERS
      )
        places.push({ side, file, line: index + 1, text: line.trim() });
  }
  return places;
}
