/** Runs a port's phrases over the files of a twin: every place, and every file as it would be. Nothing is written. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { Phrase } from "@/core/formats/phrasebook";
import { countNew, type Leftover, leftoversIn } from "@/core/phrasebook/leftovers";
import { hasContent, importsAfterMoves, type Move, targetOf } from "@/core/phrasebook/moves";
import { type Occurrence, oldNames, type RunTerms, runFile } from "@/core/phrasebook/run-file";
import { languageIn } from "@/core/source/language-of";
import { matchesFile } from "@/core/values/file-pattern";
import { giveWay } from "@/engine/pace";
import { loadParser } from "@/engine/source/parse";
import { openPhrasebook } from "@/service/phrasebook/open-phrasebook";
import type { OpenPort } from "@/service/port/open-port";

/** A file of the twin as it is and as it would be; `to` differs from `file` where it moves. */
export type ChangedFile = {
  readonly file: string;
  readonly to: string;
  readonly before: Buffer;
  readonly after: Buffer;
  readonly places: number;
};

/** Old and new of one module. */
export type Mixed = { readonly module: string; readonly old: number; readonly new: number };

export type PhraseRun = {
  readonly twin: string;
  readonly folder: string;
  readonly phrases: readonly { readonly id: string; readonly occurrences: readonly Occurrence[] }[];
  readonly leftovers: readonly Leftover[];
  readonly mixed: readonly Mixed[];
  readonly changed: readonly ChangedFile[];
  /** Exceptions that match nothing any more. */
  readonly lapsed: readonly { readonly phrase: string; readonly file: string; readonly text: string | null }[];
  /** Code with a syntax error, which phrases of code and names leave alone. */
  readonly unsound: readonly string[];
};

export type PhraseOptions = {
  readonly twin?: string | undefined;
  /** Phrases that are looked at; all where it is left out. */
  readonly only?: readonly string[] | undefined;
  /** Phrases that run; all where it is left out. */
  readonly run?: readonly string[] | undefined;
  /** Places that stay, as `FILE:LINE`. */
  readonly not?: readonly string[] | undefined;
  /** A phrase that is being written: it runs after those of the book. */
  readonly trial?: Phrase | undefined;
};

/** Larger files are data. */
const MAX_BYTES = 2 * 1024 * 1024;

