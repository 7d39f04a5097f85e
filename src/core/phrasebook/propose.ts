/** Proposes phrases from what is already ported, each tried on the ported files and on the rest (formats, section 10). Pure. */
import { SideTwinError } from "@/core/errors";
import { type Phrase, parsePhrasebook } from "@/core/formats/phrasebook";
import type { TestPattern } from "@/core/phrasebook/blanks";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { importsOf } from "@/core/phrasebook/imports";
import { learnPhrases, type PortedPair } from "@/core/phrasebook/learn";
import { learnNames } from "@/core/phrasebook/learn-names";
import { runFile } from "@/core/phrasebook/run-file";
import { matchesFile } from "@/core/values/file-pattern";

/** A phrase with how it fares: places and files that support it, ported places it gets wrong, places it would change now. */
export type Proposal = {
  readonly phrase: Readonly<Record<string, unknown>>;
  readonly seen: number;
  readonly sections: number;
  readonly against: number;
  readonly would: number;
};

/** The same file on both sides; `original` is empty where it has none. */
export type BothTexts = {
  readonly file: string;
  readonly language: string;
  readonly original: string;
  readonly twin: string;
};

type Engine = { readonly parse: ParseText; readonly testPattern: TestPattern };

const MAX_PROPOSALS = 60;

/** The best first: none against, then those seen most. */
export function proposePhrases(all: readonly BothTexts[], engine: Engine): Proposal[] {
  const ported = all.filter(({ original, twin }) => original !== twin && original !== "");
  const proposals = candidatesFrom(ported, engine)
    .slice(0, MAX_PROPOSALS)
    .flatMap(({ raw, seen, sections }): Proposal[] => {
      const phrase = toPhrase(raw);
      if (!phrase) return [];
      const { right, wrong } = tryOut(phrase, ported, engine);
      const would = all.reduce(
        (sum, { file, language, twin }) => sum + readyIn(phrase, file, twin, language, engine).length,
        0,
      );
      return right + would === 0 ? [] : [{ phrase: raw, seen: Math.max(seen, right), sections, against: wrong, would }];
    });
  return proposals.sort(
    (a, b) => Number(a.against > 0) - Number(b.against > 0) || b.would - a.would || b.seen - a.seen,
  );
}

type Candidate = { readonly raw: Readonly<Record<string, unknown>>; readonly seen: number; readonly sections: number };

function candidatesFrom(ported: readonly BothTexts[], { parse }: Engine): Candidate[] {
  const trees: { free: () => void }[] = [];
  try {
    const pairs: PortedPair[] = ported.flatMap(({ file, language, original, twin }) => {
      const [mine, theirs] = [parse(original, language), parse(twin, language)];
      for (const tree of [mine, theirs]) if (tree) trees.push(tree);
      if (!mine || !theirs || mine.root.hasError || theirs.root.hasError) return [];
      return [
        { file, language, original: { root: mine.root, source: original }, twin: { root: theirs.root, source: twin } },
      ];
    });
    const names = learnNames(
      pairs.map(({ original, twin, language }) => {
        const full = ({ root, source }: PortedPair["original"]) =>
          importsOf(root, source, language).flatMap(({ form }) =>
            (form.names ?? [])
              .map(({ name }) => (form.module === "" ? name : `${form.module}.${name}`))
              .concat(form.names === null ? [form.module] : []),
          );
        return { original: full(original), twin: full(twin) };
      }),
    );
    return [
      ...learnPhrases(pairs).map(({ phrase, seen, files }) => ({ raw: phrase, seen, sections: files.length })),
      ...names.map(({ from, to, keep, seen }, index) => ({
        raw: { id: `learned-name-${index + 1}`, kind: "name", from, to, ...(keep.length > 0 ? { keep } : {}) },
        seen,
        sections: seen,
      })),
    ];
  } finally {
    for (const tree of trees) tree.free();
  }
}

/** Null for what would be no phrase. */
function toPhrase(raw: Candidate["raw"]): Phrase | null {
  try {
    const text = JSON.stringify({ format: "side-twin/phrasebook", version: 1, phrases: [raw] });
    return parsePhrasebook(text, "proposal").phrases[0] ?? null;
  } catch (thrown) {
    if (thrown instanceof SideTwinError) return null;
    throw thrown;
  }
}

function readyIn(phrase: Phrase, file: string, text: string, language: string, engine: Engine) {
  try {
    const run = runFile(file, text, language, {
      phrases: [phrase],
      scales: {},
      ...engine,
      covers: () => true,
      matchesFile,
      isRefused: () => false,
    });
    return run.occurrences.filter(({ state }) => state === "ready");
  } catch (thrown) {
    // A blanked range is not complete code, so it yields no proposal.
    if (thrown instanceof SideTwinError) return [];
    throw thrown;
  }
}

/** On the original's text of ported files: places that changed as the phrase does, and places that did not. */
function tryOut(phrase: Phrase, ported: readonly BothTexts[], engine: Engine): { right: number; wrong: number } {
  let [right, wrong] = [0, 0];
  for (const { file, language, original, twin } of ported) {
    const bare = (text: string) => text.replace(/\s+/g, "");
    const there = bare(twin);
    for (const { after, before } of readyIn(phrase, file, original, language, engine)) {
      if (there.includes(bare(after))) right++;
      // Parts of it may have changed further; an unchanged place is evidence against the phrase.
      else if (there.includes(bare(before))) wrong++;
    }
  }
  return { right, wrong };
}
