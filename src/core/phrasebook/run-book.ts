/** Runs a phrasebook over the files of a twin: every place, and every text as it would be. Pure. */

import { SideTwinError } from "@/core/errors";
import type { Phrase, Scale } from "@/core/formats/phrasebook";
import type { TestPattern } from "@/core/phrasebook/blanks";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { countNew, type Leftover, leftoversIn } from "@/core/phrasebook/leftovers";
import { hasContent, importsAfterMoves, type Move, targetOf } from "@/core/phrasebook/moves";
import { oldNames } from "@/core/phrasebook/old-names";
import { type Occurrence, type RunTerms, runFile } from "@/core/phrasebook/run-file";
import { matchesFile } from "@/core/values/file-pattern";
import { groupBy } from "@/core/values/group-by";

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

/** Throws SideTwinError for a phrase that is no code of its language, and for a pattern that takes too long. */
export function runBook(
  input: BookInput,
  engine: { readonly parse: ParseText; readonly testPattern: TestPattern },
): BookRun {
  const { phrases, book, files } = input;
  const refused = new Set(input.not);
  const terms: RunTerms = {
    ...engine,
    phrases,
    scales: input.scales,
    covers: (phrase, file) => isIn(phrase, file) && !isNot(phrase, file),
    matchesFile: (file, pattern) => file === pattern || matchesFile(file, pattern),
    isRefused: (_, file, line) => refused.has(`${file}:${line}`),
  };
  return naming(input.origins, () => {
    const occurrences: Occurrence[] = [];
    const used = new Set<string>();
    const unsound: string[] = [];
    const texts = new Map(files.map(({ file, disk, language }) => [file, { text: disk, language }]));
    for (const { file, disk, language } of files) {
      const run = runFile(file, disk, language, terms);
      occurrences.push(...run.occurrences);
      for (const key of run.usedExceptions) used.add(key);
      if (!run.isSound) unsound.push(file);
      texts.set(file, { text: run.text, language });
    }
    const moved = findMoves(files, terms, input.names);
    occurrences.push(...moved.occurrences);
    for (const key of moved.usedExceptions) used.add(key);
    followMoves(texts, moved.moves, new Set(input.names), terms);
    const places = groupBy(occurrences, ({ file }) => file);
    const leftovers = files.flatMap(({ file, disk, language }) =>
      leftoversIn(file, disk, language, {
        ...terms,
        phrases: book,
        places: places.get(file) ?? [],
        looksAt: (phrase) => !isNot(phrase, file),
      }),
    );
    return {
      occurrences,
      texts: new Map(files.flatMap(({ file, disk }) => changedText(file, disk, texts.get(file)?.text))),
      moves: moved.moves,
      leftovers,
      mixed: mixedModules(input, { occurrences, leftovers }),
      lapsed: phrases.flatMap((phrase) =>
        phrase.except.flatMap(({ file, text }, index) =>
          used.has(`${phrase.id} ${index}`) ? [] : [{ phrase: phrase.id, file, text: text ?? null }],
        ),
      ),
      unsound,
    };
  });
}

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
  all: readonly string[],
): {
  readonly moves: readonly Move[];
  readonly occurrences: readonly Occurrence[];
  readonly usedExceptions: ReadonlySet<string>;
} {
  const moves: Move[] = [];
  const occurrences: Occurrence[] = [];
  const taken = new Set(all);
  const moving = new Set<string>();
  const usedExceptions = new Set<string>();
  for (const phrase of terms.phrases) {
    if (phrase.kind !== "file") continue;
    for (const { file, disk, language } of files) {
      if (!terms.covers(phrase, file)) continue;
      const target = targetOf(file, phrase, terms.testPattern);
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
  { book, files, modules }: BookInput,
  found: { readonly occurrences: readonly Occurrence[]; readonly leftovers: readonly Leftover[] },
): Mixed[] {
  const texts = new Map(files.map(({ file, disk }) => [file, disk]));
  const named = book.filter((phrase) => phrase.kind === "name" || oldNames(phrase).length > 0);
  return modules.flatMap((module) => {
    const own = new Set(module.files);
    const old =
      found.occurrences.filter(({ file, state, line }) => own.has(file) && state !== "kept" && line > 0).length +
      found.leftovers.filter((left) => own.has(left.file) && left.in === "code").length;
    if (old === 0) return [];
    const fresh = module.files.reduce(
      (sum, file) =>
        named
          .filter((phrase) => isIn(phrase, file) && !isNot(phrase, file))
          .reduce((count, phrase) => count + countNew(texts.get(file) ?? "", phrase), sum),
      0,
    );
    return fresh > 0 ? [{ module: module.name, old, new: fresh }] : [];
  });
}
