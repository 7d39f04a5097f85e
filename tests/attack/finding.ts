/** What came of one attack, or of several of a kind at once. */
export type Finding = {
  readonly group: string;
  readonly what: string;
  /** How many attacks it stands for. */
  readonly count: number;
  /** What did not hold, in words; nothing where all did. */
  readonly wrong: readonly string[];
};

/** A table of what held, and each thing that did not. */
export function formatFindings(findings: readonly Finding[]): string {
  const groups = new Map<string, { tried: number; wrong: string[] }>();
  for (const { group, count, what, wrong } of findings) {
    const entry = groups.get(group) ?? { tried: 0, wrong: [] };
    groups.set(group, entry);
    entry.tried += count;
    entry.wrong.push(...wrong.map((text) => `${group}: ${what.slice(0, 100)}: ${text}`));
  }
  const width = Math.max(...[...groups.keys()].map((name) => name.length));
  const rows = [...groups].map(
    ([name, { tried, wrong }]) =>
      `${name.padEnd(width)}  ${String(tried).padStart(5)} tried  ${wrong.length === 0 ? "all held" : `${wrong.length} did not hold`}`,
  );
  return [...rows, "", ...[...groups.values()].flatMap(({ wrong }) => wrong)].join("\n").trim();
}

/** Numbers from 0 to below 1, the same for the same seed (mulberry32, T. Ettinger, public domain, 2017). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
