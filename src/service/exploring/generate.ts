/** Looks for inputs that run lines and branches of the original which no case runs, and keeps the few that reach something. */
import { sectionOf } from "@/core/cases/hand-over";
import { shrinkCase, sizeOf } from "@/core/cases/shrink";
import type { CaseFacts } from "@/core/explain/facets";
import { findFamilies } from "@/core/explain/families";
import { chooseCases, type Explored } from "@/core/exploring/choose";
import { type Feature, isOfCode, isOfWrongKind } from "@/core/exploring/features";
import { Random } from "@/core/exploring/random";
import { type Attempt, type SearchEnd, searchInputs } from "@/core/exploring/search";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { groupBy } from "@/core/values/group-by";
import type { PoolAnswer } from "@/engine/bridge/pool";
import { Prober } from "@/service/check/prober";
import { toFacts } from "@/service/check/verdict";
import { keepCases } from "@/service/edits/keep-cases";
import {
  answerText,
  countLines,
  type ExploreEnd,
  LeftOut,
  modulesFor,
  NOT_CALLABLE,
  named,
  reachedBefore,
  whyNoCase,
} from "@/service/exploring/explore";
import { type Callable, Original, type Tried } from "@/service/exploring/original";
import { findTargets } from "@/service/exploring/port-targets";
import { type OpenPort, openPort, readCases, twinsFor } from "@/service/port/open-port";

const DEFAULT_SECONDS = 30;
const DEFAULT_MOST = 100;
const DEFAULT_SEED = 1;
/** Slower inputs make no case. */
const TIME_MS = 1000;
const SLOW_MS = 100;
const MAX_SEEN_TEXT = 400;
/** The share of the time that is left for making the found cases small. */
const SHRINK_SHARE = 0.25;
const MAX_SHRINK_TRIES = 120;
/** Maximum number of inputs with new coverage that are run on a twin. */
const MAX_PROBED = 400;
const KEPT_OF_A_FAMILY = 2;

export type GenerateOptions = {
  readonly modules?: readonly string[];
  /** Names of sections, with or without their module. */
  readonly calls?: readonly string[];
  readonly seconds?: number | undefined;
  readonly most?: number | undefined;
  readonly seed?: number | undefined;
  /** Keeps inputs on which a twin differs, too. */
  readonly twins?: boolean | undefined;
  readonly signal?: AbortSignal | undefined;
  /** Ends the search; what was found is kept. */
  readonly finish?: AbortSignal | undefined;
  readonly onStep?: (words: string) => void;
};

/** Throws SideTwinError: `not-found` for a module or section that is not there, `bad-input` where nothing can be called. */
export async function generateCases(file: string, options: GenerateOptions = {}): Promise<ExploreEnd> {
  const open = await openPort(file);
  const all = await readCases(open);
  const modules = modulesFor(open, options.modules ?? []);
  const seen: Json[] = [];
  const { targets, source } = await findTargets(open, modules, all, { calls: options.calls ?? [], seen });
  const seconds = options.seconds ?? DEFAULT_SECONDS;
  const over = (share: number) => {
    const until = performance.now() + seconds * share * 1000;
    return () => performance.now() > until || options.signal?.aborted === true || options.finish?.aborted === true;
  };
  const isOver = over(1 - SHRINK_SHARE);
  const original = await Original.open(open, modules, { signal: options.signal, timeMs: TIME_MS });
  try {
    const reached = await reachedBefore(original, all, modules);
    const before = countLines(reached, original.executable);
    options.onStep?.(`trying inputs for ${targets.length} sections`);
    const own = all.filter((item): item is Callable => !isRunCase(item));
    const search = await searchInputs(targets, {
      random: new Random(options.seed ?? DEFAULT_SEED),
      reached,
      cases: own,
      attempt: async (items) => (await original.try(items)).map((tried) => toAttempt(tried, source)),
      isOver,
      seen,
    });
    const leftOut = new LeftOut();
    for (const [why, count] of search.refused) leftOut.add(why, count);
    const steady = await onlySteady(original, search.found, leftOut);
    const loaded = original.loaded(steady.map(({ item }) => item));
    for (const feature of loaded) reached.add(feature);
    const chosen = chooseCases(steady, reached, options.most ?? DEFAULT_MOST);
    options.onStep?.(`making ${chosen.length} cases smaller`);
    const small = await makeSmall(original, chosen, reached, over(SHRINK_SHARE));
    const differing = options.twins ? await findDiffering(open, search, small, over(SHRINK_SHARE), options) : [];
    const items = named([...small.map(({ item }) => item), ...differing], all, "generated");
    leftOut.add(
      "reaches nothing new",
      search.tried - [...search.refused.values()].reduce((sum, count) => sum + count, 0) - items.length,
    );
    for (const name of search.givenUp) leftOut.add(`given up: ${name} gives no answer`);
    if (items.length > 0) await keepCases(open, all, items, "generated");
    const after = countLines([...reached, ...small.flatMap(({ features }) => features)], original.executable);
    const lines = { before, after, of: original.executable.size };
    return { seen: search.tried, kept: items.length, leftOut: leftOut.list(), lines, cases: items.map(({ id }) => id) };
  } finally {
    original.close();
  }
}

