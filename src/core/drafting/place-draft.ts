/** Inserts drafted sections into a twin's file; existing text stays, missing sections go where they belong. Pure. */
import type { Import, Section } from "@/core/source/section";

/** A file taken apart; lines count from 1. */
type Parsed = {
  readonly lines: readonly string[];
  readonly sections: readonly Section[];
  readonly imports: readonly Import[];
};

export type DraftInput = {
  /** The original's sections, of which `wanted` and `paired` have the indices. */
  readonly original: readonly Section[];
  /** The original's text as the twin would have it. */
  readonly drafted: Parsed;
  /** The twin's file; null while there is none. */
  readonly twin: Parsed | null;
  /** Whether to draft a section: one requested by name, one not ported yet, or one to draft again. */
  readonly isWanted: (index: number) => boolean;
  /** Index of an original's section → its section in the twin. */
  readonly paired: ReadonlyMap<number, Section>;
  /** The draft's name of a section of the original, where the two are not laid out alike. */
  readonly nameOf: (name: string) => string;
  /** Functions that the draft may call, by name; they may call each other. */
  readonly helpers: ReadonlyMap<string, string>;
  /** Such languages keep two blank lines between sections. */
  readonly blocksByIndentation: boolean;
};

export type PlacedDraft = {
  readonly lines: readonly string[];
  /** Indices of the sections that were written. */
  readonly written: ReadonlySet<number>;
};

type Change = { readonly at: number; readonly drop: number; readonly lines: readonly string[] };

/** The file's lines with the drafts, and what was written. Cost: sections squared. */
export function placeDraft(input: DraftInput): PlacedDraft {
  const { lines, added, written } = input.twin === null ? wholeFile(input) : intoFile(input, input.twin);
  return { lines: [...lines, ...helperLines(input, lines, added)], written };
}

type Made = PlacedDraft & { readonly added: readonly string[] };

/** The helpers that what was added calls, and those that they call, where the file has none of the name. */
function helperLines({ helpers, twin }: DraftInput, lines: readonly string[], added: readonly string[]): string[] {
  const known = new Set(twin?.sections.map(({ name }) => name));
  const taken = new Map<string, string>();
  const waiting = [added.join("\n")];
  for (let text = waiting.pop(); text !== undefined; text = waiting.pop())
    for (const [name, helper] of helpers) {
      if (known.has(name) || taken.has(name) || !mentions(text, name)) continue;
      taken.set(name, helper);
      waiting.push(helper);
    }
  const isBlank = lines.length === 0 || lines.at(-1)?.trim() === "";
  return [...taken.values()].flatMap((text, index) => [...(index === 0 && isBlank ? [] : [""]), ...text.split("\n")]);
}

const mentions = (text: string, name: string): boolean =>
  new RegExp(`(?<![\\w$]|(?<!\\.\\.)\\.)${escapeText(name)}(?![\\w$])`).test(text);

/** Index of a section → the one that holds it, the innermost. */
function parentsOf(sections: readonly Section[]): (number | null)[] {
  return sections.map((section, index) => {
    let best: number | null = null;
    for (const [other, { from, to }] of sections.entries()) {
      const isAround =
        from <= section.from && section.to <= to && (to - from > section.to - section.from || other < index);
      if (other !== index && isAround && (best === null || from >= (sections[best]?.from ?? 0))) best = other;
    }
    return best;
  });
}

/** The drafted section of an original's: phrases may rename but rarely add or drop any. */
function draftedOf({ original, drafted, nameOf }: DraftInput, index: number): Section | undefined {
  if (drafted.sections.length === original.length) return drafted.sections[index];
  const own = original[index];
  return own && drafted.sections.find(({ name }) => name === own.name || name === nameOf(own.name));
}

function wholeFile(input: DraftInput): Made {
  const { original, drafted, isWanted } = input;
  const parents = parentsOf(original);
  const isTaken = (index: number): boolean =>
    isWanted(index) ||
    original[index]?.kind === "constant" ||
    original.some((_section, inner) => parents[inner] === index && isWanted(inner));
  const written = new Set<number>();
  const dropped = new Set<number>();
  for (const [index] of original.entries()) {
    const parent = parents[index] ?? null;
    const top = parent === null ? index : rootOf(parents, parent);
    if (isTaken(top)) {
      if (draftedOf(input, index)) written.add(index);
    } else if (parent === null) {
      const own = draftedOf(input, index);
      for (let line = own?.from ?? 1; own && line <= own.to; line++) dropped.add(line);
    }
  }
  const lines = drafted.lines.filter((_line, at) => !dropped.has(at + 1));
  return { lines: dropped.size > 0 ? withoutGaps(lines) : lines, added: lines, written };
}

