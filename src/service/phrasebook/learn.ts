/** Proposes phrases from what is already ported, each tried on the ported files and on the rest (formats, section 10). */
import { readFile } from "node:fs/promises";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { type Phrase, parsePhrasebook } from "@/core/formats/phrasebook";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { importsOf } from "@/core/phrasebook/imports";
import { learnPhrases, type PortedPair } from "@/core/phrasebook/learn";
import { learnNames } from "@/core/phrasebook/learn-names";
import { runFile } from "@/core/phrasebook/run-file";
import { languageIn } from "@/core/source/language-of";
import { matchesFile } from "@/core/values/file-pattern";
import { giveWay } from "@/engine/pace";
import { loadParser } from "@/engine/source/parse";
import type { OpenPort } from "@/service/port/open-port";

/** A phrase with how it fares: places and files that support it, ported places it gets wrong, places it would change now. */
export type Proposal = {
  readonly phrase: Readonly<Record<string, unknown>>;
  readonly seen: number;
  readonly sections: number;
  readonly against: number;
  readonly would: number;
};

type BothTexts = { readonly file: string; readonly language: string; readonly original: string; readonly twin: string };

const MAX_PROPOSALS = 60;

/** The best first: none against, then those seen most. Throws SideTwinError for an unknown twin. */
export async function learnFromPort(open: OpenPort, wanted?: string): Promise<Proposal[]> {
  const twin = open.twins.find(({ name }) => wanted === undefined || name === wanted);
  if (!twin)
    throw new SideTwinError({
      code: "not-found",
      what: `There is no twin "${wanted}"`,
      next: `Twins: ${open.twins.map(({ name }) => name).join(", ")}.`,
    });
  const all = await readBoth(open, twin.name);
  const ported = all.filter(({ original, twin: text }) => original !== text && original !== "");
  const parse = await loadParser(all.map(({ language }) => language));
  const candidates = candidatesFrom(ported, parse);
  const proposals: Proposal[] = [];
  for (const { raw, seen, sections } of candidates.slice(0, MAX_PROPOSALS)) {
    const phrase = toPhrase(raw);
    if (!phrase) continue;
    const tried = tryOut(phrase, ported, parse);
    const would = all.reduce(
      (sum, { file, language, twin: text }) => sum + readyIn(phrase, file, text, language, parse).length,
      0,
    );
    if (tried.right + would === 0) continue;
    proposals.push({ phrase: raw, seen: Math.max(seen, tried.right), sections, against: tried.wrong, would });
    await giveWay();
  }
  return proposals.sort(
    (a, b) => Number(a.against > 0) - Number(b.against > 0) || b.would - a.would || b.seen - a.seen,
  );
}

/** Files of both sides that stand for each other and are of one language. */
async function readBoth(open: OpenPort, twin: string): Promise<BothTexts[]> {
  const side = open.twins.find(({ name }) => name === twin) ?? open.original;
  const read = (folder: string, file: string) => readFile(path.join(folder, file), "utf8").catch(() => "");
  const found: BothTexts[] = [];
  const seen = new Set<string>();
  const add = async (original: string | undefined, file: string) => {
    if (seen.has(file)) return;
    seen.add(file);
    const text = await read(side.folder, file);
    const source = original === undefined ? "" : await read(open.original.folder, original);
    const language = languageIn(file, text);
    if (language === null || (original !== undefined && languageIn(original, source) !== language)) return;
    found.push({ file, language, original: source, twin: text });
  };
  for (const module of open.modules) {
    const own = module.twins[twin] ?? [];
    for (const [index, file] of own.entries())
      await add(
        module.original.find((name) => name === file) ??
          (own.length === module.original.length ? module.original[index] : undefined),
        file,
      );
  }
  for (const file of side.files)
    await add(
      open.original.files.find((name) => name === file),
      file,
    );
  return found;
}

type Candidate = { readonly raw: Readonly<Record<string, unknown>>; readonly seen: number; readonly sections: number };

function candidatesFrom(ported: readonly BothTexts[], parse: ParseText): Candidate[] {
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

function readyIn(phrase: Phrase, file: string, text: string, language: string, parse: ParseText) {
  try {
    const run = runFile(file, text, language, {
      phrases: [phrase],
      scales: {},
      parse,
      covers: () => true,
      matchesFile,
      isRefused: () => false,
    });
    return run.occurrences.filter(({ state }) => state === "ready");
  } catch (thrown) {
    // What was cut out is no code by itself: it proposes nothing.
    if (thrown instanceof SideTwinError) return [];
    throw thrown;
  }
}

/** On the original's text of ported files: places that became what the phrase says, and places that did not. */
function tryOut(phrase: Phrase, ported: readonly BothTexts[], parse: ParseText): { right: number; wrong: number } {
  let [right, wrong] = [0, 0];
  for (const { file, language, original, twin } of ported) {
    const bare = (text: string) => text.replace(/\s+/g, "");
    const there = bare(twin);
    for (const { after, before } of readyIn(phrase, file, original, language, parse)) {
      if (there.includes(bare(after))) right++;
      // Parts of it may have changed further; a place that still stands as it was speaks against the phrase.
      else if (there.includes(bare(before))) wrong++;
    }
  }
  return { right, wrong };
}
