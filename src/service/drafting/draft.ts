/** Writes a first version of sections that are not ported yet, with a snapshot. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { join, type Kind, kindOf } from "@/core/drafting/kinds";
import { describePairs, findPair, isTextTaken } from "@/core/drafting/pairs/index";
import { placeDraft } from "@/core/drafting/place-draft";
import { renameIdentifiers } from "@/core/drafting/rename";
import type { Unsaid } from "@/core/drafting/unsaid";
import { SideTwinError } from "@/core/errors";
import { isRunCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { PortModule } from "@/core/pairing/modules";
import { convertName } from "@/core/pairing/naming";
import type { SectionPair } from "@/core/pairing/sections";
import { targetFileOf } from "@/core/pairing/target-file";
import type { BookRun } from "@/core/phrasebook/run-book";
import { findLanguage } from "@/core/source/languages/index";
import type { Section } from "@/core/source/section";
import { readText } from "@/engine/files/text";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { loadParser, parseSource, splitLines } from "@/engine/source/parse";
import { addEntry } from "@/service/journal/journal-file";
import { openPhrasebook } from "@/service/phrasebook/open-phrasebook";
import { phraseThreads } from "@/service/phrasebook/threads";
import { type OpenPort, openPort, readCases, twinsFor } from "@/service/port/open-port";
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

/** `drafted` when nothing is unsaid, `left` when nothing was written. */
export type DraftedSection = {
  readonly original: string;
  readonly twin: string;
  readonly state: "drafted" | "partly" | "left";
  readonly unsaid: readonly Unsaid[];
};

export type DraftedFile = {
  readonly file: string;
  readonly sections: readonly DraftedSection[];
  /** Untranslated code outside of sections. */
  readonly unsaid: readonly Unsaid[];
};
export type DraftEnd = { readonly files: readonly DraftedFile[]; readonly snapshot: string | null };

type Twin = OpenPort["twins"][number];
type MadeFile = { readonly drafted: DraftedFile; readonly before: Buffer | null; readonly after: Buffer };

/**
 * Drafts a module's sections. Throws SideTwinError `not-found` for an unknown module, section or twin, `bad-input` for a pair of
 * languages that there are no drafts of.
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
  const sources = await readSources(open.original.folder, module.original);
  // An unreadable file is reported with the reason; a draft without it would be a guess.
  for (const name of module.original)
    if (!sources.some((source) => source.file === name)) await readText(path.join(open.original.folder, name));
  refuseUnknown(sources, options);
  const texts = await draftTexts(open, twin, module, sources);
  const ported = await readSources(twin.folder, module.twins[twin.name] ?? []);
  const pairs = pairModule(open, module, { original: sources, twin: ported }, twin.name);
  const made = new Map<string, MadeFile>();
  for (const text of texts) {
    // Several files of the original may go into one of the twin.
    const known = made.get(text.target);
    const before = known ? known.before : await readFile(path.join(twin.folder, text.target)).catch(() => null);
    const terms = { text, pairs, ported, options, twinLanguage: twin.language };
    const { drafted, after } = await draftFile({ ...terms, before: known?.after ?? before });
    if (drafted.sections.length === 0) continue;
    made.set(text.target, {
      drafted: {
        file: text.target,
        sections: [...(known?.drafted.sections ?? []), ...drafted.sections],
        unsaid: [...(known?.drafted.unsaid ?? []), ...drafted.unsaid],
      },
      before,
      after,
    });
  }
  const files = [...made.values()];
  const changed = files.filter(({ before, after }) => !after.equals(before ?? Buffer.alloc(0)));
  const snapshot = changed.length > 0 ? await writeDrafts(open, twin, options, changed) : null;
  return { files: files.map(({ drafted }) => drafted), snapshot };
}

/** Files of the original as the twin's language has them. Throws SideTwinError for a pair of languages without drafts. */
export const draftTexts = (
  open: OpenPort,
  twin: Twin,
  module: PortModule,
  sources: readonly PlacedSource[],
): Promise<DraftText[]> =>
  (isTextTaken(open.original.language, twin.language) ? rewritten : translated)(open, twin, module, sources);

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
export type DraftText = {
  readonly source: PlacedSource;
  /** Of the twin. */
  readonly target: string;
  readonly text: string;
  readonly unsaid: readonly Unsaid[];
  readonly helpers: ReadonlyMap<string, string>;
  /** The draft's name of a section. */
  readonly nameOf: (name: string) => string;
};

