/** Runs a port's phrases over the files of a twin: every place, and every file as it would be. Nothing is written. */

import { SideTwinError } from "@/core/errors";
import type { Phrase } from "@/core/formats/phrasebook";
import type { Move } from "@/core/phrasebook/moves";
import { type BookInput, type BookRun, type FilePlaces, type FileTerms, joinBook } from "@/core/phrasebook/run-book";
import type { Occurrence } from "@/core/phrasebook/run-file";
import { groupBy } from "@/core/values/group-by";
import { testPattern } from "@/engine/within";
import { type OpenPhrasebook, openPhrasebook } from "@/service/phrasebook/open-phrasebook";
import { PhraseCache, type TwinFile } from "@/service/phrasebook/phrase-cache";
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
  /** The terms of the run, to repeat it. */
  readonly terms: FileTerms;
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
  /** Cached places: only files that changed since are read again. */
  readonly cache?: PhraseCache | undefined;
};

/** Throws SideTwinError for an unknown twin or phrase, for a phrase that is not code of its language, and for a slow pattern. */
export async function runPhrases(open: OpenPort, options: PhraseOptions = {}): Promise<PhraseRun> {
  const [twin] = twinsFor(open, options.twin);
  const book = options.book ?? (await openPhrasebook(open, twin.name));
  refuseUnknown(book.phrases, [...(options.only ?? []), ...(options.run ?? [])]);
  const trial = options.trial ? [options.trial] : [];
  const kept = (options.cache ?? new PhraseCache()).of(open.file, twin.name);
  const files = await kept.read(twin.folder, twin.files);
  const terms: FileTerms = {
    phrases: book.phrases.filter(({ id }) => options.run?.includes(id) ?? true),
    book: book.phrases,
    scales: book.scales,
    not: options.not ?? [],
    origins: book.files,
  };
  const found = await kept.places(files, terms, options.trial);
  const input: BookInput = {
    ...terms,
    phrases: [...terms.phrases, ...trial],
    files,
    names: twin.files,
    modules: open.modules.map(({ name, twins }) => ({ name, files: twins[twin.name] ?? [] })),
  };
  const joined = joinBook(input, found, { testPattern });
  const wanted = [...book.phrases, ...trial].filter(({ id }) => options.only?.includes(id) ?? true);
  const byPhrase = groupBy(joined.occurrences, ({ phrase }) => phrase);
  const texts = await textsOf(input, found, joined.moves);
  return {
    twin: twin.name,
    folder: twin.folder,
    phrases: wanted.map(({ id }) => ({ id, occurrences: byPhrase.get(id) ?? [] })),
    leftovers: joined.leftovers.filter(({ phrase }) => wanted.some(({ id }) => id === phrase)),
    mixed: joined.mixed,
    // Megabytes that most who ask for places do not look at.
    get changed() {
      return changedFiles(files, { ...joined, texts });
    },
    lapsed: joined.lapsed,
    unsound: joined.unsound,
    terms,
  };
}

/** Imports of moved files have to follow, which takes syntax trees; without a move the texts are final. */
function textsOf(
  { files, names }: BookInput,
  found: readonly FilePlaces[],
  moves: readonly Move[],
): Map<string, string> | Promise<Map<string, string>> {
  if (moves.length === 0)
    return new Map(found.flatMap(({ file, text }): [string, string][] => (text === null ? [] : [[file, text]])));
  const plain = files.map(({ file, disk, language }) => ({ file, disk, language }));
  const texts = found.map(({ text }) => ({ text }));
  return phraseThreads.run("followMoves", { files: plain, names }, texts, moves);
}

function changedFiles(
  files: readonly TwinFile[],
  { texts, moves, occurrences }: Pick<BookRun, "texts" | "moves" | "occurrences">,
): ChangedFile[] {
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
