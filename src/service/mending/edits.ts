/** The small changes of a twin that are worth a try, by the lines and literals that the faults point to. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { canDraftInto } from "@/core/drafting/pairs/index";
import { literalsOf } from "@/core/exploring/literals";
import type { Report } from "@/core/formats/report";
import { branchesIn } from "@/core/mending/branches";
import type { Edit } from "@/core/mending/edit";
import { MEND_LANGUAGES } from "@/core/mending/languages/index";
import type { PortModule } from "@/core/pairing/modules";
import { languageIn } from "@/core/source/language-of";
import { findLanguage } from "@/core/source/languages/index";
import { escapePattern } from "@/core/values/escape-pattern";
import { loadParser, parseSource } from "@/engine/source/parse";
import { draftTexts } from "@/service/drafting/draft";
import type { OpenPort } from "@/service/port/open-port";
import { readSources } from "@/service/reading/pair-port";

/** Numbers and texts of the original that are tried in the twin. */
const MAX_LITERALS = 20;
/** Longer files of the original are not translated for their branches. */
const MAX_DRAFTED_LINES = 3000;

/** A family of differing cases of a report. */
export type Family = Report["families"][number];

/** A line of the twin with how likely the fault is there, from 0 to 1. */
export type MendPlace = { readonly file: string; readonly line: number; readonly score: number };

/** Full path → text of a file that differs from the one on disk. */
export type ChangedFiles = ReadonlyMap<string, { readonly after: string }>;

/** A change of a file of the twin; the higher its rank, the earlier it is tried. */
export type FileEdit = { readonly file: string; readonly before: string; readonly edit: Edit; readonly rank: number };

/** Changes of the suspect lines, the likeliest first. */
export async function editsFor(
  open: OpenPort,
  twin: OpenPort["twins"][number],
  {
    family,
    places,
    changed,
  }: { readonly family: Family; readonly places: readonly MendPlace[]; readonly changed: ChangedFiles },
): Promise<FileEdit[]> {
  const module = open.modules.find(({ name }) => name === family.module);
  const ofCall = await literalsOfSection(open.original.folder, module?.original ?? [], family.call);
  const parse = await loadParser(["javascript", "typescript", "tsx", "python"]);
  const branches = module ? await branchesOf(open, twin, { module, call: family.call }) : [];
  const found: FileEdit[] = [];
  for (const file of new Set(places.map((place) => place.file))) {
    const full = path.join(twin.folder, file);
    const before = changed.get(full)?.after ?? readFileSync(full, "utf8");
    const language = languageIn(file, before) ?? "";
    const maker = MEND_LANGUAGES.get(language);
    const tree = maker ? parse(before, /x$/.test(file) ? "tsx" : language) : null;
    if (!maker || !tree) continue;
    const own = literalsOf(before, findLanguage(language)?.comments ?? []);
    const other = open.modules.find((item) => item !== module && item.twins[twin.name]?.includes(file));
    const original = other ? await literalsOfSection(open.original.folder, other.original, "") : ofCall;
    const scores = new Map(
      places.flatMap((place) => (place.file === file ? [[place.line, place.score] as const] : [])),
    );
    try {
      const edits = maker.editsOf({
        root: tree.root,
        text: before,
        isSuspect: (line) => scores.has(line),
        numbers: lackingFirst(original.numbers, own.numbers),
        texts: lackingFirst(original.texts, own.texts),
        branches,
        causes: family.suspects.map(({ cause }) => cause),
      });
      for (const edit of edits)
        found.push({ file, before, edit, rank: edit.prior * (scores.get(edit.line) ?? 0) ** 1.5 });
    } finally {
      tree.free();
    }
  }
  return found.sort((left, right) => right.rank - left.rank);
}

/** The branches of the original's section in the twin's language; none where there are no drafts into it. */
async function branchesOf(
  open: OpenPort,
  twin: OpenPort["twins"][number],
  { module, call }: { readonly module: PortModule; readonly call: string },
): Promise<string[]> {
  if (!canDraftInto(open.original.language, twin.language)) return [];
  const sources = await readSources(open.original.folder, module.original);
  if (sources.some(({ lines }) => lines.length > MAX_DRAFTED_LINES)) return [];
  const parse = await loadParser([twin.language]);
  const found: string[] = [];
  for (const { text, helpers, nameOf } of await draftTexts(open, twin, module, sources)) {
    const { sections } = await parseSource(text, twin.language);
    const section = sections.find(({ name }) => name === nameOf(call));
    const tree = section ? parse(text, twin.language) : null;
    if (!section || !tree) continue;
    const names = ["notPorted", ...helpers.keys()].map(escapePattern);
    found.push(...branchesIn(tree.root, section, new RegExp(`\\b(${names.join("|")})\\b`)));
    tree.free();
  }
  return found;
}

/** The original's numbers or texts, those that the twin lacks first; not many. */
function lackingFirst<T>(all: readonly T[], own: readonly T[]): T[] {
  const known = new Set(own);
  return [...all.filter((item) => !known.has(item)), ...all.filter((item) => known.has(item))].slice(0, MAX_LITERALS);
}

async function literalsOfSection(
  folder: string,
  files: readonly string[],
  call: string,
): Promise<ReturnType<typeof literalsOf>> {
  const texts: string[] = [];
  let language: string | null = null;
  for (const file of files) {
    const text = readFileSync(path.join(folder, file), "utf8");
    language = languageIn(file, text);
    const { sections, lines } = await parseSource(text, language);
    const own = sections.filter(({ name }) => name === call || name.startsWith(`${call}.`));
    // Its own text first, then that of the file: what it calls, and its tables.
    texts.unshift(...own.map(({ from, to }) => lines.slice(from - 1, to).join("\n")));
    texts.push(text);
  }
  return literalsOf(texts.join("\n"), findLanguage(language ?? "")?.comments ?? []);
}
