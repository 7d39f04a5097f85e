/**
 * Generating of cases: the lines and branches of pure modules that it reaches, beside plain random inputs of the same types
 * in the same time, and how many inputs a second it tries beside the bare bridge.
 */
import { cpSync, existsSync, mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { chooseCases } from "@/core/exploring/choose";
import { type Feature, isLine, isOfCode } from "@/core/exploring/features";
import { Random } from "@/core/exploring/random";
import { type Attempt, searchInputs } from "@/core/exploring/search";
import type { Json } from "@/core/formats/json";
import { packageRoot } from "@/engine/package-root";
import { whyNoCase } from "@/service/exploring/explore";
import { type Callable, Original } from "@/service/exploring/original";
import { findTargets } from "@/service/exploring/port-targets";
import { openPort } from "@/service/port/open-port";
import { standardLibrary } from "./survey";

/** Pure modules of the Python standard library. */
const PYTHON = [
  "textwrap",
  "fnmatch",
  "shlex",
  "colorsys",
  "bisect",
  "heapq",
  "posixpath",
  "quopri",
  "calendar",
  "fractions",
  "statistics",
  "string",
];
/** Packages without dependencies that lie among the project's own, each with the file that is looked at. */
const NPM: Readonly<Record<string, string>> = {
  ms: "index.js",
  picomatch: "lib/parse.js",
  semver: "classes/semver.js",
  "smol-toml": "dist/parse.js",
  "ip-address": "dist/ipv4.js",
  "jsonc-parser": "lib/umd/impl/scanner.js",
  "lines-and-columns": "build/index.js",
  netmask: "dist/netmask.js",
  "json-parse-even-better-errors": "index.js",
  "fast-fifo": "fixed-size.js",
  "string-argv": "index.js",
  "path-expression-matcher": "src/Expression.js",
  papaparse: "papaparse.js",
  "convert-source-map": "index.js",
  "data-uri-to-buffer": "dist/common.js",
};
const START_CASES = 3;
const JOBS = 2;
/** Seconds after which the reach is noted, beside that at the end. */
const MARKS = [10, 60, 300];

type Reach = { readonly lines: number; readonly branches: number };
type Reached = {
  /** At each mark that the search ran to, then at the end. */
  readonly at: readonly Reach[];
  readonly of: number;
};
type Way = { readonly isPlain: boolean; readonly cases: readonly Callable[] };

/** One line a module, and one a language and mark. `seconds` is the time of each search; `only` names modules. */
export async function benchGenerate(
  work: string,
  say: (line: string) => void,
  { seconds, only }: { readonly seconds: number; readonly only: readonly string[] | null },
): Promise<void> {
  const isWanted = ([name]: readonly [string, ...string[]]) => only?.includes(name) ?? true;
  const library = await standardLibrary();
  const python =
    library === null ? [] : PYTHON.map((name) => [name, path.join(library, `${name}.py`), `${name}.py`] as const);
  const npm = Object.entries(NPM).map(
    ([name, file]) => [name, path.join(packageRoot(), "node_modules", name), file] as const,
  );
  await benchLanguage({ work, say, seconds, language: "python", files: python.filter(isWanted) });
  await benchLanguage({ work, say, seconds, language: "javascript", files: npm.filter(isWanted) });
}

type Bench = {
  readonly work: string;
  readonly say: (line: string) => void;
  readonly seconds: number;
  readonly language: string;
  /** Name, a file or folder that is copied, and the file in it that is looked at. */
  readonly files: readonly (readonly [string, string, string])[];
};

async function benchLanguage({ work, say, seconds, language, files }: Bench): Promise<void> {
  const marks = [...MARKS.filter((mark) => mark < seconds), seconds];
  const searched: { readonly guided: Reached; readonly plain: Reached; readonly started: Reached }[] = [];
  const rates: number[] = [];
  for (const [name, source, file] of files) {
    if (!existsSync(source)) continue;
    const folder = makePort(work, language, name, { source, file });
    try {
      const guided = await search(folder, { isPlain: false, cases: [] }, { seconds, marks });
      const plain = await search(folder, { isPlain: true, cases: [] }, { seconds, marks });
      const given = guided.found.slice(0, START_CASES);
      const started = await search(folder, { isPlain: false, cases: given }, { seconds, marks });
      searched.push({ guided: guided.reached, plain: plain.reached, started: started.reached });
      const { inputs, ratio } = guided.rate;
      rates.push(ratio);
      const words = ({ at }: Reached) => at.map(({ lines, branches }) => `${lines} (${branches})`).join(", ");
      say(
        `generating, ${language} ${name}, ${guided.reached.of} lines; lines (branches) after ${marks.join(", ")} s: ${words(guided.reached)}; plain ${words(plain.reached)}; from ${START_CASES} cases ${words(started.reached)}; ${Math.round(inputs)} inputs/s, ratio to the bare bridge ${ratio.toFixed(2)}`,
      );
    } catch (refused) {
      say(`generating, ${language} ${name}: ${refused instanceof Error ? refused.message : String(refused)}`);
    }
  }
  if (rates.length === 0) return;
  const of = searched.reduce((sum, { guided }) => sum + guided.of, 0);
  for (const [index, mark] of marks.entries()) {
    const sum = (way: keyof (typeof searched)[number], what: keyof Reach) =>
      searched.reduce((total, entry) => total + (entry[way].at[index]?.[what] ?? 0), 0);
    const words = (way: keyof (typeof searched)[number]) =>
      `${Math.round((100 * sum(way, "lines")) / of)} % of the lines and ${sum(way, "branches")} branches`;
    say(
      `generating, ${language}, ${rates.length} modules, ${mark} s each: ${words("guided")}, against ${words("plain")} of plain random inputs; ${words("started")} from ${START_CASES} cases`,
    );
  }
  const middle = rates.sort((left, right) => left - right)[Math.floor(rates.length / 2)] ?? 0;
  say(`generating, ${language}: inputs a second against the bare bridge: ratio ${middle.toFixed(2)} (reach: 0.5)`);
}

type Copied = { readonly source: string; readonly file: string };

function makePort(work: string, language: string, name: string, { source, file }: Copied): string {
  const folder = path.join(work, `generate-${language}-${name.replace(/\W/g, "_")}`);
  mkdirSync(path.join(folder, "original"), { recursive: true });
  mkdirSync(path.join(folder, "twin"), { recursive: true });
  const isFile = path.basename(source) === file;
  cpSync(source, path.join(folder, "original", isFile ? file : ""), { recursive: true });
  writeFileSync(
    path.join(folder, "side-twin.json"),
    JSON.stringify({
      format: "side-twin/port",
      version: 1,
      name,
      original: { root: "original", language },
      twins: [{ name: "t", root: "twin", language }],
      modules: [{ name: "looked-at", original: [file] }],
    }),
  );
  return folder;
}

/** Returns the coverage that a search of `seconds` reaches, the inputs it found, and its speed relative to the same inputs run without lines. */
async function search(
  folder: string,
  { isPlain, cases }: Way,
  { seconds, marks }: { readonly seconds: number; readonly marks: readonly number[] },
) {
  const open = await openPort(folder);
  const seen: Json[] = [];
  const modules = open.modules.filter(({ name }) => name === "looked-at");
  const { targets } = await findTargets(open, modules, cases, { calls: [], seen, isPlain });
  const original = await Original.open(open, modules, { timeMs: 1000, jobs: JOBS });
  try {
    const reached = new Set<Feature>();
    const tried: Callable[] = [];
    const at: Reach[] = [];
    const reach = (loaded: readonly Feature[]): Reach => ({
      lines: new Set([...reached, ...loaded].filter((feature) => isLine(feature) && original.executable.has(feature)))
        .size,
      branches: [...reached].filter((feature) => feature.startsWith("passed ")).length,
    });
    const attempt = async (items: readonly Callable[]): Promise<Attempt[]> => {
      const mark = marks[at.length] ?? seconds;
      if (mark < seconds && performance.now() - started > mark * 1000)
        at.push(reach(original.loaded(tried.slice(0, 1))));
      return (await original.try(items)).map(({ item, answer, features }) => {
        if (tried.length < 20_000) tried.push(item);
        const refused = whyNoCase(answer);
        const own = features.filter(isOfCode);
        for (const feature of refused === null ? own : []) reached.add(feature);
        const isSlow = answer.result.kind === "broken" && answer.result.why === "timed-out";
        return { item, features: own, refused, isSlow, value: answerOf(answer.result) };
      });
    };
    const started = performance.now();
    const isOver = () => performance.now() - started > seconds * 1000;
    const terms = { random: new Random(1), reached: new Set<Feature>(), cases, attempt, isOver, seen };
    const end = isPlain ? await drawPlainly(targets, attempt, isOver) : await searchInputs(targets, terms);
    const took = (performance.now() - started) / 1000;
    const last = reach(original.loaded(tried.slice(0, 1)));
    // A search that found no more to try has at all later marks what it has at its end.
    while (at.length < marks.length) at.push(last);
    const again = performance.now();
    await original.again(tried);
    const bare = tried.length / ((performance.now() - again) / 1000);
    const inputs = end.tried / took;
    const count: Reached = { at, of: original.executable.size };
    const found = chooseCases(end.found, new Set(), START_CASES).map(({ item }) => item);
    return { reached: count, found, rate: { inputs, ratio: inputs / bare } };
  } finally {
    original.close();
  }
}

const answerOf = (result: { readonly kind: string; readonly value?: Json }): Json | undefined =>
  result.kind === "call" ? result.value : undefined;

/** Inputs by the types alone, each section in turn, none of which learns from another. */
async function drawPlainly(
  targets: Awaited<ReturnType<typeof findTargets>>["targets"],
  attempt: (items: readonly Callable[]) => Promise<readonly Attempt[]>,
  isOver: () => boolean,
): Promise<{ readonly tried: number; readonly found: readonly Attempt[] }> {
  const random = new Random(1);
  let tried = 0;
  const slow = new Map<string, number>();
  while (!isOver()) {
    const asked = targets
      .filter(({ name }) => (slow.get(name) ?? 0) < 3)
      .flatMap((target) => [target.make(random), target.make(random)]);
    if (asked.length === 0) break;
    for (let from = 0; from < asked.length && !isOver(); from += 64) {
      const attempts = await attempt(asked.slice(from, from + 64));
      tried += attempts.length;
      for (const { item, isSlow } of attempts)
        if (isSlow) {
          const name = "call" in item ? item.call : "";
          slow.set(name, (slow.get(name) ?? 0) + 1);
        }
    }
  }
  return { tried, found: [] };
}
