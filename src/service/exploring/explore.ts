/** Shared parts of recording and generating: scope, coverage before, and result. */
import { freeId } from "@/core/cases/free-id";
import { sectionOf } from "@/core/cases/hand-over";
import { SideTwinError } from "@/core/errors";
import { type Feature, isLine } from "@/core/exploring/features";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { PortModule } from "@/core/pairing/modules";
import type { PoolAnswer } from "@/engine/bridge/pool";
import type { Callable, Original } from "@/service/exploring/original";
import type { OpenPort } from "@/service/port/open-port";

/** The end of recording or generating, as the command line prints it (formats, section 11). */
export type ExploreEnd = {
  /** Calls that were recorded, or inputs that were tried. */
  readonly seen: number;
  readonly kept: number;
  readonly leftOut: readonly { readonly why: string; readonly count: number }[];
  readonly lines: { readonly before: number; readonly after: number; readonly of: number };
  /** Ids of the new cases. */
  readonly cases: readonly string[];
};

/** The wanted modules, all where none is named. Throws SideTwinError `not-found`. */
export function modulesFor(open: OpenPort, wanted: readonly string[]): readonly PortModule[] {
  const found = open.modules.filter(
    ({ name, original }) => original.length > 0 && (wanted.length === 0 || wanted.includes(name)),
  );
  const strange = wanted.find((name) => !found.some((module) => module.name === name));
  if (strange === undefined) return found;
  throw new SideTwinError({
    code: "not-found",
    what: `There is no module "${strange}" with files of the original`,
    next: `Modules: ${open.modules.map(({ name }) => name).join(", ")}.`,
  });
}

/** Features reached by the port's calls and steps; program runs are not counted. */
export async function reachedBefore(
  original: Original,
  cases: readonly SharedCase[],
  modules: readonly PortModule[],
): Promise<Set<Feature>> {
  const names = new Set(modules.map(({ name }) => name));
  const own = cases.flatMap((item) => (isRunCase(item) || !names.has(item.module) ? [] : [item]));
  const tried = await original.try(own);
  return new Set([...original.loaded(own), ...tried.flatMap(({ features }) => features)]);
}

/** How many of the lines are reached. */
export const countLines = (reached: Iterable<Feature>, executable: ReadonlySet<Feature>): number =>
  [...new Set(reached)].filter((feature) => isLine(feature) && executable.has(feature)).length;

/** The cases under free names: module, section and a number. */
export function named(
  items: readonly Callable[],
  all: readonly SharedCase[],
  from: "recorded" | "generated",
): Callable[] {
  const taken = new Set(all.map(({ id }) => id));
  return items.map((item) => {
    const id = freeId(`${item.module}-${sectionOf(item)}-${from}`, taken);
    taken.add(id);
    return { ...item, id, from };
  });
}

/** Counts by reason, the most frequent first. */
export class LeftOut {
  private readonly counts = new Map<string, number>();

  add(why: string, count = 1): void {
    if (count > 0) this.counts.set(why, (this.counts.get(why) ?? 0) + count);
  }

  list(): ExploreEnd["leftOut"] {
    return [...this.counts].map(([why, count]) => ({ why, count })).sort((left, right) => right.count - left.count);
  }
}

/** The reason of a section that no input can reach. */
export const NOT_CALLABLE = "it cannot be called from outside its module";

/** Why an answer makes no case, or null. */
export function whyNoCase({ result }: PoolAnswer): string | null {
  // The side has no such function to call, or the search was stopped.
  if (result.kind === "skipped") return result.why === "stopped" ? "it was not run" : NOT_CALLABLE;
  if (result.kind !== "broken") return hasOpaque(result) ? "its answer cannot be written down" : null;
  switch (result.why) {
    case "timed-out":
      return "it takes longer than the time limit";
    case "would-not-load":
      return NOT_CALLABLE;
    case "outside-folder":
      return "it writes outside its folder";
    case "ended":
      return "it ends the process";
    default:
      return "it crashes or goes over a limit";
  }
}

const hasOpaque = (result: unknown): boolean => JSON.stringify(result).includes('{"~opaque":');

/** The part of an answer that must be the same each time. */
export const answerText = ({ result }: PoolAnswer): string =>
  JSON.stringify(result, (key, value) => (key === "trace" ? undefined : value));
