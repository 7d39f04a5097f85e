/**
 * Rows of the Bench: both texts cut at their sections and aligned in the original's order. Nothing is skipped: text
 * between sections (imports, comments, top-level statements) is a row too, and unpaired twin sections come at the end.
 */
import type { ManualPairs } from "@/core/pairing/manual-pairs";
import { PAIRED_BY_HAND, type Relation, type SectionPair } from "@/core/pairing/sections";
import type { Section, SectionKind } from "@/core/source/section";

/** Lines from 1, `to` included. */
export type Piece = { readonly file: string; readonly from: number; readonly to: number };

/** A row of the Bench. */
export type BenchRow = {
  readonly id: string;
  readonly name: string;
  readonly kind: SectionKind | "between";
  readonly original: Piece | null;
  readonly twin: Piece | null;
  readonly twinName: string | null;
  /** `new` has no original; `missing` has no twin yet; `dropped` has none by decision. */
  readonly relation: Relation | "new" | "missing" | "dropped" | "between";
  /** How sure the pairing is, from 0 to 1, and why; null where nothing is paired. */
  readonly score: number | null;
  readonly reasons: readonly string[];
  /** Whether it was paired by hand. */
  readonly isManual: boolean;
};

type ManualOfRows = Pick<ManualPairs, "dropped" | "isNew">;

const NO_MANUAL_PAIRS: ManualOfRows = { dropped: new Map(), isNew: new Set() };

/** The files of one side, with their sections. */
export type SideText = {
  readonly file: string;
  readonly lines: readonly string[];
  readonly sections: readonly Section[];
};

type Cut = { readonly section: Section | null; readonly piece: Piece };

/** Cost grows with the lines and sections of both sides. */
export function benchRows(
  original: readonly SideText[],
  twin: readonly SideText[],
  pairs: readonly SectionPair[],
  manual: ManualOfRows = NO_MANUAL_PAIRS,
): BenchRow[] {
  const originalCuts = original.flatMap(cutAtSections);
  const twinCuts = twin.flatMap(cutAtSections);
  const twinByStart = new Map(twinCuts.filter((cut) => cut.section).map((cut) => [keyOf(cut), cut]));
  const used = new Set<Cut>();
  // A part of a paired section has no row partner: it stays in its place and names the section it is part of.
  const whole = pairs.filter(({ relation }) => !["split", "merged", "moved"].includes(relation));
  const pairOf = new Map(whole.map((pair) => [`${pair.original}:${pair.originalFrom}`, pair]));
  const elsewhere = new Map(
    pairs
      .filter(({ relation }) => relation === "merged" || relation === "moved")
      .map((pair) => [`${pair.original}:${pair.originalFrom}`, pair]),
  );
  const splitFrom = new Map(
    pairs.filter(({ relation }) => relation === "split").map((pair) => [`${pair.twin}:${pair.twinFrom}`, pair]),
  );
  const betweens = twinCuts.filter((cut) => !cut.section);
  const rows = originalCuts.map((cut): BenchRow => {
    if (!cut.section) {
      // Text between sections faces the text between them on the other side, while there is some left.
      const partner = betweens.find((other) => !used.has(other)) ?? null;
      if (partner) used.add(partner);
      return betweenRow(cut.piece, partner?.piece ?? null);
    }
    const pair = pairOf.get(`${cut.section.name}:${cut.section.from}`);
    const partner = pair ? (twinByStart.get(`${pair.twin}:${pair.twinFrom}`) ?? null) : null;
    if (partner) used.add(partner);
    const dropped = manual.dropped.get(cut.section.name);
    const answer = partner ? pair : elsewhere.get(keyOf(cut));
    return {
      id: `o:${cut.piece.file}:${cut.piece.from}`,
      name: cut.section.name,
      kind: cut.section.kind,
      original: cut.piece,
      twin: partner?.piece ?? null,
      twinName: answer ? nameOf(answer) : null,
      relation: answer?.relation ?? (dropped === undefined ? "missing" : "dropped"),
      ...(dropped === undefined ? basisOf(answer) : { score: null, reasons: dropped ? [dropped] : [], isManual: true }),
    };
  });
  return [
    ...rows,
    ...twinCuts.filter((cut) => !used.has(cut)).map((cut) => newRow(cut, splitFrom.get(keyOf(cut)), manual)),
  ];
}

