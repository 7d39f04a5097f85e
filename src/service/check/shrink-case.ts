/** Finds a smaller input that still shows what a case shows, by asking both sides again and again. */

import { freeId } from "@/core/cases/free-id";
import { shrinkCase, sizeOf } from "@/core/cases/shrink";
import { SideTwinError } from "@/core/errors";
import { findCause } from "@/core/explain/causes/index";
import { facetsOf } from "@/core/explain/facets";
import { findFamilies, pathShape } from "@/core/explain/families";
import type { SharedCase } from "@/core/formats/case-line";
import type { Divergence } from "@/core/formats/report";
import { Prober } from "@/service/check/prober";
import { selectCases } from "@/service/check/select-cases";
import { type Judged, toFacts } from "@/service/check/verdict";
import { type OpenPort, openPort, readCases } from "@/service/port/open-port";

/** The case to shrink, and how long to try. */
export type ShrinkOptions = {
  readonly caseId: string;
  readonly twin?: string;
  readonly seconds?: number;
  readonly signal?: AbortSignal;
  /** Called for each smaller input: its characters, and the tries so far. */
  readonly onBest?: (size: number, tries: number) => void;
};

/** The smallest case found. */
export type ShrinkEnd = {
  /** The case as it was, and as small as was found, under a name of its own. */
  readonly from: string;
  readonly case: SharedCase;
  readonly sizeBefore: number;
  readonly sizeAfter: number;
  readonly tries: number;
  /** `smallest`: nothing smaller shows it; `stopped`: by the time limit or by the user. */
  readonly state: "smallest" | "stopped";
  readonly divergences: readonly Divergence[];
};

const DEFAULT_SECONDS = 30;

/** Opens a port file and shrinks one of its cases. Throws SideTwinError. */
export async function shrinkCaseOfFile(file: string, options: ShrinkOptions): Promise<ShrinkEnd> {
  const open = await openPort(file);
  return shrinkPortCase(open, await readCases(open), options);
}

/** Throws SideTwinError `bad-input` when the case does not differ. */
export async function shrinkPortCase(
  open: OpenPort,
  all: readonly SharedCase[],
  options: ShrinkOptions,
): Promise<ShrinkEnd> {
  const { cases, twins } = selectCases(open, all, options);
  const [item] = cases;
  const [twin] = twins;
  if (!item || !twin) throw new Error("nothing was selected");
  const prober = new Prober(open, twin, options.signal);
  try {
    const first = await prober.probe(item);
    if (options.signal?.aborted) {
      throw new SideTwinError({
        code: "bad-input",
        what: `Shrinking "${item.id}" was stopped before the case itself had run`,
        next: "Start it again; stopped later, it gives the smallest that was found.",
      });
    }
    if (first.verdict.outcome !== "differ") {
      throw new SideTwinError({
        code: "bad-input",
        what: `The case "${item.id}" does not differ on ${twin.name}; its outcome is "${first.verdict.outcome}"`,
        next: "Only a case that differs can be shrunk.",
      });
    }
    const isSame = sameFault(first);
    const until = performance.now() + (options.seconds ?? DEFAULT_SECONDS) * 1000;
    let { divergences } = first.verdict;
    const stillShows = async (candidate: SharedCase) => {
      const judged = await prober.probe(candidate);
      const isBest = isSame(judged);
      // Kept here: once stopped, the smallest cannot be run again.
      if (isBest) divergences = judged.verdict.divergences;
      return isBest;
    };
    const shrunk = await shrinkCase(item, stillShows, {
      isOver: () => performance.now() > until || (options.signal?.aborted ?? false),
      ...(options.onBest ? { onBest: options.onBest } : {}),
    });
    const taken = new Set(all.map((one) => one.id));
    const made: SharedCase = { ...shrunk.item, id: freeId(`${item.id}-small`, taken), from: "minimised" };
    return {
      from: item.id,
      case: made,
      sizeBefore: sizeOf(item),
      sizeAfter: sizeOf(made),
      tries: shrunk.tries,
      // An interrupted try decides nothing: its result is not known to be the smallest.
      state: shrunk.isDone && !options.signal?.aborted ? "smallest" : "stopped",
      divergences,
    };
  } finally {
    prober.close();
  }
}

/**
 * Whether another answer belongs to the same family: it differs at a path of the same shape, with the same first cause.
 */
export function sameFault(first: Judged): (other: Judged) => boolean {
  const facts = toFacts(first);
  const [family] = findFamilies([facts], []);
  const shapes = new Set(facts.divergences.map(faceOf));
  const [suspect] = family?.suspects ?? [];
  const cause = suspect && suspect.score >= 0.5 ? findCause(suspect.cause) : undefined;
  return (other) => {
    if (other.verdict.outcome !== "differ") return false;
    const candidate = toFacts(other);
    if (!candidate.divergences.some((divergence) => shapes.has(faceOf(divergence)))) return false;
    return cause === undefined || cause.examine(facetsOf([candidate], [])) !== null;
  };
}

const faceOf = ({ at, kind }: Divergence): string => `${pathShape(at)} ${kind}`;
