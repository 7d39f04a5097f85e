/** Mentions of the old way that no phrase covers: what is left to look at by hand (formats, 19.13). */
import type { Phrase } from "@/core/formats/phrasebook";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { hiddenRanges, isDeclaration, isMember, isWordPart, leavesOf } from "@/core/phrasebook/free-names";
import { importRanges } from "@/core/phrasebook/imports";
import { findDottedNames, isKept } from "@/core/phrasebook/match-lines";
import { oldNames } from "@/core/phrasebook/old-names";
import { isStringType, type Range, regionAt } from "@/core/phrasebook/syntax";
import { wordsOf } from "@/core/phrasebook/template";
import { LineIndex } from "@/core/phrasebook/tracked-text";

export type Leftover = {
  readonly phrase: string;
  readonly file: string;
  readonly line: number;
  readonly text: string;
  readonly in: "code" | "comment" | "string" | "config";
};

/**
 * The leftovers of one file. `places` are those of the phrases in it, on disk; `covers` is whether a phrase looks at the
 * file at all. Linear in the text for each name.
 */
export function leftoversIn(
  file: string,
  disk: string,
  language: string | null,
  terms: {
    readonly phrases: readonly Phrase[];
    readonly places: readonly (Range & { readonly phrase: string })[];
    readonly looksAt: (phrase: Phrase) => boolean;
    readonly matchesFile: (file: string, pattern: string) => boolean;
    readonly parse: ParseText;
  },
): Leftover[] {
  const found: Leftover[] = [];
  const wanted = terms.phrases.flatMap((phrase) =>
    terms.looksAt(phrase) ? oldNames(phrase).map((name) => ({ phrase, name })) : [],
  );
  if (!wanted.some(({ name }) => disk.includes(name.split(".")[0] ?? name))) return found;
  const lines = new LineIndex(disk);
  const tree = language === null ? null : terms.parse(disk, language);
  try {
    const root = tree?.root ?? null;
    const imports = root && language ? importRanges(root, disk, language) : [];
    const seen = new Set<string>();
    const known = new Map<string, ReturnType<typeof declaredIn>>();
    const words = new Map<string, readonly Range[]>();
    for (const { phrase, name } of wanted) {
      for (const at of mentionsOf(disk, phrase, name, words)) {
        if (terms.places.some((place) => place.from <= at.from && at.to <= place.to)) continue;
        const { line } = lines.placeOf(at.from);
        const around = lines.linesAround(at.from, at.to);
        if (isExcepted(phrase, file, around, terms.matchesFile)) continue;
        const region = root ? regionAt(root, at.from, at.to) : "config";
        if (root && language && region === "code" && phrase.kind === "code") {
          const { hidden, isOwn } = known.get(name) ?? declaredIn(root, disk, name, language);
          known.set(name, { hidden, isOwn });
          if (hidden.some(({ from, to }) => from <= at.from && at.to <= to)) continue;
          if (isAnother(phrase, name, at, { root, imports, isOwn })) continue;
        }
        if (root && region === "string" && phrase.kind === "code" && !isDocumentation(root, at)) continue;
        const key = `${phrase.id}\0${name}\0${line}\0${region}`;
        if (seen.has(key)) continue;
        seen.add(key);
        found.push({ phrase: phrase.id, file, line, text: around.trim(), in: region });
      }
    }
  } finally {
    tree?.free();
  }
  return found.sort((a, b) => a.line - b.line);
}

function mentionsOf(
  disk: string,
  phrase: Phrase,
  name: string,
  words: Map<string, readonly Range[]>,
): readonly Range[] {
  if (phrase.kind === "name")
    return findDottedNames(disk, name).flatMap(({ full, moved }) => (isKept(full, phrase.keep) ? [] : [moved]));
  const known = words.get(name) ?? wordsIn(disk, name);
  words.set(name, known);
  return known;
}

const isExcepted = (
  phrase: Phrase,
  file: string,
  around: string,
  matches: (file: string, pattern: string) => boolean,
): boolean =>
  phrase.except.some((entry) => matches(file, entry.file) && (entry.text === undefined || around.includes(entry.text)));

/** A text that is a statement by itself documents the code; others are data, in which a name may mean anything. */
function isDocumentation(root: Parameters<typeof regionAt>[0], { from, to }: Range): boolean {
  for (let node = root.descendantForIndex(from, to); node; node = node.parent)
    if (isStringType(node.type) && !isStringType(node.parent?.type ?? ""))
      return /statement$/.test(node.parent?.type ?? "");
  return false;
}

/**
 * Another thing of the same name: a plain function where the pattern calls a member, and the other way round; import lines,
 * which go with their uses; and names that the file declares itself.
 */
function isAnother(
  phrase: Phrase,
  name: string,
  at: Range,
  {
    root,
    imports,
    isOwn,
  }: { readonly root: Parameters<typeof regionAt>[0]; readonly imports: readonly Range[]; readonly isOwn: boolean },
): boolean {
  if (imports.some(({ from, to }) => from <= at.from && at.to <= to)) return true;
  if (isOwn) return true;
  const leaf = root.descendantForIndex(at.from, at.to);
  if (!leaf || leaf.endIndex - leaf.startIndex !== name.length || root.hasError) return false;
  const isMemberThere = new RegExp(String.raw`(?:\.|->|::)\s*${name.replace(/\$/g, "\\$")}(?![\w$])`).test(phrase.from);
  return isMember(leaf) !== isMemberThere;
}

/** Where a file has locals of a name, and whether it declares it for all. Cost: linear in the text. */
function declaredIn(
  root: Parameters<typeof regionAt>[0],
  disk: string,
  name: string,
  language: string,
): { readonly hidden: readonly Range[]; readonly isOwn: boolean } {
  const leaves = leavesOf(root, disk, name);
  return { hidden: hiddenRanges(leaves, language), isOwn: !root.hasError && declaresItself(leaves) };
}

/** The file in which the old thing itself lives. */
const declaresItself = (leaves: readonly Leaf[]): boolean =>
  leaves.some((leaf) => isOutermost(leaf) && isDeclaration(leaf));

type Leaf = ReturnType<typeof leavesOf>[number];

/** Within no function; a method's own name lies in its class. */
function isOutermost(leaf: Leaf): boolean {
  for (let node = leaf.parent?.parent ?? null; node; node = node.parent)
    if (
      /body$|^block$|compound_statement|statement_block/.test(node.type) &&
      !/class|impl|struct|interface|module/.test(node.parent?.type ?? "")
    )
      return false;
  return true;
}

/** How often a text names the new way in code: words of `to` that `from` does not have. `known` has counts of the same text. */
export function countNew(disk: string, phrase: Phrase, known: Map<string, number> = new Map()): number {
  const old = new Set(wordsOf(phrase.from));
  const names =
    phrase.kind === "name"
      ? [phrase.to]
      : wordsOf(phrase.to.replace(/\(:\w+(?:\.\.)?:\)/g, " ")).filter((word) => !old.has(word) && word.length > 2);
  let count = 0;
  for (const name of new Set(names)) {
    const own = known.get(name) ?? wordsIn(disk, name).length;
    known.set(name, own);
    count += own;
  }
  return count;
}

/** The places of a name that is not a part of a longer word. */
function wordsIn(disk: string, name: string): Range[] {
  const found: Range[] = [];
  for (let at = disk.indexOf(name); name !== "" && at >= 0; at = disk.indexOf(name, at + name.length))
    if (!isWordPart(disk, at - 1) && !isWordPart(disk, at + name.length))
      found.push({ from: at, to: at + name.length });
  return found;
}
