/** Pairs left-over sections with parts of paired ones: sections that were split or merged. */
import type { Match } from "@/core/pairing/match";
import type { PlacedSection } from "@/core/pairing/placed-section";
import type { Section } from "@/core/source/section";

/** A left-over section with the pair that it is part of. */
export type Part = Match & { readonly relation: "split" | "merged" };

type Taken = {
  readonly known: readonly Match[];
  readonly takenOriginal: ReadonlySet<PlacedSection>;
  readonly takenTwin: ReadonlySet<PlacedSection>;
};

/** A part shares this portion of its texts and calls with the whole, and at least this many. */
const HELD = 0.7;
const MIN_HELD = 4;

/** Cost: left-over sections × paired ones. */
export function findParts(
  original: readonly PlacedSection[],
  twin: readonly PlacedSection[],
  { known, takenOriginal, takenTwin }: Taken,
): Part[] {
  const isCode = ({ kind }: Section) => kind === "function" || kind === "method";
  const wholes = known.filter(({ one }) => isCode(one));
  const free = {
    original: original.filter((section) => isCode(section) && !takenOriginal.has(section)),
    twin: twin.filter((section) => isCode(section) && !takenTwin.has(section)),
  };
  return [
    ...free.twin.flatMap((part): Part[] => {
      const owner = makerOf(part, known, "other");
      if (owner)
        return [{ one: owner, other: part, score: 0.9, relation: "split", reasons: ["it makes what the class makes"] }];
      const held = holder(part, wholes, "one");
      return held ? [{ ...held, one: held.match.one, other: part, relation: "split" }] : [];
    }),
    ...free.original.flatMap((part): Part[] => {
      const owner = makerOf(part, known, "one");
      if (owner)
        return [
          { one: part, other: owner, score: 0.9, relation: "merged", reasons: ["it makes what the class makes"] },
        ];
      const held = holder(part, wholes, "other");
      return held ? [{ ...held, one: part, other: held.match.other, relation: "merged" }] : [];
    }),
  ];
}

const MAKER = /^(.+)\.(constructor|__init__|initialize|__construct|new)$/;

/** The class that a constructor makes, which it is named after in some languages; null for any other section. */
export function makes(name: string): string | null {
  const owner = MAKER.exec(name)?.[1];
  if (owner !== undefined) return owner;
  const [last, before] = name.split(".").reverse();
  return before !== undefined && last === before ? name.slice(0, name.lastIndexOf(".")) : null;
}

/** The section on the other side that a constructor is a part of: the one that its class is paired with. */
function makerOf(part: PlacedSection, known: readonly Match[], side: "one" | "other"): PlacedSection | null {
  const owner = makes(part.name);
  const match = owner === null ? undefined : known.find((entry) => entry[side].name === owner);
  return match ? match[side === "one" ? "other" : "one"] : null;
}

/** The whole that holds the most of a part. */
function holder(
  part: PlacedSection,
  wholes: readonly Match[],
  side: "one" | "other",
): { readonly match: Match; readonly score: number; readonly reasons: readonly string[] } | null {
  const mine = part.trace ? [...part.trace.literals, ...part.trace.calls] : [];
  if (mine.length < MIN_HELD) return null;
  let best: { match: Match; score: number; reasons: string[] } | null = null;
  for (const match of wholes) {
    const { trace } = match[side];
    if (!trace) continue;
    const held = mine.filter((item) => trace.literals.has(item) || trace.calls.has(item)).length;
    const score = held / mine.length;
    if (score < HELD || (best !== null && score <= best.score)) continue;
    best = { match, score, reasons: [`${held} of its ${mine.length} texts, numbers and calls are there`] };
  }
  return best;
}
