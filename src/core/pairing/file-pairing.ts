/**
 * Finds the files that port modules if names do not tell: by section names, literal fingerprints, and words of paths.
 * The likeliest are taken first; then left-over files may hold parts of modules, and left-over modules may have been
 * merged into files of others.
 */
import { assignFolderFiles } from "@/core/pairing/by-name";
import { dice, likenessOf, type Trace } from "@/core/pairing/traces";
import { wordsOf } from "@/core/pairing/words";

/** Features for pairing files. */
export type FileSketch = {
  readonly path: string;
  /** Names of sections without their style; of methods the last part. */
  readonly names: ReadonlySet<string>;
  readonly trace: Trace;
};

/** Features for pairing modules. */
export type ModuleSketch = {
  readonly name: string;
  readonly files: readonly FileSketch[];
  readonly twins: readonly string[];
  /** Its twin's files were found by an uninformative name. */
  readonly isDoubtful?: boolean;
};

const MIN_SCORE = 0.35;
/** A file is one of several of a module if this share of its names is the module's, and at least this many. */
const PART = 0.6;
const MIN_NAMES = 2;

/** Module → the files of a twin, those it had and those that were found. `files`: all of the twin. Cost: modules times files. */
export function pairFiles(
  given: readonly ModuleSketch[],
  files: readonly FileSketch[],
): Map<string, readonly string[]> {
  const modules = given.map((module) => (module.isDoubtful ? byContent(module, files) : module));
  const found = new Map(modules.map(({ name, twins }) => [name, twins]));
  const taken = new Set(modules.flatMap(({ twins }) => twins));
  const free = () => files.filter(({ path }) => !taken.has(path));
  const waiting = () => modules.filter(({ name }) => (found.get(name) ?? []).length === 0);
  const near = new Nearby(free());
  const candidates = waiting()
    .flatMap((module) => near.of(module).map((file) => ({ module, file, score: likeness(module, file) })))
    .filter(({ score }) => score >= MIN_SCORE)
    .sort((one, other) => other.score - one.score);
  for (const { module, file } of candidates) {
    if (taken.has(file.path) || (found.get(module.name) ?? []).length > 0) continue;
    found.set(module.name, [file.path]);
    taken.add(file.path);
  }
  const byPath = new Map(files.map((file) => [file.path, file]));
  const moduleNames = new Map(modules.map((module) => [module, allNames(module)]));
  const namesOf = (paths: readonly string[]) => new Set(paths.flatMap((path) => [...(byPath.get(path)?.names ?? [])]));
  const holding = indexNames(modules, (module) => moduleNames.get(module) ?? new Set());
  for (const file of free()) {
    const home = best(sharing(holding, file.names), (module) => {
      const has = namesOf(found.get(module.name) ?? []);
      const left = [...(moduleNames.get(module) ?? [])].filter((name) => !has.has(name));
      return has.size === 0 ? 0 : heldIn(file.names, new Set(left));
    });
    if (home) found.set(home.name, [...(found.get(home.name) ?? []), file.path]);
  }
  // Names that a file shares with its own module do not count for another.
  const owned = new Map<string, Set<string>>();
  for (const module of modules) {
    for (const path of found.get(module.name) ?? []) {
      const names = owned.get(path) ?? new Set();
      owned.set(path, names);
      for (const name of moduleNames.get(module) ?? []) names.add(name);
    }
  }
  const having = indexNames(files, ({ names }) => names);
  for (const module of waiting()) {
    const mine = moduleNames.get(module) ?? new Set();
    const home = best(sharing(having, mine), (file) => {
      const theirs = owned.get(file.path);
      const own = [...mine].filter((name) => !theirs?.has(name) && file.names.has(name)).length;
      return own < MIN_NAMES ? 0 : own / mine.size;
    });
    if (home) found.set(module.name, [home.path]);
  }
  const used = new Set([...found.values()].flat());
  const folders = assignFolderFiles(
    waiting().map(({ name, files: own }) => ({ name, files: own.map(({ path }) => path) })),
    files.filter(({ path }) => !used.has(path)).map(({ path }) => ({ name: path, files: [path] })),
  );
  for (const [name, own] of folders) found.set(name, own);
  return found;
}

