/** Runs a phrasebook over the files of a twin: every place, and every text as it would be. Pure. */

import { SideTwinError } from "@/core/errors";
import type { Phrase, Scale } from "@/core/formats/phrasebook";
import type { TestPattern } from "@/core/phrasebook/blanks";
import type { ParsedTree, ParseText } from "@/core/phrasebook/code-pattern";
import { countNew, type Leftover, leftoversIn } from "@/core/phrasebook/leftovers";
import { hasContent, importsAfterMoves, type Move, targetOf } from "@/core/phrasebook/moves";
import { oldNames } from "@/core/phrasebook/old-names";
import { type Occurrence, type RunTerms, runFile } from "@/core/phrasebook/run-file";
import { matchesFile } from "@/core/values/file-pattern";

/** A text with its language; null for what is not code. */
export type BookFile = { readonly file: string; readonly disk: string; readonly language: string | null };

/** Plain data, since it goes to a thread. */
export type BookInput = {
  /** Those that run, in their order. */
  readonly phrases: readonly Phrase[];
  /** Those whose leftovers are looked for. */
  readonly book: readonly Phrase[];
  readonly scales: Readonly<Record<string, Scale>>;
  readonly files: readonly BookFile[];
  /** All names of the twin, also of files that are not read: no move may meet one. */
  readonly names: readonly string[];
  readonly modules: readonly { readonly name: string; readonly files: readonly string[] }[];
  /** Places that stay, as `FILE:LINE`. */
  readonly not: readonly string[];
  /** Id of a phrase → the file that has it, for errors. */
  readonly origins: ReadonlyMap<string, string>;
};

/** Old and new of one module. */
export type Mixed = { readonly module: string; readonly old: number; readonly new: number };

export type BookRun = {
  readonly occurrences: readonly Occurrence[];
  /** File → text, where it is another than on disk. */
  readonly texts: ReadonlyMap<string, string>;
  readonly moves: readonly Move[];
  readonly leftovers: readonly Leftover[];
  readonly mixed: readonly Mixed[];
  /** Exceptions that match nothing any more. */
  readonly lapsed: readonly { readonly phrase: string; readonly file: string; readonly text: string | null }[];
  /** Code with a syntax error, which phrases of code and names leave alone. */
  readonly unsound: readonly string[];
};

/** The results of the phrases in one file, independent of all others: plain data that can be cached. */
export type FilePlaces = {
  readonly file: string;
  readonly occurrences: readonly Occurrence[];
  /** The text after all phrases; null where it is as on disk. */
  readonly text: string | null;
  /** False for code with a syntax error. */
  readonly isSound: boolean;
  /** Exceptions that matched a place, as `phrase index`. */
  readonly usedExceptions: readonly string[];
  readonly leftovers: readonly Leftover[];
  /** How often it names the new way. */
  readonly fresh: number;
  /** Phrases that move files → whether it holds what they ask for. */
  readonly holds: Readonly<Record<string, boolean>>;
};

/** Parser, and the time-limited test of a person's patterns. */
export type BookEngine = { readonly parse: ParseText; readonly testPattern: TestPattern };

/** Input of a run over one file; plain data. */
export type FileTerms = Pick<BookInput, "phrases" | "book" | "scales" | "not" | "origins">;

/**
 * Runs the phrases over one file. Throws SideTwinError for a phrase that is not code of its language, and for a pattern
 * that takes too long. Cost: the file is parsed once, and what a phrase changes of it again.
 */
