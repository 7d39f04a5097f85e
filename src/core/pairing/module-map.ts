/**
 * The moduleMap: rules for where a file of the original goes in the twin. A rule has one wildcard, `*` within a folder
 * or `**` (also written `**` followed by a slash and `*`) through folders, which matches the same text on both sides,
 * in either style. Rules can be proposed from both trees, and their effect shown.
 */
import { plainForm } from "@/core/pairing/by-name";
import { convertName } from "@/core/pairing/naming";

/** A rule: a pattern of the original and its place in the twin. */
export type MapRule = { readonly original: string; readonly twin: string };

/** The effect of rules on both trees. */
export type MapEffect = {
  /** Per rule: the files of the original it covers, and their places. */
  readonly rules: readonly { readonly rule: MapRule; readonly covers: readonly Placed[] }[];
  /** Files of the original that no rule covers. */
  readonly missed: readonly string[];
  /** Files of the twin in which no rule finds a place for anything. */
  readonly leftTwin: readonly string[];
};

/** `twin` is a path that is there, or the one where it is expected. */
export type Placed = { readonly original: string; readonly twin: string; readonly isThere: boolean };

const WILDCARD = /\*\*\/\*|\*+/;

/**
 * Returns the place that the first matching rule gives a file; null if none matches. `there` is null if that file does
 * not exist yet.
 */
export function mappedFile(
  rules: readonly MapRule[],
  file: string,
  present: ReadonlySet<string>,
): { readonly rule: MapRule; readonly there: string | null; readonly expected: string } | null {
  let expected: { rule: MapRule; expected: string } | null = null;
  for (const rule of rules) {
    const captured = capture(file, rule.original);
    if (captured === null) continue;
    const places = spellings(captured).map((spelling) => rule.twin.replace(WILDCARD, spelling));
    const there = places.find((place) => present.has(place));
    expected ??= { rule, expected: places[0] ?? rule.twin };
    if (there !== undefined) return { rule, there, expected: there };
  }
  return expected && { ...expected, there: null };
}

/** Returns what the wildcard matches in a path; null if the path does not match. */
function capture(file: string, pattern: string): string | null {
  const found = WILDCARD.exec(pattern);
  if (!found) return file === pattern ? "" : null;
  const [head, end] = [pattern.slice(0, found.index), pattern.slice(found.index + found[0].length)];
  if (!file.startsWith(head) || !file.endsWith(end) || file.length <= head.length + end.length) return null;
  const middle = file.slice(head.length, file.length - end.length);
  return middle.includes("/") && !found[0].includes("**") ? null : middle;
}

/** Ways to write a name, folders before it left as they are. */
function spellings(captured: string): string[] {
  const folder = captured.slice(0, captured.lastIndexOf("/") + 1);
  const name = captured.slice(folder.length);
  const snake = convertName(name, "camel-to-snake").replaceAll("-", "_");
  const all = [
    name,
    convertName(name, "snake-to-camel"),
    name.replaceAll("_", "-"),
    snake,
    snake.replaceAll("_", "-"),
    convertName(name, "snake-to-pascal"),
  ];
  return [...new Set(all)].map((spelling) => folder + spelling);
}

/** Computes the effect of rules on both trees. Cost: files × rules. */
export function effectOfMap(
  rules: readonly MapRule[],
  sides: { readonly original: readonly string[]; readonly twin: readonly string[] },
): MapEffect {
  const present = new Set(sides.twin);
  const covers = new Map<MapRule, Placed[]>(rules.map((rule) => [rule, []]));
  const missed: string[] = [];
  const reached = new Set<string>();
  for (const file of sides.original) {
    const place = mappedFile(rules, file, present);
    if (!place) missed.push(file);
    else {
      covers.get(place.rule)?.push({ original: file, twin: place.expected, isThere: place.there !== null });
      if (place.there !== null) reached.add(place.there);
    }
  }
  return {
    rules: rules.map((rule) => ({ rule, covers: covers.get(rule) ?? [] })),
    missed,
    leftTwin: sides.twin.filter((file) => !reached.has(file)),
  };
}