/** The original's own text, with the phrases for drafts and the twin's spelling. */
async function rewritten(
  open: OpenPort,
  twin: Twin,
  module: PortModule,
  sources: readonly PlacedSource[],
): Promise<DraftText[]> {
  const book = await openPhrasebook(open, twin.name, { drafts: true });
  // A draft's place is the twin's: it does not move.
  const phrases = book.phrases.filter(({ kind }) => kind !== "file");
  const names = await convertedNames(open);
  const nameOf = (name: string) =>
    name
      .split(".")
      .map((part) => names.get(part) ?? part)
      .join(".");
  const parse = await loadParser([open.original.language]);
  return Promise.all(
    sources.map(async (source) => {
      const file = targetOf(open, twin, module, source.file);
      const disk = await readText(path.join(open.original.folder, source.file));
      // Each by itself, under the name it has in the twin, which several may share.
      const run: BookRun = await phraseThreads.run("runPhrasebook", {
        phrases,
        book: phrases,
        scales: book.scales,
        files: [{ file, disk, language: source.language }],
        names: [file],
        modules: [{ name: module.name, files: [file] }],
        not: [],
        origins: book.files,
      });
      const text = run.texts.get(file) ?? disk;
      const tree = names.size > 0 ? parse(text, open.original.language) : null;
      const renamed = tree ? renameIdentifiers(tree.root, text, names) : text;
      tree?.free();
      return { source, target: file, text: renamed, unsaid: unsaidIn(run, source), helpers: new Map(), nameOf };
    }),
  );
}

/** The original in another language. Throws SideTwinError for a pair of languages that there are no drafts of. */
async function translated(
  open: OpenPort,
  twin: Twin,
  module: PortModule,
  sources: readonly PlacedSource[],
): Promise<DraftText[]> {
  const from = open.original.language;
  const pair = findPair(from, twin.language);
  if (!pair)
    throw new SideTwinError({
      code: "bad-input",
      what: `There are no drafts from ${from} into ${twin.language}`,
      where: { file: path.basename(open.file), key: "twins" },
      next: `Drafts are made within one language, and ${describePairs()}. Write the section on the Bench, where a beginning is offered.`,
    });
  const { names } = open.port;
  const spell = (name: string) => convertName(name, names.functions, names.keep);
  const seen = await seenKinds(open, module.name);
  const parse = await loadParser([from]);
  return Promise.all(
    sources.map(async (source) => {
      const tree = parse(await readText(path.join(open.original.folder, source.file)), from);
      const target = targetOf(open, twin, module, source.file);
      const { errorLine } = source;
      if (!tree || errorLine !== null) {
        tree?.free();
        const why = `line ${errorLine ?? 1} of the original does not parse`;
        const unsaid = source.sections.map(({ name, from }) => ({ line: from, text: name, why }));
        return { source, target, text: "", unsaid, helpers: new Map(), nameOf: spell };
      }
      try {
        const made = pair.translate({
          root: tree.root,
          language: twin.language,
          spell,
          key: (name) => convertName(name, names.keys, names.keep),
          seen: (section) => seen.get(section) ?? [],
          isReshaped: (section) => isReshaped(open, twin, `${module.name}.${section}`),
          importOf: (specifier, name) => importOf(open, twin, { source, target, specifier, name }),
        });
        const nameOf = (name: string) => pair.rename(name.split(".").map(spell).join("."));
        return { source, target, ...made, nameOf };
      } finally {
        tree.free();
      }
    }),
  );
}

const isReshaped = ({ port }: OpenPort, twin: Twin, section: string): boolean =>
  port.hookups.some(
    ({ original, on, args, kwargs, result }) =>
      original === section && (on === undefined || on === twin.name) && (args ?? kwargs ?? result) !== undefined,
  );

/** Section → kinds of its arguments in the shared cases. */
async function seenKinds(open: OpenPort, module: string): Promise<Map<string, (Kind | undefined)[]>> {
  const seen = new Map<string, (Kind | undefined)[]>();
  const see = (section: string, args: readonly Json[]) => {
    const kinds = seen.get(section) ?? [];
    for (const [index, value] of args.entries()) kinds[index] = join(kinds[index], kindOf(value));
    seen.set(section, kinds);
  };
  for (const item of await readCases(open)) {
    if (isRunCase(item) || item.module !== module) continue;
    if ("call" in item) see(item.call, item.args ?? []);
    const classes = new Map<string, string>();
    for (const step of "steps" in item ? item.steps : []) {
      if ("new" in step) {
        see(`${step.new}.__init__`, step.args ?? []);
        if (step.as !== undefined) classes.set(step.as, step.new);
      } else if ("call" in step)
        see(step.on === undefined ? step.call : `${classes.get(step.on)}.${step.call}`, step.args ?? []);
    }
  }
  return seen;
}

type Sought = {
  readonly source: PlacedSource;
  readonly target: string;
  readonly specifier: string;
  /** The imported name; null where the module itself is named. */
  readonly name: string | null;
};

/** How the twin imports a module of the port; null for one that is not the port's. */
function importOf(open: OpenPort, twin: Twin, { source, target, specifier, name }: Sought): string | null {
  const files = new Set(open.original.files);
  const dots = /^\.*/.exec(specifier)?.[0].length ?? 0;
  const inside = specifier.slice(dots).split(".").filter(Boolean).join("/");
  const folder = path.posix.dirname(source.file);
  const bases =
    dots > 0
      ? [path.posix.join(folder, ...Array<string>(dots - 1).fill(".."))]
      : [folder, ".", ...(open.original.call?.path ?? [])];
  const found = bases.map((base) => `${path.posix.join(base, inside)}.py`).find((file) => files.has(file));
  const module = found && open.modules.find(({ original }) => original.includes(found));
  if (!found || !module || (name === null && inside === "")) return null;
  const relative = path.posix.relative(path.posix.dirname(target), targetOf(open, twin, module, found));
  const plain = (relative.startsWith(".") ? relative : `./${relative}`).replace(/\.\w+$/, "");
  return plain + (twin.language === "javascript" ? path.posix.extname(relative) : "");
}

