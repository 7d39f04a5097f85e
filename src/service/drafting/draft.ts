/** Writes a first version of sections that are not ported yet, with a snapshot. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { placeDraft } from "@/core/drafting/place-draft";
import { renameIdentifiers } from "@/core/drafting/rename";
import { SideTwinError } from "@/core/errors";
import { mappedFile } from "@/core/pairing/module-map";
import type { PortModule } from "@/core/pairing/modules";
import { convertName, nameCandidates } from "@/core/pairing/naming";
import type { SectionPair } from "@/core/pairing/sections";
import type { BookRun } from "@/core/phrasebook/run-book";
import { findLanguage } from "@/core/source/languages/index";
import type { Section } from "@/core/source/section";
import { readText } from "@/engine/files/text";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { loadParser, parseSource, splitLines } from "@/engine/source/parse";
import { addEntry } from "@/service/journal/journal-file";
import { openPhrasebook } from "@/service/phrasebook/open-phrasebook";
import { phraseThreads } from "@/service/phrasebook/threads";
import { type OpenPort, openPort, twinsFor } from "@/service/port/open-port";
import { type PlacedSource, pairModule, readSources } from "@/service/reading/pair-port";

export type DraftOptions = {
  readonly module: string;
  /** Names in the original, without the module; all that are not ported where it is left out. */
  readonly sections?: readonly string[] | undefined;
  readonly twin?: string | undefined;
  /** Writes sections anew that are ported already. */
  readonly over?: boolean | undefined;
  readonly data: string;
};

/** What a draft could not say, with the original's line. */
export type Unsaid = { readonly line: number; readonly text: string; readonly why: string };

/** `drafted` when nothing is unsaid, `left` when nothing was written. */
export type DraftedSection = {
  readonly original: string;
  readonly twin: string;
  readonly state: "drafted" | "partly" | "left";
  readonly unsaid: readonly Unsaid[];
};

export type DraftedFile = { readonly file: string; readonly sections: readonly DraftedSection[] };
export type DraftEnd = { readonly files: readonly DraftedFile[]; readonly snapshot: string | null };

type Twin = OpenPort["twins"][number];

/**
 * Drafts a module's sections. Throws SideTwinError `not-found` for an unknown module, section or twin, `bad-input` where the two sides
 * are written in different languages.
 */
export async function draftModule(file: string, options: DraftOptions): Promise<DraftEnd> {
  const open = await openPort(file);
  const [twin] = twinsFor(open, options.twin);
  const module = open.modules.find(({ name }) => name === options.module);
  if (!module)
    throw new SideTwinError({
      code: "not-found",
      what: `There is no module "${options.module}"`,
      next: `Modules: ${open.modules
        .slice(0, 20)
        .map(({ name }) => name)
        .join(", ")}.`,
    });
  if (twin.language !== open.original.language)
    throw new SideTwinError({
      code: "bad-input",
      what: `There are no drafts from ${open.original.language} into ${twin.language}`,
      where: { file: path.basename(open.file), key: "twins" },
      next: "Drafts are made within one language. Write the section on the Bench, where a beginning is offered.",
    });
  const sources = await readSources(open.original.folder, module.original);
  refuseUnknown(sources, options);
  const texts = await originalTexts(open, twin, module, sources);
  const ported = await readSources(twin.folder, module.twins[twin.name] ?? []);
  const pairs = pairModule(open, module, { original: sources, twin: ported }, twin.name);
  const made: { drafted: DraftedFile; full: string; before: Buffer | null; after: Buffer }[] = [];
  for (const text of texts) {
    const before = await readFile(path.join(twin.folder, text.target)).catch(() => null);
    const done = await draftFile(open, { text, pairs, ported, before, options });
    if (done.drafted.sections.length > 0) made.push({ ...done, full: text.target, before });
  }
  const changed = made.filter(({ before, after }) => !before?.equals(after));
  const snapshot = changed.length > 0 ? await writeDrafts(open, twin, options, changed) : null;
  return { files: made.map(({ drafted }) => drafted), snapshot };
}