function rootOf(parents: readonly (number | null)[], index: number): number {
  let at = index;
  for (let parent = parents[at]; parent !== null && parent !== undefined; parent = parents[at]) at = parent;
  return at;
}

/** At most two blank lines in a row. */
function withoutGaps(lines: readonly string[]): string[] {
  return lines.filter((line, at) => line.trim() !== "" || lines[at - 1]?.trim() !== "" || lines[at - 2]?.trim() !== "");
}

function intoFile(input: DraftInput, twin: Parsed): Made {
  const { original, drafted, isWanted, paired } = input;
  const parents = parentsOf(original);
  const written = new Set<number>();
  const changes: Change[] = [];
  const gap = input.blocksByIndentation ? 2 : 1;
  const textOf = ({ from, to }: Section) => drafted.lines.slice(from - 1, to);
  for (const [index] of original.entries()) {
    const own = draftedOf(input, index);
    const parent = parents[index] ?? null;
    // A section inside one that is written comes with it.
    if (!own || isWithin(parents, index, written)) {
      if (own) written.add(index);
      continue;
    }
    if (!isWanted(index)) continue;
    const there = paired.get(index);
    const home = parent === null ? null : paired.get(parent);
    if (there) changes.push({ at: there.from - 1, drop: there.to - there.from + 1, lines: textOf(own) });
    else if (parent === null && original[index]?.kind === "constant")
      changes.push({ at: lastImport(twin), drop: 0, lines: textOf(own) });
    else if (parent === null) changes.push({ at: twin.lines.length, drop: 0, lines: [...blanks(gap), ...textOf(own)] });
    else if (home) changes.push({ at: lastInside(twin, home), drop: 0, lines: ["", ...textOf(own)] });
    else continue;
    written.add(index);
  }
  // Constants that what was written needs come with it.
  for (const [index, { kind }] of original.entries()) {
    const own = draftedOf(input, index);
    const isNeeded = kind === "constant" && parents[index] === null && !paired.has(index) && !written.has(index);
    if (!own || !isNeeded || !changes.some(({ lines }) => mentions(lines.join("\n"), own.name))) continue;
    changes.push({ at: lastImport(twin), drop: 0, lines: textOf(own) });
    written.add(index);
  }
  const added = changes.flatMap(({ lines }) => lines);
  changes.unshift({ at: lastImport(twin), drop: 0, lines: missingImports(drafted, twin, added.join("\n")) });
  return { lines: applyChanges(twin.lines, changes), added, written };
}

function isWithin(parents: readonly (number | null)[], index: number, written: ReadonlySet<number>): boolean {
  for (let at = parents[index] ?? null; at !== null; at = parents[at] ?? null) if (written.has(at)) return true;
  return false;
}

const blanks = (count: number): string[] => Array.from({ length: count }, () => "");

const lastImport = ({ imports }: Parsed): number => Math.max(0, ...imports.map(({ line }) => line));

/** The line after which a class takes a further member: its last one, or its last line but the closing one. */
function lastInside(twin: Parsed, home: Section): number {
  const members = twin.sections.filter(({ from, to }) => from > home.from && to <= home.to);
  return members.length > 0 ? Math.max(...members.map(({ to }) => to)) : home.to - (home.to > home.from ? 1 : 0);
}

/** Imports of the draft whose names the added text uses and the twin lacks. */
function missingImports(drafted: Parsed, twin: Parsed, added: string): string[] {
  const known = new Set(twin.imports.flatMap(({ bindings }) => bindings.map(({ local }) => local)));
  const texts = new Set(twin.imports.map(({ text }) => text.trim()));
  return drafted.imports.flatMap(({ text, bindings, line }) => {
    const isUsed = bindings.some(({ local }) => !known.has(local) && mentions(added, local));
    return isUsed && !texts.has(text.trim()) ? [drafted.lines[line - 1] ?? text] : [];
  });
}

const escapeText = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

/** Later places come first so that line numbers stay valid; at one place, insertions precede replacements. */
function applyChanges(lines: readonly string[], changes: readonly Change[]): string[] {
  const made = [...lines];
  for (const { at, drop, lines: put } of changes
    .toReversed()
    .sort((left, right) => right.at - left.at || right.drop - left.drop))
    made.splice(at, drop, ...put);
  return made;
}
