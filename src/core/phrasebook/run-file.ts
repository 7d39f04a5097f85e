/** One file under the phrases, in their order: its places, and its text after them. */

import type { Node } from "web-tree-sitter";
import type { Phrase, Scale } from "@/core/formats/phrasebook";
import { fitsText, type TestPattern } from "@/core/phrasebook/blanks";
import { type CodePattern, compilePattern, literalWords, type ParseText } from "@/core/phrasebook/code-pattern";
import { EditedTree, shiftsOf } from "@/core/phrasebook/edited-tree";
import { hiddenRanges, isDeclaration, isMember, leavesOf } from "@/core/phrasebook/free-names";
import { importEdits, importsOf, wholeLines } from "@/core/phrasebook/imports";
import { type CodeMatch, findMatches, type Matches } from "@/core/phrasebook/match-code";
import { findDottedNames, findLineMatches, isKept, type NameMatch } from "@/core/phrasebook/match-lines";
import { oldNames } from "@/core/phrasebook/old-names";
import { pythonKeeps, splitImport } from "@/core/phrasebook/python-imports";
import { fillReplacement } from "@/core/phrasebook/rewrite";
import { isBalanced, type Range, regionAt } from "@/core/phrasebook/syntax";
import { LineIndex, lineEndOf, type Piece, TrackedText } from "@/core/phrasebook/tracked-text";

export type OccurrenceState = "ready" | "open" | "kept" | "conflict";

/** A place of a phrase. Line and column are those of its first token in the file on disk. */
export type Occurrence = {
  readonly phrase: string;
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly before: string;
  readonly after: string;
  readonly state: OccurrenceState;
  readonly why: string | null;
  /** False for a ready place that was refused. */
  readonly isApplied: boolean;
  /** On disk; what was written by an earlier phrase lies where that one's place began. */
  readonly from: number;
  readonly to: number;
};

/** Input of a run besides the file. */
export type RunTerms = {
  readonly phrases: readonly Phrase[];
  readonly scales: Readonly<Record<string, Scale>>;
  readonly parse: ParseText;
  readonly testPattern: TestPattern;
  /** Whether a phrase works on a file, by its `in` and `not`. */
  readonly covers: (phrase: Phrase, file: string) => boolean;
  readonly matchesFile: (file: string, pattern: string) => boolean;
  /** Whether a ready place is left as it is. */
  readonly isRefused: (phrase: Phrase, file: string, line: number) => boolean;
};

export type FileRun = {
  readonly file: string;
  readonly occurrences: readonly Occurrence[];
  readonly text: string;
  /** False where the file has a syntax error: phrases of code and names leave it alone. */
  readonly isSound: boolean;
  /** Exceptions that matched a place, as `phrase index`. */
  readonly usedExceptions: ReadonlySet<string>;
};

const patterns = new WeakMap<Phrase, Map<string, CodePattern>>();

/** Compiled once a phrase and language. Throws SideTwinError. */
export function patternOf(phrase: Phrase, language: string, parse: ParseText): CodePattern {
  const known = patterns.get(phrase) ?? new Map<string, CodePattern>();
  patterns.set(phrase, known);
  const found = known.get(language) ?? compilePattern({ ...phrase, language }, parse);
  known.set(language, found);
  return found;
}

const SCRIPTS = new Set(["javascript", "typescript", "tsx"]);

/** Whether a phrase of a language works on code of another: JavaScript's family is one, and C's headers are C++'s too. */
export const worksOn = (phrase: string | undefined, language: string): boolean =>
  phrase === undefined ||
  phrase === language ||
  (SCRIPTS.has(phrase) && SCRIPTS.has(language)) ||
  (phrase === "cpp" && language === "c");

/** Runs the phrases over one file. `language` is null for what is not code. Throws SideTwinError for a phrase that is not code. */
export function runFile(file: string, disk: string, language: string | null, terms: RunTerms): FileRun {
  return new Run(file, disk, language, terms).finish();
}

type Match = Range & {
  readonly held: ReadonlyMap<string, readonly Range[]>;
  readonly to_: Phrase["to"];
  readonly kept: string | null;
  /** Places inside a blank of this one. */
  readonly inner: Match[];
};

