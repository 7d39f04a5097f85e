/** Results of test suites, and which test of the twin corresponds to which of the original (formats, section 12). */

export const TEST_RESULTS = ["passed", "failed", "skipped", "absent"] as const;
export type TestResult = (typeof TEST_RESULTS)[number];

/** One test as a suite reports it; names are unique within a suite. */
export type TestOutcome = { readonly name: string; readonly result: Exclude<TestResult, "absent"> };

/** The contract of a reader of results. Entries are pure, and know no other entry. Cost: linear in the text. */
export type SuiteReader = {
  readonly name: string;
  readonly title: string;
  readonly read: (text: string, terms: { readonly pattern?: string | undefined }) => TestOutcome[];
  readonly example: { readonly text: string; readonly finds: readonly TestOutcome[] };
};

/** A test of either side with its partner. */
export type PairedTest = {
  readonly original: string | null;
  readonly twin: string | null;
  readonly originalResult: TestResult;
  readonly twinResult: TestResult;
  readonly state: "same" | "differs" | "not-ported" | "only-in-twin";
};

/** The last of several results under one name counts, a failure before all. */
export function uniqueTests(tests: readonly TestOutcome[]): TestOutcome[] {
  const results = new Map<string, TestOutcome["result"]>();
  for (const { name, result } of tests) if (results.get(name) !== "failed") results.set(name, result);
  return [...results].map(([name, result]) => ({ name, result }));
}

/** The state of each pair, of tests without one, and of tests that only the twin has. In the original's order. */
export function pairTests(
  original: readonly TestOutcome[],
  twin: readonly TestOutcome[],
  pairs: ReadonlyMap<string, string>,
): PairedTest[] {
  const twinResults = new Map(twin.map(({ name, result }) => [name, result]));
  const taken = new Set<string>();
  const rows = original.map(({ name, result }): PairedTest => {
    const partner = pairs.get(name) ?? null;
    const twinResult = partner === null ? undefined : twinResults.get(partner);
    if (partner !== null) taken.add(partner);
    return {
      original: name,
      twin: twinResult === undefined ? null : partner,
      originalResult: result,
      twinResult: twinResult ?? "absent",
      state: twinResult === undefined ? "not-ported" : twinResult === result ? "same" : "differs",
    };
  });
  for (const { name, result } of twin)
    if (!taken.has(name))
      rows.push({ original: null, twin: name, originalResult: "absent", twinResult: result, state: "only-in-twin" });
  return rows;
}

/**
 * Original test → twin test. Pairs set by a person come first; then equal names, equal last parts that are unique on both
 * sides, and the likeliest by shared words, each test taken once. Cost: original × twin tests without an equal name.
 */
export function findTestPairs(
  original: readonly string[],
  twin: readonly string[],
  given: readonly { readonly original: string; readonly twin: string }[],
): Map<string, string> {
  const pairs = new Map(given.map((pair) => [pair.original, pair.twin]));
  const free = () => ({
    original: original.filter((name) => !pairs.has(name)),
    twin: twin.filter((name) => ![...pairs.values()].includes(name)),
  });
  const byKey = (keyOf: (name: string) => string) => {
    const left = free();
    const count = (names: readonly string[]) => {
      const groups = new Map<string, string[]>();
      for (const name of names) groups.set(keyOf(name), [...(groups.get(keyOf(name)) ?? []), name]);
      return groups;
    };
    const theirs = count(left.twin);
    for (const [key, [name, ...others]] of count(left.original)) {
      const [partner, ...more] = theirs.get(key) ?? [];
      if (key !== "" && name && partner && others.length === 0 && more.length === 0) pairs.set(name, partner);
    }
  };
  byKey((name) => name);
  byKey((name) => wordsIn(name).join(" "));
  byKey((name) => wordsIn(lastPart(name)).join(" "));
  const left = free();
  const scored = left.original
    .flatMap((name) => left.twin.map((partner) => ({ name, partner, score: likeness(name, partner) })))
    .filter(({ score }) => score >= MIN_LIKENESS)
    .sort((a, b) => b.score - a.score);
  const taken = new Set<string>();
  for (const { name, partner } of scored) {
    if (pairs.has(name) || taken.has(partner)) continue;
    pairs.set(name, partner);
    taken.add(partner);
  }
  return pairs;
}

/** Dice's coefficient over words (L. R. Dice, "Measures of the amount of ecologic association", 1945). */
const MIN_LIKENESS = 0.6;

function likeness(one: string, other: string): number {
  const [mine, theirs] = [new Set(wordsIn(lastPart(one))), new Set(wordsIn(lastPart(other)))];
  const shared = [...mine].filter((word) => theirs.has(word)).length;
  return mine.size + theirs.size === 0 ? 0 : (2 * shared) / (mine.size + theirs.size);
}

const lastPart = (name: string): string => name.split(/\s*>\s*|::|\.(?=\w+$)|\//).at(-1) ?? name;

const FILLER = new Set(["test", "tests", "should", "it", "a", "an", "the", "spec"]);

const wordsIn = (name: string): string[] =>
  name
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== "" && !FILLER.has(word));