/** A module that shares nothing with the file of its name belongs to the one file that has most of its sections. */
function byContent(module: ModuleSketch, files: readonly FileSketch[]): ModuleSketch {
  const mine = allNames(module);
  const held = (names: ReadonlySet<string>) => [...mine].filter((name) => names.has(name)).length;
  const own = files.filter(({ path }) => module.twins.includes(path));
  if (mine.size === 0 || own.some(({ names }) => held(names) > 0)) return module;
  const others = files
    .filter(({ path, names }) => !module.twins.includes(path) && held(names) / mine.size >= PART)
    .sort((one, other) => held(other.names) - held(one.names));
  const [first, second] = others;
  if (!first) return module;
  // Two that have as much of it leave it undecided, as two of one name do.
  const isClear = second === undefined || held(first.names) > held(second.names);
  return isClear ? { ...module, twins: [first.path] } : module;
}

/** Name → owners. */
function indexNames<T>(items: readonly T[], namesOf: (item: T) => ReadonlySet<string>): Map<string, T[]> {
  const index = new Map<string, T[]>();
  for (const item of items) {
    for (const name of namesOf(item)) {
      const list = index.get(name);
      if (list) list.push(item);
      else index.set(name, [item]);
    }
  }
  return index;
}

/** Owners that share a name not found everywhere, in order of the names. */
const sharing = <T>(index: ReadonlyMap<string, readonly T[]>, names: ReadonlySet<string>): T[] => [
  ...new Set(
    [...names].flatMap((name) => ((index.get(name)?.length ?? 0) <= TOO_COMMON ? (index.get(name) ?? []) : [])),
  ),
];

/** Names in more files than this are uninformative. */
const TOO_COMMON = 60;

/** Index of files by content, so that not every module is compared with every file. */
class Nearby {
  private readonly byClue = new Map<string, FileSketch[]>();

  constructor(files: readonly FileSketch[]) {
    for (const file of files) {
      for (const clue of cluesOf(file)) {
        const list = this.byClue.get(clue);
        if (list) list.push(file);
        else this.byClue.set(clue, [file]);
      }
    }
  }

  of(module: ModuleSketch): FileSketch[] {
    const found = new Set<FileSketch>();
    for (const clue of module.files.flatMap((file) => [...cluesOf(file)])) {
      const files = this.byClue.get(clue) ?? [];
      if (files.length <= TOO_COMMON) for (const file of files) found.add(file);
    }
    return [...found];
  }
}

const cluesOf = ({ path, names, trace }: FileSketch): Set<string> =>
  new Set([...names, ...[...trace.literals].map((item) => `"${item}`), ...stemWords(path).map((word) => `/${word}`)]);

function likeness(module: ModuleSketch, file: FileSketch): number {
  const names = dice(allNames(module), file.names) ?? 0;
  const trace = likenessOf(joined(module), file.trace)?.score ?? 0;
  const words = Math.max(...module.files.map(({ path }) => pathLikeness(path, file.path)), 0);
  return 0.45 * names + 0.3 * trace + 0.25 * words;
}

/** Words of the whole paths; more where all words of one file's own name are in the other's. */
function pathLikeness(one: string, other: string): number {
  const whole = dice(pathWords(one), pathWords(other)) ?? 0;
  const [mine, theirs] = [stemWords(one), stemWords(other)];
  const [few, many] = mine.length <= theirs.length ? [mine, theirs] : [theirs, mine];
  const isWithin = few.length > 0 && few.every((word) => many.includes(word));
  return isWithin ? 0.5 + 0.5 * whole : whole;
}

const stemWords = (path: string): string[] => wordsOf((path.split("/").at(-1) ?? "").replace(/\.[^./]+$/, ""));

const allNames = ({ files }: ModuleSketch): ReadonlySet<string> => new Set(files.flatMap(({ names }) => [...names]));

const joined = ({ files }: ModuleSketch): Trace => ({
  literals: new Set(files.flatMap(({ trace }) => [...trace.literals])),
  calls: new Set(files.flatMap(({ trace }) => [...trace.calls])),
});

const pathWords = (path: string): ReadonlySet<string> => new Set(wordsOf(path.replace(/\.[^./]+$/, "")));

/** Returns the share of names found among others; 0 if there are too few to judge. */
function heldIn(names: ReadonlySet<string>, others: ReadonlySet<string>): number {
  if (names.size < MIN_NAMES) return 0;
  return [...names].filter((name) => others.has(name)).length / names.size;
}

function best<T>(list: readonly T[], score: (item: T) => number): T | null {
  let found: { item: T; score: number } | null = null;
  for (const item of list) {
    const own = score(item);
    if (own >= PART && own > (found?.score ?? 0)) found = { item, score: own };
  }
  return found?.item ?? null;
}