function refuseUnknown(sources: readonly PlacedSource[], { module, sections = [] }: DraftOptions): void {
  const known = sources.flatMap((source) => source.sections.map(({ name }) => name));
  const unknown = sections.find((name) => !known.includes(withoutModule(name, module)));
  if (unknown === undefined) return;
  throw new SideTwinError({
    code: "not-found",
    what: `The module ${module} has no section "${unknown}"`,
    next: `Sections: ${known.slice(0, 20).join(", ")}.`,
  });
}

const withoutModule = (name: string, module: string): string =>
  name.startsWith(`${module}.`) ? name.slice(module.length + 1) : name;

/** A file of the original as the twin would have it. */
type DraftText = {
  readonly source: PlacedSource;
  /** Of the twin. */
  readonly target: string;
  readonly text: string;
  readonly unsaid: readonly Unsaid[];
};

async function originalTexts(
  open: OpenPort,
  twin: Twin,
  module: PortModule,
  sources: readonly PlacedSource[],
): Promise<DraftText[]> {
  const book = await openPhrasebook(open, twin.name, { drafts: true });
  const files = await Promise.all(
    sources.map(async (source) => ({
      source,
      file: targetOf(open, twin, module, source.file),
      disk: await readText(path.join(open.original.folder, source.file)),
      language: source.language,
    })),
  );
  const run: BookRun = await phraseThreads.run("runPhrasebook", {
    // A draft's place is the twin's: it does not move.
    phrases: book.phrases.filter(({ kind }) => kind !== "file"),
    book: book.phrases.filter(({ kind }) => kind !== "file"),
    scales: book.scales,
    files: files.map(({ file, disk, language }) => ({ file, disk, language })),
    names: files.map(({ file }) => file),
    modules: [{ name: module.name, files: files.map(({ file }) => file) }],
    not: [],
    origins: book.files,
  });
  const names = await convertedNames(open);
  const parse = await loadParser([open.original.language]);
  return files.map(({ source, file, disk }) => {
    const text = run.texts.get(file) ?? disk;
    const tree = names.size > 0 ? parse(text, open.original.language) : null;
    const renamed = tree ? renameIdentifiers(tree.root, text, names) : text;
    tree?.free();
    return { source, target: file, text: renamed, unsaid: unsaidIn(run, file, source) };
  });
}

/** Places of phrases that need a person, and old names that no phrase took. */
function unsaidIn(run: BookRun, file: string, { lines }: PlacedSource): Unsaid[] {
  const at = (line: number, why: string): Unsaid => ({ line, text: (lines[line - 1] ?? "").trim(), why });
  return [
    ...run.occurrences
      .filter((place) => place.file === file && (place.state === "open" || place.state === "conflict"))
      .map(({ line, phrase, why }) => at(line, `phrase ${phrase}: ${why ?? "it has to be said by a person"}`)),
    ...run.leftovers
      .filter((place) => place.file === file && place.in === "code")
      .map(({ line, phrase }) => at(line, `phrase ${phrase} does not reach this mention`)),
  ].sort((left, right) => left.line - right.line);
}

/** The file of the twin for one of the original: by the map, of the same name among the module's, or at the same path. */
function targetOf(open: OpenPort, twin: Twin, module: PortModule, file: string): string {
  const own = module.twins[twin.name] ?? [];
  const mapped = mappedFile(open.port.moduleMap, file, new Set(twin.files));
  const index = module.original.indexOf(file);
  const isAlike = (other: string) => path.posix.basename(other) === path.posix.basename(file);
  return (
    own.find(isAlike) ??
    (own.length === module.original.length ? own[index] : undefined) ??
    mapped?.expected ??
    own.at(0) ??
    file
  );
}

/** Simple names of the original's sections whose spelling is another in the twin. */
async function convertedNames(open: OpenPort): Promise<Map<string, string>> {
  const { names } = open.port;
  const found = new Map<string, string>();
  if (names.functions === "same") return found;
  for (const source of await readSources(
    open.original.folder,
    open.modules.flatMap(({ original }) => [...original]),
  ))
    for (const { name, kind } of source.sections) {
      const simple = name.split(".").at(-1) ?? name;
      const converted = convertName(simple, names.functions, names.keep);
      if ((kind === "function" || kind === "method") && converted !== simple) found.set(simple, converted);
    }
  return found;
}

