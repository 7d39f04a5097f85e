/** Runs a port's phrases over the files of a twin: every place, and every file as it would be. Nothing is written. */

import { readFile } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { Phrase } from "@/core/formats/phrasebook";
import type { BookFile, BookRun } from "@/core/phrasebook/run-book";
import type { Occurrence } from "@/core/phrasebook/run-file";
import { languageIn } from "@/core/source/language-of";
import { groupBy } from "@/core/values/group-by";
import { type OpenPhrasebook, openPhrasebook } from "@/service/phrasebook/open-phrasebook";
import { phraseThreads } from "@/service/phrasebook/threads";
import { type OpenPort, twinsFor } from "@/service/port/open-port";

/** A file of the twin as it is and as it would be; `to` differs from `file` where it moves. */
export type ChangedFile = {
  readonly file: string;
  readonly to: string;
  readonly before: Buffer;
  readonly after: Buffer;
  readonly places: number;
};

export type PhraseRun = Pick<BookRun, "leftovers" | "mixed" | "lapsed" | "unsound"> & {
  readonly twin: string;
  readonly folder: string;
  readonly phrases: readonly { readonly id: string; readonly occurrences: readonly Occurrence[] }[];
  readonly changed: readonly ChangedFile[];
};

export type PhraseOptions = {
  readonly twin?: string | undefined;
  /** Phrases that are looked at; all where it is left out. */
  readonly only?: readonly string[] | undefined;
  /** Phrases that run; all where it is left out. */
  readonly run?: readonly string[] | undefined;
  /** Places that stay, as `FILE:LINE`. */
  readonly not?: readonly string[] | undefined;
  /** The phrasebook, where it was opened already. */
  readonly book?: OpenPhrasebook | undefined;
  /** A phrase that is being written: it runs after those of the book. */
  readonly trial?: Phrase | undefined;
};

/** Larger files are data. */
const MAX_BYTES = 2 * 1024 * 1024;

/** Throws SideTwinError for an unknown twin or phrase, for a phrase that is no code of its language, and for a slow pattern. */
export async function runPhrases(open: OpenPort, options: PhraseOptions = {}): Promise<PhraseRun> {
  const [twin] = twinsFor(open, options.twin);
  const book = options.book ?? (await openPhrasebook(open, twin.name));
  refuseUnknown(book.phrases, [...(options.only ?? []), ...(options.run ?? [])]);
  const trial = options.trial ? [options.trial] : [];
  const files = await readFiles(twin.folder, twin.files);
  const run = await phraseThreads.run("runPhrasebook", {
    phrases: [...book.phrases.filter(({ id }) => options.run?.includes(id) ?? true), ...trial],
    book: book.phrases,
    scales: book.scales,
    files: files.map(({ file, disk, language }) => ({ file, disk, language })),
    names: twin.files,
    modules: open.modules.map(({ name, twins }) => ({ name, files: twins[twin.name] ?? [] })),
    not: options.not ?? [],
    origins: book.files,
  });
  const wanted = [...book.phrases, ...trial].filter(({ id }) => options.only?.includes(id) ?? true);
  const byPhrase = groupBy(run.occurrences, ({ phrase }) => phrase);
  return {
    twin: twin.name,
    folder: twin.folder,
    phrases: wanted.map(({ id }) => ({ id, occurrences: byPhrase.get(id) ?? [] })),
    leftovers: run.leftovers.filter(({ phrase }) => wanted.some(({ id }) => id === phrase)),
    mixed: run.mixed,
    changed: changedFiles(files, run),
    lapsed: run.lapsed,
    unsound: run.unsound,
  };
}

function changedFiles(files: readonly TwinFile[], { texts, moves, occurrences }: BookRun): ChangedFile[] {
  const targets = new Map(moves.map(({ from, to }) => [from, to]));
  const applied = new Map<string, number>();
  for (const { file, isApplied } of occurrences) if (isApplied) applied.set(file, (applied.get(file) ?? 0) + 1);
  return files.flatMap(({ file, bytes, encoding }) => {
    const text = texts.get(file);
    const to = targets.get(file) ?? file;
    if (text === undefined && to === file) return [];
    const after = text === undefined ? bytes : Buffer.from(text, encoding);
    return [{ file, to, before: bytes, after, places: applied.get(file) ?? 0 }];
  });
}

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

type TwinFile = BookFile & {
  readonly bytes: Buffer;
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