/** Throws SideTwinError for an unknown twin or phrase, and for a phrase that is no code of its language. */
export async function runPhrases(open: OpenPort, options: PhraseOptions = {}): Promise<PhraseRun> {
  const twin = open.twins.find(({ name }) => options.twin === undefined || name === options.twin);
  if (!twin)
    throw new SideTwinError({
      code: "not-found",
      what: `There is no twin "${options.twin}"`,
      next: `Twins: ${open.twins.map(({ name }) => name).join(", ")}.`,
    });
  const book = await openPhrasebook(open, twin.name);
  refuseUnknown(book.phrases, [...(options.only ?? []), ...(options.run ?? [])]);
  const phrases = [
    ...book.phrases.filter(({ id }) => options.run === undefined || options.run.includes(id)),
    ...(options.trial ? [options.trial] : []),
  ];
  const files = await readFiles(twin.folder, twin.files);
  const parse = await loadParser([
    ...files.flatMap(({ language }) => language ?? []),
    ...phrases.flatMap(({ language }) => language ?? []),
    "tsx",
  ]);
  const terms: RunTerms = {
    phrases,
    scales: book.scales,
    parse,
    covers: (phrase, file) => isIn(phrase, file) && !isNot(phrase, file),
    matchesFile: (file, pattern) => file === pattern || matchesFile(file, pattern),
    isRefused: (_, file, line) => options.not?.includes(`${file}:${line}`) ?? false,
  };
  const occurrences: Occurrence[] = [];
  const used = new Set<string>();
  const unsound: string[] = [];
  const texts = new Map<
    string,
    {
      readonly before: Buffer;
      readonly disk: string;
      text: string;
      places: number;
      readonly language: string | null;
      readonly encoding: BufferEncoding;
    }
  >();
  for (const [index, { file, bytes, disk, language, encoding }] of files.entries()) {
    const run = guarded(() => runFile(file, disk, language, terms), phrases, book.files);
    occurrences.push(...run.occurrences);
    for (const key of run.usedExceptions) used.add(key);
    if (!run.isSound) unsound.push(file);
    texts.set(file, {
      before: bytes,
      disk,
      text: run.text,
      language,
      encoding,
      places: run.occurrences.filter(({ isApplied }) => isApplied).length,
    });
    if (index % FILES_A_TURN === 0) await giveWay();
  }
  const moved = findMoves(phrases, files, terms, twin.files);
  occurrences.push(...moved.occurrences);
  followMoves(texts, moved.moves, new Set(twin.files), terms);
  const leftovers: Leftover[] = [];
  for (const { file, disk, language } of files) {
    const places = occurrences.filter((place) => place.file === file);
    leftovers.push(
      ...leftoversIn(file, disk, language, {
        ...terms,
        phrases: book.phrases,
        places,
        looksAt: (phrase) => !isNot(phrase, file),
      }),
    );
  }
  const wanted = [...book.phrases, ...(options.trial ? [options.trial] : [])].filter(
    ({ id }) => options.only === undefined || options.only.includes(id),
  );
  const of = new Map(moved.moves.map(({ from, to }) => [from, to]));
  return {
    twin: twin.name,
    folder: twin.folder,
    phrases: wanted.map(({ id }) => ({ id, occurrences: occurrences.filter(({ phrase }) => phrase === id) })),
    leftovers: leftovers.filter(({ phrase }) => wanted.some(({ id }) => id === phrase)),
    mixed: mixedModules(open, twin.name, book.phrases, { occurrences, leftovers, files }),
    changed: [...texts].flatMap(([file, { before, text, encoding, places }]) => {
      const after = Buffer.from(text, encoding);
      const to = of.get(file) ?? file;
      return to === file && after.equals(before)
        ? []
        : [{ file, to, before, after, places: places + (to === file ? 0 : 1) }];
    }),
    lapsed: phrases.flatMap((phrase) =>
      phrase.except.flatMap(({ file, text }, index) =>
        used.has(`${phrase.id} ${index}`) ? [] : [{ phrase: phrase.id, file, text: text ?? null }],
      ),
    ),
    unsound,
  };
}

const FILES_A_TURN = 50;

const isIn = (phrase: Phrase, file: string): boolean =>
  phrase.in?.some((pattern) => matchesFile(file, pattern)) ?? true;
const isNot = (phrase: Phrase, file: string): boolean =>
  phrase.not?.some((pattern) => matchesFile(file, pattern)) ?? false;