type FileTerms = {
  readonly text: DraftText;
  readonly pairs: readonly SectionPair[];
  readonly ported: readonly PlacedSource[];
  readonly before: Buffer | null;
  readonly options: DraftOptions;
};

async function draftFile(
  open: OpenPort,
  { text, pairs, ported, before, options }: FileTerms,
): Promise<{ drafted: DraftedFile; after: Buffer }> {
  const { source, target, unsaid } = text;
  const { language } = open.original;
  const drafted = await parseSource(text.text, language);
  const old = before?.toString("utf8") ?? "";
  const isThere = old.trim() !== "";
  const twin = isThere ? await parseSource(old, language) : null;
  const paired = new Map<number, Section>();
  for (const [index, section] of source.sections.entries()) {
    const pair = pairs.find((one) => one.original === section.name && one.originalFrom === section.from);
    const there = pair && twin?.sections.find(({ name, from }) => name === pair.twin && from === pair.twinFrom);
    // A constructor that is not written pairs with its class: there is nothing of its own to replace.
    if (there?.kind === "class" && section.kind !== "class") continue;
    if (there) paired.set(index, there);
  }
  /** Ported in another file of the module. */
  const isElsewhere = (section: Section, index: number) =>
    !paired.has(index) &&
    pairs.some((one) => one.original === section.name && one.originalFrom === section.from) &&
    ported.some(({ file }) => file !== target);
  const wanted = options.sections?.map((name) => withoutModule(name, options.module));
  const isWanted = (index: number): boolean => {
    const section = source.sections[index];
    if (!section || (wanted && !wanted.includes(section.name))) return false;
    return options.over ? !isElsewhere(section, index) : !paired.has(index) && !isElsewhere(section, index);
  };
  const isSound = drafted.errorLine === null;
  const blocksByIndentation = findLanguage(language)?.blocksByIndentation ?? false;
  const { lines, written } = isSound
    ? placeDraft({ original: source.sections, drafted, twin, isWanted, paired, blocksByIndentation })
    : { lines: splitLines(old), written: new Set<number>() };
  const sections = source.sections.flatMap((section, index): DraftedSection[] => {
    if (!written.has(index) && !isWanted(index)) return [];
    const own = isSound
      ? unsaid.filter(({ line }) => section.from <= line && line <= section.to)
      : [{ line: section.from, text: section.name, why: `line ${drafted.errorLine} of the draft does not parse` }];
    const known = nameCandidates(section.name, open.port.names);
    const name = paired.get(index)?.name ?? drafted.sections[index]?.name ?? known.at(1) ?? section.name;
    const state = !written.has(index) ? "left" : own.length === 0 ? "drafted" : "partly";
    return [{ original: section.name, twin: name, state, unsaid: own }];
  });
  const eol = /\r\n/.test(isThere ? old : text.text) ? "\r\n" : "\n";
  const after = written.size > 0 ? Buffer.from(`${lines.join(eol)}${eol}`) : (before ?? Buffer.alloc(0));
  return { drafted: { file: target, sections }, after };
}

async function writeDrafts(
  open: OpenPort,
  twin: Twin,
  { module, data }: DraftOptions,
  made: readonly { drafted: DraftedFile; full: string; before: Buffer | null; after: Buffer }[],
): Promise<string> {
  const names = made.flatMap(({ drafted }) =>
    drafted.sections.flatMap(({ original, state }) => (state === "left" ? [] : [original])),
  );
  const what = `draft of ${module}: ${names.slice(0, 8).join(", ")}${names.length > 8 ? " …" : ""}`;
  const { id } = Snapshots.open(data, open.file).change(
    twin.folder,
    what,
    made.map(({ full, after }) => ({ file: full, content: after })),
    new Map(made.flatMap(({ full, before }) => (before ? [[full, before] as const] : []))),
  );
  await addEntry(open.folder, {
    kind: "drafted",
    text: `${names.length} sections drafted in ${made.map(({ full }) => full).join(", ")}; snapshot ${id}`,
    module,
    by: "side-twin",
  });
  return id;
}