class Run {
  private readonly tracked: TrackedText;
  private readonly lines: LineIndex;
  private readonly lineEnd: string;
  private readonly occurrences: Occurrence[] = [];
  private readonly used = new Set<string>();
  /** Ranges on disk that earlier phrases changed, with the phrase. */
  private readonly changed: (Range & { readonly phrase: string })[] = [];
  private readonly changedBy = new Set<Phrase>();
  private readonly tree: EditedTree;
  private readonly isSound: boolean;
  /** Word → whether the file on disk has it. */
  private readonly wordsOnDisk = new Map<string, boolean>();

  constructor(
    private readonly file: string,
    private readonly disk: string,
    private readonly language: string | null,
    private readonly terms: RunTerms,
  ) {
    this.tracked = new TrackedText(disk);
    this.lines = new LineIndex(disk);
    this.lineEnd = lineEndOf(disk);
    this.tree = new EditedTree(disk, language, terms.parse);
    this.isSound = this.soundness();
  }

  finish(): FileRun {
    try {
      for (const phrase of this.terms.phrases) {
        if (phrase.kind === "file" || !this.terms.covers(phrase, this.file)) continue;
        if (phrase.kind === "code") this.runCode(phrase);
        else if (phrase.kind === "name") this.runName(phrase);
        else this.runText(phrase);
      }
      this.settleImports();
    } finally {
      this.tree.free();
    }
    const { file, occurrences, isSound, used } = this;
    return { file, occurrences, text: this.tracked.text, isSound, usedExceptions: used };
  }

  private soundness(): boolean {
    if (this.language === null) return true;
    // Most files need no tree: it is made when a file contains the words of a phrase.
    const needs = this.terms.phrases.some(
      (phrase) => (phrase.kind === "code" || phrase.kind === "name") && this.mayMatch(phrase, this.disk),
    );
    if (!needs) return true;
    if (!this.tree.onDisk()?.hasError) return true;
    return (this.language === "c" || this.language === "cpp") && isBalanced(this.disk);
  }

  private mayMatch(phrase: Phrase, text: string): boolean {
    if (phrase.kind === "name") return text.includes(phrase.from.split(/\.|::|\\/)[0] ?? "");
    if (phrase.kind !== "code" || this.language === null || !worksOn(phrase.language, this.language)) return false;
    const { anchor } = patternOf(phrase, this.language, this.terms.parse);
    if (anchor === null) return true;
    if (text !== this.disk) return text.includes(anchor.text);
    const known = this.wordsOnDisk.get(anchor.text) ?? text.includes(anchor.text);
    this.wordsOnDisk.set(anchor.text, known);
    return known;
  }

  private treeNow(): Node | null {
    return this.tree.now(this.tracked.text);
  }

  private replace(edits: readonly { from: number; to: number; pieces: readonly Piece[] }[], isCode: boolean): void {
    this.tree.change(
      this.tracked.text,
      edits.map(({ from, to, pieces }) => ({ from, to, text: pieces.map((piece) => piece.text).join("") })),
      isCode,
    );
    this.tracked.replace(edits);
  }

  private runCode(phrase: Phrase): void {
    if (this.language === null || !this.isSound || !worksOn(phrase.language, this.language)) return;
    const onDisk = this.mayMatch(phrase, this.disk)
      ? this.codeMatches(phrase, this.tree.onDisk(), this.disk)
      : { found: [], tried: [] };
    const now = this.matchesNow(phrase, onDisk);
    const starts = new Set(now.map(({ from }) => this.tracked.originAt(from)));
    this.findConflicts(phrase, onDisk.found, starts);
    this.take(phrase, now);
  }

  private matchesNow(phrase: Phrase, onDisk: Matches): Match[] {
    const { text } = this.tracked;
    const show = ({ found }: Matches, shifts?: readonly number[]) =>
      found.map((match, index) => toMatch(match, phrase, shifts?.[index] ?? 0));
    if (text === this.disk) return show(onDisk);
    if (!this.mayMatch(phrase, text)) return [];
    const older = this.tree.older();
    const pattern = patternOf(phrase, this.language ?? "", this.terms.parse);
    if (older && pattern.anchor !== null) {
      const matches = older.source === this.disk ? onDisk : this.codeMatches(phrase, older.root, older.source);
      const ranges = [...matches.found, ...matches.tried];
      const shifts = shiftsOf(older, ranges, literalWords(pattern));
      if (shifts) return show(matches, shifts);
    }
    return show(this.codeMatches(phrase, this.treeNow(), text));
  }