function refuseUnknown(phrases: readonly Phrase[], wanted: readonly string[]): void {
  const unknown = wanted.find((id) => !phrases.some((phrase) => phrase.id === id));
  if (unknown === undefined) return;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no phrase "${unknown}"`,
    next: `Phrases: ${phrases
      .map(({ id }) => id)
      .slice(0, 20)
      .join(", ")}.`,
  });
}

/** Names the file of the phrase in an error of its pattern. */
function guarded<T>(work: () => T, phrases: readonly Phrase[], files: ReadonlyMap<string, string>): T {
  try {
    return work();
  } catch (thrown) {
    if (thrown instanceof SideTwinError) {
      const { code, what, where = {}, next } = thrown;
      const file = where.file ?? [...files].find(([id]) => where.key?.startsWith(`${id}.`))?.[1];
      throw new SideTwinError({ code, what, where: { ...where, ...(file ? { file } : {}) }, next }, thrown);
    }
    throw new SideTwinError(
      {
        code: "bad-input",
        what: `The phrases ${phrases.map(({ id }) => id).join(", ")} cannot be run`,
        next: "Try them one by one.",
      },
      thrown,
    );
  }
}

type TwinFile = {
  readonly file: string;
  readonly bytes: Buffer;
  readonly disk: string;
  readonly language: string | null;
  /** Bytes that are not UTF-8 are read one by one, so that every byte outside of places stays. */
  readonly encoding: BufferEncoding;
};

async function readFiles(folder: string, files: readonly string[]): Promise<TwinFile[]> {
  const read: TwinFile[] = [];
  for (const file of files) {
    const bytes = await readFile(path.join(folder, file)).catch(() => null);
    // Pictures and archives hold zero bytes; what cannot be read holds no places.
    if (!bytes || bytes.length > MAX_BYTES || bytes.subarray(0, 8000).includes(0)) continue;
    const utf8 = bytes.toString("utf8");
    const encoding: BufferEncoding = Buffer.from(utf8, "utf8").equals(bytes) ? "utf8" : "latin1";
    const disk = encoding === "utf8" ? utf8 : bytes.toString("latin1");
    read.push({ file, bytes, disk, language: languageIn(file, disk), encoding });
  }
  return read;
}

function findMoves(
  phrases: readonly Phrase[],
  files: readonly TwinFile[],
  terms: RunTerms,
  all: readonly string[],
): { readonly moves: readonly Move[]; readonly occurrences: readonly Occurrence[] } {
  const moves: Move[] = [];
  const occurrences: Occurrence[] = [];
  const taken = new Set(all);
  const moving = new Set<string>();
  for (const phrase of phrases) {
    if (phrase.kind !== "file") continue;
    for (const { file, disk, language } of files) {
      if (!terms.covers(phrase, file)) continue;
      const target = targetOf(file, phrase);
      if (!target || ("to" in target && target.to === file)) continue;
      if (phrase.when && !hasContent(disk, language, phrase.when.has, terms.parse)) continue;
      const note = (state: Occurrence["state"], after: string, why: string | null, isApplied: boolean) =>
        occurrences.push({
          phrase: phrase.id,
          file,
          line: 1,
          column: 1,
          before: file,
          after,
          state,
          why,
          isApplied,
          from: 0,
          to: 0,
        });
      const kept = phrase.except.find(
        (entry) => terms.matchesFile(file, entry.file) && (entry.text === undefined || disk.includes(entry.text)),
      );
      if (kept) note("kept", file, kept.why ?? "an exception of the phrase", false);
      else if ("open" in target) note("open", "", target.open, false);
      else if (moving.has(file)) note("conflict", target.to, "an earlier phrase moves it", false);
      else if (taken.has(target.to) && target.to.toLowerCase() !== file.toLowerCase())
        note("conflict", target.to, `${target.to} is there already`, false);
      else {
        const isRefused = terms.isRefused(phrase, file, 1);
        note("ready", target.to, null, !isRefused);
        if (isRefused) continue;
        moving.add(file);
        taken.add(target.to);
        moves.push({ phrase: phrase.id, from: file, to: target.to });
      }
    }
  }
  return { moves, occurrences };
}

/** Changes the relative imports that lead to or from a moved file. */
function followMoves(
  texts: ReadonlyMap<string, { text: string; readonly language: string | null }>,
  moves: readonly Move[],
  files: ReadonlySet<string>,
  { parse }: RunTerms,
): void {
  if (moves.length === 0) return;
  const of = new Map(moves.map(({ from, to }) => [from, to]));
  for (const [file, entry] of texts) {
    const edits = importsAfterMoves(
      entry.text,
      entry.language,
      { was: file, is: of.get(file) ?? file },
      { moves: of, files, parse },
    );
    for (const { from, to, text } of [...edits].reverse())
      entry.text = entry.text.slice(0, from) + text + entry.text.slice(to);
  }
}

function mixedModules(
  open: OpenPort,
  twin: string,
  phrases: readonly Phrase[],
  found: {
    readonly occurrences: readonly Occurrence[];
    readonly leftovers: readonly Leftover[];
    readonly files: readonly TwinFile[];
  },
): Mixed[] {
  const texts = new Map(found.files.map(({ file, disk }) => [file, disk]));
  const speaking = phrases.filter((phrase) => phrase.kind === "name" || oldNames(phrase).length > 0);
  return open.modules.flatMap((module) => {
    const own = module.twins[twin] ?? [];
    const isOwn = ({ file }: { readonly file: string }) => own.includes(file);
    const old =
      found.occurrences.filter((place) => isOwn(place) && place.state !== "kept" && place.line > 0).length +
      found.leftovers.filter((left) => isOwn(left) && left.in === "code").length;
    const fresh = own.reduce(
      (sum, file) =>
        sum +
        speaking
          .filter((phrase) => isIn(phrase, file) && !isNot(phrase, file))
          .reduce((count, phrase) => count + countNew(texts.get(file) ?? "", phrase), 0),
      0,
    );
    return old > 0 && fresh > 0 ? [{ module: module.name, old, new: fresh }] : [];
  });
}