export function placesInFile({ file, disk, language }: BookFile, input: FileTerms, engine: BookEngine): FilePlaces {
  const { phrases, book } = input;
  const shared = shareTrees(engine.parse, disk);
  const terms = termsOf(input, { ...engine, parse: shared.parse });
  return naming(input.origins, () => {
    try {
      const run = runFile(file, disk, language, terms);
      const counts = new Map<string, number>();
      return {
        file,
        occurrences: run.occurrences,
        text: run.text === disk ? null : run.text,
        isSound: run.isSound,
        usedExceptions: [...run.usedExceptions],
        leftovers: leftoversIn(file, disk, language, {
          ...terms,
          phrases: book,
          places: run.occurrences,
          looksAt: (phrase) => !isNot(phrase, file),
        }),
        fresh: book
          .filter((phrase) => isNamed(phrase) && terms.covers(phrase, file))
          .reduce((count, phrase) => count + countNew(disk, phrase, counts), 0),
        holds: Object.fromEntries(
          phrases.flatMap((phrase) => {
            if (phrase.kind !== "file" || !phrase.when || !terms.covers(phrase, file)) return [];
            if (!targetOf(file, phrase, engine.testPattern)) return [];
            return [[phrase.id, hasContent(disk, language, phrase.when.has, shared.parse)]];
          }),
        ),
      };
    } finally {
      shared.free();
    }
  });
}

/**
 * Puts together what was found in each file, and moves files. `found` has the places of every file of `input.files`, in
 * their order. Throws SideTwinError.
 */
export function joinBook(
  input: BookInput,
  found: readonly FilePlaces[],
  engine: Pick<BookEngine, "testPattern">,
): Omit<BookRun, "texts"> {
  const { phrases, files } = input;
  const terms = termsOf(input, { ...engine, parse: () => null });
  return naming(input.origins, () => {
    const moved = findMoves(files, terms, { names: input.names, found });
    const occurrences = [...found.flatMap((entry) => entry.occurrences), ...moved.occurrences];
    const used = new Set([...found.flatMap(({ usedExceptions }) => usedExceptions), ...moved.usedExceptions]);
    const leftovers = found.flatMap((entry) => entry.leftovers);
    return {
      occurrences,
      moves: moved.moves,
      leftovers,
      mixed: mixedModules(input, { occurrences, leftovers, found }),
      lapsed: phrases.flatMap((phrase) =>
        phrase.except.flatMap(({ file, text }, index) =>
          used.has(`${phrase.id} ${index}`) ? [] : [{ phrase: phrase.id, file, text: text ?? null }],
        ),
      ),
      unsound: found.filter(({ isSound }) => !isSound).map(({ file }) => file),
    };
  });
}

/** File → text, where it is another than on disk: by phrases, or as its imports follow `moves`. */
export function textsAfter(
  { files, names }: Pick<BookInput, "files" | "names">,
  found: readonly Pick<FilePlaces, "text">[],
  moves: readonly Move[],
  parse: ParseText,
): Map<string, string> {
  const texts = new Map(
    files.map(({ file, disk, language }, index) => [file, { text: found[index]?.text ?? disk, language }]),
  );
  followMoves(texts, moves, new Set(names), parse);
  return new Map(files.flatMap(({ file, disk }) => changedText(file, disk, texts.get(file)?.text)));
}

/** All of it at once. Throws SideTwinError as its parts do. */
export function runBook(input: BookInput, engine: BookEngine): BookRun {
  const found = input.files.map((file) => placesInFile(file, input, engine));
  const joined = joinBook(input, found, engine);
  return { ...joined, texts: textsAfter(input, found, joined.moves, engine.parse) };
}

function termsOf({ phrases, scales, not }: FileTerms, engine: BookEngine): RunTerms {
  const refused = new Set(not);
  return {
    ...engine,
    phrases,
    scales,
    covers: (phrase, file) => isIn(phrase, file) && !isNot(phrase, file),
    matchesFile: (file, pattern) => file === pattern || matchesFile(file, pattern),
    isRefused: (_, file, line) => refused.has(`${file}:${line}`),
  };
}

