/** Dotted names that moved, learned from the imports of ported files. */

/** Imports of one file by their whole dotted names, on both sides. */
export type ImportedNames = { readonly original: readonly string[]; readonly twin: readonly string[] };

export type LearnedName = {
  readonly from: string;
  readonly to: string;
  readonly keep: readonly string[];
  readonly seen: number;
};

/** Prefixes that were exchanged while the rest of a name stayed; names below them that were left alone are kept. */
export function learnNames(files: readonly ImportedNames[]): LearnedName[] {
  const found = new Map<string, { from: string; to: string; seen: number }>();
  const stayed = new Set<string>();
  for (const { original, twin } of files) {
    for (const name of original) if (twin.includes(name)) stayed.add(name);
    const gone = original.filter((name) => !twin.includes(name));
    const fresh = twin.filter((name) => !original.includes(name));
    for (const name of gone) {
      const other = fresh
        .map((candidate) => ({ candidate, shared: sharedEnd(name, candidate) }))
        .filter(({ shared }) => shared > 0)
        .sort((a, b) => b.shared - a.shared)[0];
      if (!other) continue;
      const cut = (dotted: string) => dotted.split(".").slice(0, -other.shared).join(".");
      const [from, to] = [cut(name), cut(other.candidate)];
      if (from === "" || to === "" || from === to) continue;
      const key = `${from}\0${to}`;
      found.set(key, { from, to, seen: (found.get(key)?.seen ?? 0) + 1 });
    }
  }
  return [...found.values()]
    .map((entry) => ({
      ...entry,
      keep: [...stayed]
        .filter((name) => name === entry.from || name.startsWith(`${entry.from}.`))
        .map((name) => `${name}.**`),
    }))
    .sort((a, b) => b.seen - a.seen);
}

/** How many parts two names share at their end. */
function sharedEnd(one: string, other: string): number {
  const [mine, theirs] = [one.split(".").reverse(), other.split(".").reverse()];
  let shared = 0;
  while (shared < mine.length && mine[shared] === theirs[shared]) shared++;
  return Math.min(shared, mine.length - 1, theirs.length - 1);
}