/** Places of phrases that need a person, and old names that no phrase took. */
function unsaidIn(run: BookRun, { lines }: PlacedSource): Unsaid[] {
  const at = (line: number, why: string): Unsaid => ({ line, text: (lines[line - 1] ?? "").trim(), why });
  return [
    ...run.occurrences
      .filter(({ state }) => state === "open" || state === "conflict")
      .map(({ line, phrase, why }) => at(line, `phrase ${phrase}: ${why ?? "it has to be written by a person"}`)),
    ...run.leftovers
      .filter((place) => place.in === "code")
      .map(({ line, phrase }) => at(line, `phrase ${phrase} does not reach this mention`)),
  ].sort((left, right) => left.line - right.line);
}

const targetOf = (open: OpenPort, twin: Twin, module: PortModule, file: string): string =>
  targetFileOf(file, {
    moduleMap: open.port.moduleMap,
    language: twin.language,
    files: twin.files,
    original: module.original,
    own: module.twins[twin.name] ?? [],
  });

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
  readonly twinLanguage: string;
};

async function draftFile({
  text,
  pairs,
  ported,
  before,
  options,
  twinLanguage,
}: FileTerms): Promise<{ drafted: DraftedFile; after: Buffer }> {
  const { source, target, unsaid, helpers, nameOf } = text;
  const drafted = await parseSource(text.text, twinLanguage);
  const old = before?.toString("utf8") ?? "";
  const isThere = old.trim() !== "";
  const twin = isThere ? await parseSource(old, twinLanguage) : null;
  const paired = new Map<number, Section>();
  for (const [index, section] of source.sections.entries()) {
    const pair = pairs.find((one) => one.original === section.name && one.originalFrom === section.from);
    const named = twin?.sections.filter(({ name }) => name === pair?.twin) ?? [];
    // Lines are others where a file of the module was drafted into this one before.
    const there = named.find(({ from }) => from === pair?.twinFrom) ?? named.at(0);
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
  const blocksByIndentation = findLanguage(twinLanguage)?.blocksByIndentation ?? false;
  const { lines, written } = isSound
    ? placeDraft({ original: source.sections, drafted, twin, isWanted, paired, nameOf, helpers, blocksByIndentation })
    : { lines: splitLines(old), written: new Set<number>() };
  const sections = source.sections.flatMap((section, index): DraftedSection[] => {
    if (!written.has(index) && !isWanted(index)) return [];
    const inside = unsaid.filter(({ line }) => section.from <= line && line <= section.to);
    // The enclosing statement was left untranslated as a whole.
    const around = unsaid.filter(({ line }) => line < section.from).slice(-1);
    const own = isSound
      ? inside.length === 0 && !written.has(index)
        ? around
        : inside
      : [{ line: section.from, text: section.name, why: `line ${drafted.errorLine} of the draft does not parse` }];
    const name = paired.get(index)?.name ?? nameOf(section.name);
    const state = !written.has(index) ? "left" : own.length === 0 ? "drafted" : "partly";
    return [{ original: section.name, twin: name, state, unsaid: own }];
  });
  const eol = /\r\n/.test(isThere ? old : text.text) ? "\r\n" : "\n";
  const after = written.size > 0 ? Buffer.from(`${lines.join(eol)}${eol}`) : (before ?? Buffer.alloc(0));
  const isInside = (line: number) => source.sections.some(({ from, to }) => from <= line && line <= to);
  const outside = wanted ? [] : unsaid.filter(({ line }) => !isInside(line));
  return { drafted: { file: target, sections, unsaid: sections.length > 0 ? outside : [] }, after };
}

async function writeDrafts(
  open: OpenPort,
  twin: Twin,
  { module, data }: DraftOptions,
  made: readonly MadeFile[],
): Promise<string> {
  const names = made.flatMap(({ drafted }) =>
    drafted.sections.flatMap(({ original, state }) => (state === "left" ? [] : [original])),
  );
  const what = `draft of ${module}: ${names.slice(0, 8).join(", ")}${names.length > 8 ? " …" : ""}`;
  const { id } = Snapshots.open(data, open.file).change(
    twin.folder,
    what,
    made.map(({ drafted, after }) => ({ file: drafted.file, content: after })),
    new Map(made.flatMap(({ drafted, before }) => (before ? [[drafted.file, before] as const] : []))),
  );
  await addEntry(open.folder, {
    kind: "drafted",
    text: `${names.length} sections drafted in ${made.map(({ drafted }) => drafted.file).join(", ")}; snapshot ${id}`,
    module,
    by: "side-twin",
  });
  return id;
}