/** A parser that makes one tree of the text on disk for all who ask for it; `free` frees them. */
function shareTrees(parse: ParseText, disk: string): { readonly parse: ParseText; readonly free: () => void } {
  const trees = new Map<string, ParsedTree | null>();
  return {
    parse: (text, language) => {
      if (text !== disk) return parse(text, language);
      const tree = trees.has(language) ? (trees.get(language) ?? null) : parse(text, language);
      trees.set(language, tree);
      return tree && { ...tree, free: () => undefined };
    },
    free: () => {
      for (const tree of trees.values()) tree?.free();
    },
  };
}

const isNamed = (phrase: Phrase): boolean => phrase.kind === "name" || oldNames(phrase).length > 0;

const changedText = (file: string, disk: string, text: string | undefined): [string, string][] =>
  text === undefined || text === disk ? [] : [[file, text]];

const isIn = (phrase: Phrase, file: string): boolean =>
  phrase.in?.some((pattern) => matchesFile(file, pattern)) ?? true;
const isNot = (phrase: Phrase, file: string): boolean =>
  phrase.not?.some((pattern) => matchesFile(file, pattern)) ?? false;

/** Names the file of the phrase in an error whose key begins with the id of one. */
function naming<T>(origins: ReadonlyMap<string, string>, work: () => T): T {
  try {
    return work();
  } catch (thrown) {
    if (!(thrown instanceof SideTwinError)) throw thrown;
    const { code, what, where = {}, next } = thrown;
    const file = where.file ?? [...origins].find(([id]) => where.key?.startsWith(`${id}.`))?.[1];
    throw new SideTwinError({ code, what, where: { ...where, ...(file ? { file } : {}) }, next }, thrown);
  }
}

function findMoves(
  files: readonly BookFile[],
  terms: RunTerms,
  { names, found }: { readonly names: readonly string[]; readonly found: readonly Pick<FilePlaces, "holds">[] },
): {
  readonly moves: readonly Move[];
  readonly occurrences: readonly Occurrence[];
  readonly usedExceptions: ReadonlySet<string>;
} {
  const moves: Move[] = [];
  const occurrences: Occurrence[] = [];
  const taken = new Set(names);
  const moving = new Set<string>();
  const usedExceptions = new Set<string>();
  for (const phrase of terms.phrases) {
    if (phrase.kind !== "file") continue;
    for (const [index, { file, disk }] of files.entries()) {
      if (!terms.covers(phrase, file)) continue;
      const target = targetOf(file, phrase, terms.testPattern);
      if (!target || ("to" in target && target.to === file)) continue;
      if (phrase.when && !found[index]?.holds[phrase.id]) continue;
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
      const exception = phrase.except.findIndex(
        (entry) => terms.matchesFile(file, entry.file) && (entry.text === undefined || disk.includes(entry.text)),
      );
      if (exception >= 0) {
        usedExceptions.add(`${phrase.id} ${exception}`);
        note("kept", file, phrase.except[exception]?.why ?? "an exception of the phrase", false);
      } else if ("open" in target) note("open", "", target.open, false);
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
  return { moves, occurrences, usedExceptions };
}

/** Changes the relative imports that lead to or from a moved file. */
function followMoves(
  texts: ReadonlyMap<string, { text: string; readonly language: string | null }>,
  moves: readonly Move[],
  files: ReadonlySet<string>,
  parse: ParseText,
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
  { modules }: BookInput,
  all: {
    readonly occurrences: readonly Occurrence[];
    readonly leftovers: readonly Leftover[];
    readonly found: readonly FilePlaces[];
  },
): Mixed[] {
  const freshIn = new Map(all.found.map(({ file, fresh }) => [file, fresh]));
  return modules.flatMap((module) => {
    const own = new Set(module.files);
    const old =
      all.occurrences.filter(({ file, state, line }) => own.has(file) && state !== "kept" && line > 0).length +
      all.leftovers.filter((left) => own.has(left.file) && left.in === "code").length;
    if (old === 0) return [];
    const fresh = module.files.reduce((sum, file) => sum + (freshIn.get(file) ?? 0), 0);
    return fresh > 0 ? [{ module: module.name, old, new: fresh }] : [];
  });
}
