/**
 * The rows of the Bench: both texts cut at their sections and laid level, in the original's order. Nothing is skipped:
 * what stands between sections (imports, comments, top-level statements) is a row too, and twin sections that answer
 * to nothing stand at the end.
 */
import type { Said } from "@/core/pairing/said";
import { type Relation, SAID, type SectionPair } from "@/core/pairing/sections";
import type { Section, SectionKind } from "@/core/source/section";

/** Lines from 1, `to` included. */
export type Piece = { readonly file: string; readonly from: number; readonly to: number };

export type BenchRow = {
  readonly id: string;
  readonly name: string;
  readonly kind: SectionKind | "between";
  readonly original: Piece | null;
  readonly twin: Piece | null;
  readonly twinName: string | null;
  /** `new` has no original; `missing` has no twin yet; `dropped` is to have none, as a person says. */
  readonly relation: Relation | "new" | "missing" | "dropped" | "between";
  /** How sure the pairing is, from 0 to 1, and why; null where nothing is paired. */
  readonly score: number | null;
  readonly reasons: readonly string[];
  /** Whether a person said so. */
  readonly isSaid: boolean;
};

type SaidOfRows = Pick<Said, "dropped" | "isNew">;

const NOTHING_SAID: SaidOfRows = { dropped: new Map(), isNew: new Set() };

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
  said: SaidOfRows = NOTHING_SAID,
): BenchRow[] {
  const originalCuts = original.flatMap(cutAtSections);
  const twinCuts = twin.flatMap(cutAtSections);
  const twinByStart = new Map(twinCuts.filter((cut) => cut.section).map((cut) => [keyOf(cut), cut]));
  const used = new Set<Cut>();
  // A part of what is paired faces nothing of its own: it stands where it would, and says what it is a part of.
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
      // What stands between sections faces what stands between them there, as long as there is some left.
      const partner = betweens.find((other) => !used.has(other)) ?? null;
      if (partner) used.add(partner);
      return betweenRow(cut.piece, partner?.piece ?? null);
    }
    const pair = pairOf.get(`${cut.section.name}:${cut.section.from}`);
    const partner = pair ? (twinByStart.get(`${pair.twin}:${pair.twinFrom}`) ?? null) : null;
    if (partner) used.add(partner);
    const dropped = said.dropped.get(cut.section.name);
    const answer = partner ? pair : elsewhere.get(keyOf(cut));
    return {
      id: `o:${cut.piece.file}:${cut.piece.from}`,
      name: cut.section.name,
      kind: cut.section.kind,
      original: cut.piece,
      twin: partner?.piece ?? null,
      twinName: answer ? nameOf(answer) : null,
      relation: answer?.relation ?? (dropped === undefined ? "missing" : "dropped"),
      ...(dropped === undefined ? basisOf(answer) : { score: null, reasons: dropped ? [dropped] : [], isSaid: true }),
    };
  });
  return [
    ...rows,
    ...twinCuts.filter((cut) => !used.has(cut)).map((cut) => newRow(cut, splitFrom.get(keyOf(cut)), said)),
  ];
}

/** A section that moved is named with the file that it is in. */
const nameOf = ({ twin, twinFile }: SectionPair): string => (twinFile ? `${twin} in ${twinFile}` : twin);

const basisOf = (pair: SectionPair | undefined): Pick<BenchRow, "score" | "reasons" | "isSaid"> =>
  pair
    ? { score: pair.score, reasons: pair.reasons, isSaid: pair.reasons[0] === SAID }
    : { score: null, reasons: [], isSaid: false };

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

function newRow(cut: Cut, splitFrom: SectionPair | undefined, said: SaidOfRows): BenchRow {
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
    ...(said.isNew.has(name) ? { score: null, reasons: [SAID], isSaid: true } : basisOf(splitFrom)),
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