  private codeMatches(phrase: Phrase, root: Node | null, source: string): Matches {
    const { language } = this;
    if (!root || language === null) return { found: [], tried: [] };
    const pattern = patternOf(phrase, language, this.terms.parse);
    return findMatches(phrase, pattern, {
      root,
      source,
      language,
      testPattern: this.terms.testPattern,
    });
  }

  /** Places on disk whose own words an earlier phrase has taken. */
  private findConflicts(phrase: Phrase, onDisk: readonly CodeMatch[], starts: ReadonlySet<number>): void {
    if (this.changed.length === 0) return;
    for (const match of onDisk) {
      if (starts.has(match.from)) continue;
      const own = outside(
        match,
        [...match.held.values()].flatMap(({ ranges }) => ranges),
      );
      const taken = this.changed.find((range) => own.some(({ from, to }) => from < range.to && range.from < to));
      if (!taken) continue;
      const kept = this.exceptionFor(phrase, match);
      this.note(
        phrase,
        { from: match.from, to: match.to },
        {
          before: this.disk.slice(match.from, match.to),
          after: "",
          state: kept === null ? "conflict" : "kept",
          why: kept ?? `"${taken.phrase}" changes it first`,
          isApplied: false,
        },
      );
    }
  }

  private runName(phrase: Phrase): void {
    const source = this.tracked.text;
    const inConfig = this.language === null;
    if ((inConfig && !phrase.reach.includes("config")) || !this.isSound || !this.mayMatch(phrase, source)) return;
    const root = this.treeNow();
    const found = findDottedNames(source, phrase.from);
    const hidden = root && this.language ? this.hiddenFor(phrase.from, root, source) : [];
    const matches: Match[] = [];
    for (const name of found) {
      if (root && !this.isReached(phrase, name, root, hidden)) continue;
      const kept = isKept(name.full, phrase.keep) ? "kept by the phrase" : null;
      const partly = root && this.language === "python" ? pythonKeeps(phrase, name, root, source) : "no";
      if (root === null || partly === "no") matches.push(nameMatch(name, phrase, kept));
      else if (partly === "all") matches.push(nameMatch(name, phrase, "kept by the phrase"));
      else {
        const split = splitImport(phrase, name, root, source);
        if (split) matches.push({ ...split, held: new Map(), to_: split.text, kept: null, inner: [] });
      }
    }
    this.take(phrase, matches);
  }

  private hiddenFor(from: string, root: Node, source: string): readonly Range[] {
    const [first = ""] = from.split(/\.|::|\\/);
    return hiddenRanges(leavesOf(root, source, first), this.language ?? "");
  }

  private isReached(phrase: Phrase, name: NameMatch, root: Node, hidden: readonly Range[]): boolean {
    const region = regionAt(root, name.from, name.from + 1);
    if (region === "comment") return phrase.reach.includes("comments");
    if (region === "string") return phrase.reach.includes("strings");
    if (hidden.some(({ from, to }) => from <= name.from && name.to <= to)) return false;
    const [first = ""] = phrase.from.split(/\.|::|\\/);
    const leaf = root.descendantForIndex(name.from, name.from + first.length);
    return (
      leaf !== null &&
      !isMember(leaf) &&
      !(isDeclaration(leaf) && !/import|package|module|namespace|use/.test(leaf.parent?.type ?? ""))
    );
  }

  private runText(phrase: Phrase): void {
    const { text } = this.tracked;
    const found = findLineMatches(text, phrase).filter(({ held }) =>
      [...held].every(([name, { from, to }]) => fitsText(phrase, name, text.slice(from, to), this.terms.testPattern)),
    );
    this.take(
      phrase,
      found.map(({ from, to, held }) => ({
        from,
        to,
        held: new Map([...held].map(([name, range]) => [name, [range]])),
        to_: phrase.to,
        kept: null,
        inner: [],
      })),
    );
  }

  /** Notes the places and changes the text; places inside a blank of another are done with it. */
  private take(phrase: Phrase, found: readonly Match[]): void {
    const roots: Match[] = [];
    for (const match of [...found].sort((a, b) => a.from - b.from || b.to - a.to)) nest(roots, match);
    const edits: { from: number; to: number; pieces: readonly Piece[] }[] = [];
    for (const match of roots) this.settle(phrase, match, edits);
    if (edits.length === 0) return;
    this.changedBy.add(phrase);
    this.replace(edits, phrase.kind === "code");
  }

