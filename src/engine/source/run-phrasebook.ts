/** Phrases with the grammars and the limits of this machine: what worker threads do. */
import type { Move } from "@/core/phrasebook/moves";
import { type BothTexts, type Proposal, proposePhrases } from "@/core/phrasebook/propose";
import {
  type BookFile,
  type BookInput,
  type BookRun,
  type FilePlaces,
  type FileTerms,
  placesInFile,
  runBook,
  textsAfter,
} from "@/core/phrasebook/run-book";
import { loadParser } from "@/engine/source/parse";
import { testPattern } from "@/engine/within";

const languagesOf = (list: readonly { readonly language?: string | null | undefined }[]): string[] =>
  list.flatMap(({ language }) => language ?? []);

/** As `placesInFile`, for some files. */
export async function findPlaces(files: readonly BookFile[], terms: FileTerms): Promise<FilePlaces[]> {
  const parse = await loadParser([...languagesOf(files), ...languagesOf(terms.phrases), "tsx"]);
  return files.map((file) => placesInFile(file, terms, { parse, testPattern }));
}

/** As `textsAfter`. */
export const followMoves = async (
  input: Pick<BookInput, "files" | "names">,
  found: readonly Pick<FilePlaces, "text">[],
  moves: readonly Move[],
): Promise<Map<string, string>> =>
  textsAfter(input, found, moves, await loadParser([...languagesOf(input.files), "tsx"]));

/** As `runBook`. */
export async function runPhrasebook(input: BookInput): Promise<BookRun> {
  const parse = await loadParser([...languagesOf(input.files), ...languagesOf(input.phrases), "tsx"]);
  return runBook(input, { parse, testPattern });
}

/** As `proposePhrases`. */
export const learnPhrasebook = async (all: readonly BothTexts[]): Promise<Proposal[]> =>
  proposePhrases(all, { parse: await loadParser(languagesOf(all)), testPattern });