function toAttempt({ item, answer, features }: Tried, source: string): Attempt {
  const isSlow = answer.result.kind === "broken" && answer.result.why === "timed-out";
  // A slow input would be run again and again, by the search and by every check.
  const refused = whyNoCase(answer) ?? whyUnwanted(answer, source);
  const value =
    answer.result.kind === "call" && (answer.text?.length ?? 0) < MAX_SEEN_TEXT ? answer.result.value : undefined;
  return { item, features: features.filter(isOfCode), refused, isSlow, isHopeless: refused === NOT_CALLABLE, value };
}

function whyUnwanted({ result, ms }: PoolAnswer, source: string): string | null {
  if ((ms ?? 0) > SLOW_MS) return "it takes long";
  const isAnswer = result.kind !== "broken" && result.kind !== "skipped";
  return isAnswer && isOfWrongKind(result, source) ? "an argument is of a wrong kind" : null;
}

/** Those that answer the same twice. */
async function onlySteady(original: Original, found: readonly Explored[], leftOut: LeftOut): Promise<Explored[]> {
  const items = found.map(({ item }) => item);
  const first = await original.again(items);
  const second = await original.again(items);
  return found.filter((_entry, index) => {
    const [one, other] = [first[index], second[index]];
    const isSteady = one !== undefined && other !== undefined && answerText(one) === answerText(other);
    if (!isSteady) leftOut.add("its answer is not the same each time");
    return isSteady;
  });
}

/** Each case as small as it can be and still reach what no other of them does. */
async function makeSmall(
  original: Original,
  chosen: readonly Explored[],
  reached: ReadonlySet<Feature>,
  isStopped: () => boolean,
): Promise<Explored[]> {
  const counts = new Map<Feature, number>();
  for (const { features } of chosen)
    for (const feature of new Set(features)) counts.set(feature, (counts.get(feature) ?? 0) + 1);
  const made: Explored[] = [];
  for (const entry of chosen) {
    const needed = entry.features.filter((feature) => !reached.has(feature) && counts.get(feature) === 1);
    let best = entry;
    let tries = 0;
    const section = sectionOf(entry.item);
    const stillReaches = async (candidate: SharedCase) => {
      if (isRunCase(candidate) || sectionOf(candidate) !== section) return false;
      const [tried] = await original.try([candidate]);
      if (!tried || whyNoCase(tried.answer) !== null) return false;
      const own = new Set(tried.features);
      const isEnough = needed.every((feature) => own.has(feature));
      if (isEnough) best = { item: candidate, features: tried.features.filter(isOfCode) };
      return isEnough;
    };
    await shrinkCase(entry.item, stillReaches, { isOver: () => isStopped() || tries++ >= MAX_SHRINK_TRIES });
    made.push(best);
  }
  return made;
}

/** Inputs on which a twin differs: the smallest of each family that the kept cases do not show. */
async function findDiffering(
  open: OpenPort,
  { found }: SearchEnd,
  kept: readonly Explored[],
  isOver: () => boolean,
  { signal }: GenerateOptions,
): Promise<Callable[]> {
  const chosen: Callable[] = [];
  for (const twin of twinsFor(open, undefined)) {
    const prober = new Prober(open, twin, signal);
    try {
      const facts: CaseFacts[] = [];
      const inputs = [...kept, ...found].map(({ item }, index) => ({ ...item, id: `${index}` }));
      for (const item of inputs.slice(0, MAX_PROBED)) {
        if (isOver()) break;
        const judged = await prober.probe(item);
        if (judged.verdict.outcome === "differ") facts.push(toFacts(judged));
      }
      const sections = groupBy(facts, ({ item }) => `${item.module} ${sectionOf(item)}`);
      for (const family of [...sections.values()].flatMap((own) => findFamilies(own, []))) {
        const own = family.cases.map((id) => Number(id));
        // The kept ones come first: a family that has one of them is shown.
        if (own.some((index) => index < kept.length)) continue;
        const items = own.flatMap((index) => inputs[index] ?? []);
        chosen.push(...items.sort((left, right) => sizeOf(left) - sizeOf(right)).slice(0, KEPT_OF_A_FAMILY));
      }
    } finally {
      prober.close();
    }
  }
  return [...new Map(chosen.map((item) => [JSON.stringify({ ...item, id: "" }), item])).values()];
}