  /** The edits of a place, or of the places in it where it stays itself. */
  private settle(phrase: Phrase, match: Match, edits: { from: number; to: number; pieces: readonly Piece[] }[]): void {
    const { pieces } = this.filled(phrase, match);
    if (pieces) {
      const deleted = pieces.every(({ text }) => text === "")
        ? wholeLines(this.tracked.text, match.from, match.to)
        : null;
      edits.push({ from: deleted?.from ?? match.from, to: deleted?.to ?? match.to, pieces });
    } else for (const inner of match.inner) this.settle(phrase, inner, edits);
  }

  /** Returns the replacement of a place and records the place; null where it stays. */
  private filled(phrase: Phrase, match: Match): { readonly pieces: readonly Piece[] | null } {
    const source = this.tracked.text;
    const before = source.slice(match.from, match.to);
    const at = { from: this.tracked.originAt(match.from), to: this.originEnd(match) };
    const kept = match.kept ?? this.exceptionFor(phrase, at);
    if (kept !== null) {
      this.note(phrase, at, { before, after: before, state: "kept", why: kept, isApplied: false });
      return { pieces: null };
    }
    const isRefused = this.terms.isRefused(phrase, this.file, this.lines.placeOf(at.from).line);
    const spaces =
      this.language === null ? new Map<string, readonly [string, string]>() : this.bracedSpaces(phrase, match);
    const noted = this.occurrences.length;
    const filled = fillReplacement(
      { ...phrase, to: match.to_ },
      {
        scales: this.terms.scales,
        anchor: at.from,
        indent: /^[ \t]*/.exec(source.slice(source.lastIndexOf("\n", match.from - 1) + 1))?.[0] ?? "",
        lineEnd: this.lineEnd,
        spaceAround: (name) => spaces.get(name) ?? null,
        piecesOf: (name) => {
          const ranges = match.held.get(name);
          if (!ranges || ranges.length === 0) return null;
          return ranges.flatMap((range, index) => [
            ...(index > 0 ? [{ text: ", ", origin: null, anchor: at.from }] : []),
            ...this.piecesOf(phrase, range, isRefused ? [] : match.inner),
          ]);
        },
      },
    );
    const inner = this.occurrences.splice(noted);
    if ("open" in filled) {
      this.note(phrase, at, { before, after: "", state: "open", why: filled.open, isApplied: false });
      return { pieces: null };
    }
    const after = filled.pieces.map(({ text }) => text).join("");
    this.note(phrase, at, { before, after, state: "ready", why: null, isApplied: !isRefused });
    if (isRefused) return { pieces: null };
    this.occurrences.push(...inner);
    for (const range of outside(match, [...match.held.values()].flat()))
      for (const origin of this.tracked.originsOf(range.from, range.to))
        this.changed.push({ ...origin, phrase: phrase.id });
    return { pieces: filled.pieces };
  }

  /** Returns the text of a range with the places in it replaced. */
  private piecesOf(phrase: Phrase, range: Range, inner: readonly Match[]): Piece[] {
    const own = inner.filter(({ from, to }) => range.from <= from && to <= range.to);
    const edits: { from: number; to: number; pieces: readonly Piece[] }[] = [];
    for (const match of own) this.settle(phrase, match, edits);
    const pieces: Piece[] = [];
    let at = range.from;
    for (const edit of edits) {
      pieces.push(...this.tracked.slice(at, edit.from), ...edit.pieces);
      at = edit.to;
    }
    return [...pieces, ...this.tracked.slice(at, range.to)];
  }

  private bracedSpaces(phrase: Phrase, match: Match): Map<string, readonly [string, string]> {
    const source = this.tracked.text;
    const spaces = new Map<string, readonly [string, string]>();
    if (phrase.kind !== "code" || this.language === null) return spaces;
    for (const name of patternOf(phrase, this.language, this.terms.parse).braced) {
      const ranges = match.held.get(name) ?? [];
      const [from, to] = [ranges[0]?.from ?? null, ranges.at(-1)?.to ?? null];
      if (from === null || to === null) continue;
      const open = source.lastIndexOf("{", from);
      const close = source.indexOf("}", to);
      if (open < match.from || close < 0 || close > match.to) continue;
      spaces.set(name, [source.slice(open + 1, from), source.slice(to, close)]);
    }
    return spaces;
  }

