/** Looks for inputs that reach what no case reaches: changes those that reached something, again and again. */
import { sectionOf } from "@/core/cases/hand-over";
import type { Explored } from "@/core/exploring/choose";
import type { Feature } from "@/core/exploring/features";
import type { Random } from "@/core/exploring/random";
import type { Target } from "@/core/exploring/targets";
import type { CallCase, StepsCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";

/**
 * An input with what it reaches, or why it makes no case; `isSlow` where it took the time limit, `isHopeless` where no
 * other input of the section will do better.
 */
export type Attempt = Explored & {
  readonly refused: string | null;
  readonly isSlow: boolean;
  readonly isHopeless?: boolean;
  /** Its answer, where that may be an input of others. */
  readonly value?: Json | undefined;
};

export type SearchOptions = {
  readonly random: Random;
  /** Features reached before the search. */
  readonly reached: ReadonlySet<Feature>;
  /** The port's own cases, from which the search starts. */
  readonly cases: readonly (CallCase | StepsCase)[];
  /** Runs inputs; answers come in their order, fewer where it was stopped. */
  readonly attempt: (items: readonly (CallCase | StepsCase)[]) => Promise<readonly Attempt[]>;
  readonly isOver: () => boolean;
  /** Takes what calls answer, so that others are given it. */
  readonly seen: Json[];
};

/** The end of a search. `found` has the inputs that reached something new when they were tried, in that order. */
export type SearchEnd = {
  readonly found: readonly Explored[];
  readonly tried: number;
  /** Why inputs made no case → how many. */
  readonly refused: ReadonlyMap<string, number>;
  /** Sections that were given up: all that they do is hang, fail to load or write. */
  readonly givenUp: readonly string[];
};

/** Inputs a section and round: few at first, and one where some took the whole time. */
const FIRST_BATCH = 2;
const MAX_BATCH = 16;
/** Inputs that are run before the clock is looked at. */
const PIECE = 64;
/** The search in a section ends after this many tries that reach nothing new. */
const PATIENCE = 1200;
/** The search in a section ends after this many inputs of which none was accepted. */
const MAX_REFUSED = 600;
const MAX_SEEN = 300;
const MAX_SLOW = 3;
const MAX_HOPELESS = 3;

type Ground = {
  readonly target: Target;
  readonly corpus: (CallCase | StepsCase)[];
  batch: number;
  idle: number;
  refused: number;
  slow: number;
  hopeless: number;
};

/** The same for the same random choices and answers. Cost: one attempt an input, until the patience or the time is over. */
export async function searchInputs(targets: readonly Target[], options: SearchOptions): Promise<SearchEnd> {
  const { random, attempt, isOver } = options;
  const known = new Set(options.reached);
  const found: Explored[] = [];
  const refused = new Map<string, number>();
  const givenUp: string[] = [];
  let tried = 0;
  let grounds = targets.map(
    (target): Ground => ({
      target,
      corpus: options.cases.filter((item) => item.module === target.module && sectionOf(item) === target.name),
      batch: FIRST_BATCH,
      idle: 0,
      refused: 0,
      slow: 0,
      hopeless: 0,
    }),
  );
  const texts = new Set<string>();
  while (grounds.length > 0 && !isOver()) {
    const asked = grounds.flatMap((ground) => inputsFor(ground, random, texts).map((item) => ({ ground, item })));
    const attempts: Attempt[] = [];
    for (let from = 0; from < asked.length && !isOver(); from += PIECE)
      attempts.push(...(await attempt(asked.slice(from, from + PIECE).map(({ item }) => item))));
    tried += attempts.length;
    for (const [index, { item, features, refused: why, isSlow, isHopeless, value }] of attempts.entries()) {
      const ground = asked[index]?.ground;
      if (!ground) continue;
      ground.idle++;
      if (isSlow) ground.slow++;
      if (isHopeless) ground.hopeless++;
      if (why !== null) {
        ground.refused++;
        refused.set(why, (refused.get(why) ?? 0) + 1);
        continue;
      }
      if (features.every((feature) => known.has(feature))) continue;
      for (const feature of features) known.add(feature);
      if (value !== undefined && value !== null && options.seen.length < MAX_SEEN) options.seen.push(value);
      found.push({ item, features });
      ground.corpus.push(item);
      ground.target.learn(item);
      ground.idle = 0;
    }
    grounds = grounds.filter((ground) => {
      const isNew = ground.corpus.length === 0;
      // Counted under its reason; there is nothing else to say of it.
      if (isNew && ground.hopeless >= MAX_HOPELESS) return false;
      const isHopeless = ground.slow >= MAX_SLOW || (isNew && ground.refused >= MAX_REFUSED);
      if (isHopeless) givenUp.push(`${ground.target.module}.${ground.target.name}`);
      // Where every input was tried before, no attempt counts it as idle.
      if (!asked.some((entry) => entry.ground === ground)) return false;
      ground.batch = ground.slow > 0 ? 1 : Math.min(ground.batch * 2, MAX_BATCH);
      return !isHopeless && ground.idle < PATIENCE;
    });
  }
  return { found, tried, refused, givenUp };
}

function inputsFor({ target, corpus, batch }: Ground, random: Random, texts: Set<string>): (CallCase | StepsCase)[] {
  const made: (CallCase | StepsCase)[] = [];
  for (let tries = 0; made.length < batch && tries < batch * 4; tries++) {
    let item = corpus.length > 0 && random.chance(0.75) ? target.vary(random.of(corpus), random) : target.make(random);
    while (random.chance(0.3)) item = target.vary(item, random);
    const text = JSON.stringify(item);
    if (texts.has(text)) continue;
    texts.add(text);
    made.push(item);
  }
  return made;
}
