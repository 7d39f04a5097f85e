/** Phrases with the grammars and the limits of this machine: what worker threads do. */
import { type BothTexts, type Proposal, proposePhrases } from "@/core/phrasebook/propose";
import { type BookInput, type BookRun, runBook } from "@/core/phrasebook/run-book";
import { loadParser } from "@/engine/source/parse";
import { testPattern } from "@/engine/within";

/** Throws SideTwinError as `runBook` does. */
export async function runPhrasebook(input: BookInput): Promise<BookRun> {
  const languages = [...input.files, ...input.phrases].flatMap(({ language }) => language ?? []);
  return runBook(input, { parse: await loadParser([...languages, "tsx"]), testPattern });
}

/** As `proposePhrases`. */
export const learnPhrasebook = async (all: readonly BothTexts[]): Promise<Proposal[]> =>
  proposePhrases(all, { parse: await loadParser(all.map(({ language }) => language)), testPattern });