  private originEnd(match: Range): number {
    return Math.max(this.tracked.originAt(match.from), this.tracked.originAt(Math.max(match.from, match.to - 1)) + 1);
  }

  /** Why a place is excepted; null where it is not. */
  private exceptionFor(phrase: Phrase, at: Range): string | null {
    const around = this.lines.linesAround(at.from, at.to);
    for (const [index, { file, text, why }] of phrase.except.entries()) {
      if (!this.terms.matchesFile(this.file, file) || (text !== undefined && !around.includes(text))) continue;
      this.used.add(`${phrase.id} ${index}`);
      return why ?? "an exception of the phrase";
    }
    return null;
  }

  private note(
    phrase: Phrase,
    at: Range,
    rest: Pick<Occurrence, "before" | "after" | "state" | "why" | "isApplied">,
  ): void {
    this.occurrences.push({
      phrase: phrase.id,
      file: this.file,
      ...this.lines.placeOf(at.from),
      ...rest,
      from: at.from,
      to: at.to,
    });
  }

  private settleImports(): void {
    if (this.language === null || !this.isSound) return;
    const phrases = this.terms.phrases.filter((phrase) => this.changedBy.has(phrase) && phrase.imports);
    if (phrases.length === 0) return;
    const source = this.tracked.text;
    const root = this.treeNow();
    if (!root) return;
    const edits = importEdits(root, source, {
      language: this.language,
      phrases,
      stays: (drop) => this.staysFor(drop, root, source),
    });
    this.replace(
      edits.map(({ from, to, text }) => ({
        from,
        to,
        pieces: [{ text, origin: null, anchor: this.tracked.originAt(from) }],
      })),
      true,
    );
  }

  /** Whether a place or a mention in code is left of any phrase that drops this import. */
  private staysFor(drop: string, root: Node, source: string): boolean {
    const droppers = this.terms.phrases.filter((phrase) => phrase.imports?.drop?.includes(drop));
    const imports = importsOf(root, source, this.language ?? "");
    return droppers.some(
      (phrase) =>
        this.occurrences.some((place) => place.phrase === phrase.id && !place.isApplied) ||
        oldNames(phrase).some((name) =>
          leavesOf(root, source, name).some(
            (leaf) =>
              regionAt(root, leaf.startIndex, leaf.endIndex) === "code" &&
              !imports.some(({ from, to }) => from <= leaf.startIndex && leaf.endIndex <= to) &&
              !hiddenRanges(leavesOf(root, source, name), this.language ?? "").some(
                ({ from, to }) => from <= leaf.startIndex && leaf.endIndex <= to,
              ),
          ),
        ),
    );
  }
}

/** The place as many characters further on. */
const toMatch = (match: CodeMatch, phrase: Phrase, shift: number): Match => ({
  from: match.from + shift,
  to: match.to + shift,
  held: new Map(
    [...match.held].map(([name, { ranges }]) => [
      name,
      ranges.map(({ from, to }) => ({ from: from + shift, to: to + shift })),
    ]),
  ),
  to_: phrase.to,
  kept: null,
  inner: [],
});

const nameMatch = (name: NameMatch, phrase: Phrase, kept: string | null): Match => ({
  ...name.moved,
  held: new Map(),
  to_: phrase.to,
  kept,
  inner: [],
});

/** Into the innermost place that holds it in a blank; what cuts another is left to the first. */
function nest(among: Match[], match: Match): void {
  const around = among.find(({ from, to }) => from <= match.from && match.to <= to);
  if (around) {
    const isHeld = [...around.held.values()].flat().some(({ from, to }) => from <= match.from && match.to <= to);
    if (isHeld) nest(around.inner, match);
    return;
  }
  if (!among.some(({ from, to }) => from < match.to && match.from < to)) among.push(match);
}

/** A range without some others in it. */
function outside(range: Range, others: readonly Range[]): Range[] {
  const left: Range[] = [];
  let at = range.from;
  for (const other of [...others].sort((a, b) => a.from - b.from)) {
    if (other.from > at) left.push({ from: at, to: other.from });
    at = Math.max(at, other.to);
  }
  if (at < range.to) left.push({ from: at, to: range.to });
  return left;
}