const MAX_RULES = 12;

/**
 * Rules that place as many files as can be, found from files of like names, the one that places the most first. Where the
 * twin is empty, one rule that keeps the original's folders below `home`. Cost: files times the candidates for a rule.
 */
export function proposeMap(
  sides: { readonly original: readonly string[]; readonly twin: readonly string[] },
  empty: { readonly ending: string; readonly home: string },
): MapRule[] {
  if (sides.original.length === 0) return [];
  if (sides.twin.length === 0) return [emptyRule(sides.original, empty)];
  const candidates = candidateRules(sides);
  const chosen: MapRule[] = [];
  let left: readonly string[] = sides.original;
  const present = new Set(sides.twin);
  while (left.length > 0 && chosen.length < MAX_RULES) {
    const scored = candidates.map((rule) => ({
      rule,
      placed: left.filter((file) => mappedFile([rule], file, present)?.there != null),
    }));
    const best = scored.reduce<(typeof scored)[number] | null>(
      (top, one) => (one.placed.length > (top?.placed.length ?? 0) ? one : top),
      null,
    );
    // A rule for one file of many adds nothing to its name.
    if (!best || best.placed.length < Math.min(2, sides.original.length)) break;
    chosen.push(best.rule);
    const placed = new Set(best.placed);
    left = left.filter((file) => !placed.has(file));
  }
  return chosen;
}

/** Folders of files with like names, as rules within a folder and through folders, narrow ones first. */
function candidateRules({ original, twin }: { original: readonly string[]; twin: readonly string[] }): MapRule[] {
  const byForm = new Map<string, string[]>();
  for (const file of twin) byForm.set(plainForm(file), [...(byForm.get(plainForm(file)) ?? []), file]);
  const rules = new Map<string, MapRule>();
  const add = (rule: MapRule) => rules.set(`${rule.original}\0${rule.twin}`, rule);
  for (const file of original) {
    for (const other of (byForm.get(plainForm(file)) ?? []).slice(0, 4)) {
      const [one, two] = [splitPath(file), splitPath(other)];
      add({ original: `${one.folder}*${one.ending}`, twin: `${two.folder}*${two.ending}` });
      const [mine, theirs] = [one.folder.split("/").slice(0, -1), two.folder.split("/").slice(0, -1)];
      // Common trailing folders of both paths become the wildcard.
      while (mine.length > 0 && theirs.length > 0 && mine.at(-1) === theirs.at(-1)) {
        mine.pop();
        theirs.pop();
        add({ original: through(mine, one.ending), twin: through(theirs, two.ending) });
      }
    }
  }
  return [...rules.values()];
}

const through = (folders: readonly string[], ending: string): string =>
  `${folders.map((folder) => `${folder}/`).join("")}**/*${ending}`;

function splitPath(file: string): { folder: string; ending: string } {
  const folder = file.slice(0, file.lastIndexOf("/") + 1);
  return { folder, ending: /\.[^./]+$/.exec(file)?.[0] ?? "" };
}

/** All of the original from the folder that its files share. */
function emptyRule(files: readonly string[], { ending, home }: { ending: string; home: string }): MapRule {
  const endings = new Map<string, number>();
  for (const file of files) endings.set(splitPath(file).ending, (endings.get(splitPath(file).ending) ?? 0) + 1);
  const [usual = ""] = [...endings].sort((one, other) => other[1] - one[1])[0] ?? [];
  const folders = files.filter((file) => file.endsWith(usual)).map((file) => file.split("/").slice(0, -1));
  const [first = []] = folders;
  let shared = 0;
  while (shared < first.length && folders.every((folder) => folder[shared] === first[shared])) shared++;
  const isFlat = folders.every((folder) => folder.length === shared);
  const wildcard = isFlat ? "*" : "**/*";
  const below = first.slice(0, shared).map((folder) => `${folder}/`);
  return { original: `${below.join("")}${wildcard}${usual}`, twin: `${home}${wildcard}${ending}` };
}