/** A section that moved is named with the file that it is in. */
const nameOf = ({ twin, twinFile }: SectionPair): string => (twinFile ? `${twin} in ${twinFile}` : twin);

const basisOf = (pair: SectionPair | undefined): Pick<BenchRow, "score" | "reasons" | "isManual"> =>
  pair
    ? { score: pair.score, reasons: pair.reasons, isManual: pair.reasons[0] === PAIRED_BY_HAND }
    : { score: null, reasons: [], isManual: false };

function keyOf(cut: Cut): string {
  return `${cut.section?.name}:${cut.section?.from}`;
}

const betweenRow = (original: Piece | null, twin: Piece | null): BenchRow => ({
  id: original ? `o:${original.file}:${original.from}` : `t:${twin?.file}:${twin?.from}`,
  name: "",
  kind: "between",
  original,
  twin,
  twinName: null,
  relation: "between",
  ...basisOf(undefined),
});

function newRow(cut: Cut, splitFrom: SectionPair | undefined, manual: ManualOfRows): BenchRow {
  if (!cut.section) return betweenRow(null, cut.piece);
  const { name, kind } = cut.section;
  return {
    id: `t:${cut.piece.file}:${cut.piece.from}`,
    name,
    kind,
    original: null,
    twin: cut.piece,
    twinName: splitFrom?.original ?? name,
    relation: splitFrom === undefined ? "new" : "split",
    ...(manual.isNew.has(name) ? { score: null, reasons: [PAIRED_BY_HAND], isManual: true } : basisOf(splitFrom)),
  };
}

/** A text in consecutive pieces: each section from its leading comments to the next one, a class cut at its methods. */
export function cutAtSections({ file, lines, sections }: SideText): Cut[] {
  const starts = [...sections].sort((one, other) => one.from - other.from);
  const cuts: Cut[] = [];
  let at = 1;
  const add = (section: Section | null, to: number) => {
    const last = cuts.at(-1);
    // The closing brackets of a class belong to its last method, not to a row of their own.
    if (!section && last && lines.slice(at - 1, to).every((line) => /^[\s})\];,]*$/.test(line))) {
      cuts[cuts.length - 1] = { ...last, piece: trimBlank({ ...last.piece, to: Math.max(last.piece.to, to) }, lines) };
      at = Math.max(at, to + 1);
      return;
    }
    if (to >= at && (section || lines.slice(at - 1, to).some((line) => line.trim() !== ""))) {
      cuts.push({ section, piece: trimBlank({ file, from: at, to }, lines) });
    }
    at = Math.max(at, to + 1);
  };
  for (const [index, section] of starts.entries()) {
    if (section.from < at) continue; // two names in one statement share their row
    const lead = leadStart(section, lines, at);
    if (lead > at) add(null, lead - 1);
    const next = starts.find((other, place) => place > index && other.from > section.from && other.from <= section.to);
    add(section, next ? leadStart(next, lines, section.from + 1) - 1 : section.to);
  }
  add(null, lines.length);
  return cuts;
}

/** Comment and blank-free lines right above a section belong to it. */
function leadStart(section: Section, lines: readonly string[], least: number): number {
  let from = section.from;
  while (from > least && /^\s*(#|\/\/|\/\*|\*)/.test(lines[from - 2] ?? "")) from--;
  return from;
}

function trimBlank(piece: Piece, lines: readonly string[]): Piece {
  let { from, to } = piece;
  while (from < to && (lines[from - 1] ?? "").trim() === "") from++;
  while (to > from && (lines[to - 1] ?? "").trim() === "") to--;
  return { ...piece, from, to };
}
