/**
 * Finds the smallest input that still shows the same difference: a greedy search over smaller inputs, each tried by a
 * given test.
 *
 * Sequences lose ever smaller pieces (Zeller and Hildebrandt, "Simplifying and Isolating Failure-Inducing Input", 2002,
 * section 3; we take the first smaller input that still fails instead of testing all complements, which also ends in a
 * 1-minimal input). Values are simplified in their own terms: numbers towards zero, texts to fewer characters, objects
 * to fewer fields.
 */
import type { SharedCase, Step } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";

/** The smallest input found; `isDone` if no smaller one is left to try. */
export type Shrunk<T> = { readonly item: T; readonly tries: number; readonly isDone: boolean };

/** When a search gives up. */
export type ShrinkLimits = {
  /** Called before each try; true ends the search with the best input so far. */
  readonly isOver: () => boolean;
  readonly onBest?: (size: number, tries: number) => void;
};

/** Cost: one test a try, at most some thousand; a test that is refused costs as much as one that is not. */
export async function shrinkCase(
  item: SharedCase,
  stillShows: (candidate: SharedCase) => Promise<boolean>,
  limits: ShrinkLimits,
): Promise<Shrunk<SharedCase>> {
  let best = item;
  let tries = 0;
  const tried = new Set<string>([JSON.stringify(item)]);
  for (;;) {
    let found: SharedCase | null = null;
    for (const candidate of smallerCases(best)) {
      const key = JSON.stringify(candidate);
      if (tried.has(key)) continue;
      tried.add(key);
      if (limits.isOver()) return { item: best, tries, isDone: false };
      tries++;
      if (await stillShows(candidate)) {
        found = candidate;
        break;
      }
    }
    if (!found) return { item: best, tries, isDone: true };
    best = found;
    limits.onBest?.(sizeOf(best), tries);
  }
}

/** Characters of what a case is given. */
export function sizeOf(item: SharedCase): number {
  if ("call" in item) return JSON.stringify([item.args, item.kwargs]).length;
  return JSON.stringify("steps" in item ? item.steps : item.run).length;
}

/** Cases that are given less, the boldest cuts first. */
export function* smallerCases(item: SharedCase): Generator<SharedCase> {
  if ("call" in item) {
    for (const args of withoutLast(item.args)) yield { ...item, args };
    for (const kwargs of smallerRecords(item.kwargs)) yield { ...item, kwargs };
    for (const args of smallerItems(item.args)) yield { ...item, args };
  } else if ("steps" in item) {
    for (const steps of withoutPieces(item.steps)) if (steps.length > 0) yield { ...item, steps };
    for (const [index, step] of item.steps.entries())
      for (const smaller of smallerSteps(step)) yield { ...item, steps: item.steps.with(index, smaller) };
  } else {
    const { run } = item;
    for (const argv of withoutPieces(run.argv)) yield { ...item, run: { ...run, argv } };
    for (const stdin of smallerTexts(run.stdin)) yield { ...item, run: { ...run, stdin } };
    for (const name of Object.keys(run.files)) yield { ...item, run: { ...run, files: without(run.files, name) } };
    for (const name of Object.keys(run.env)) yield { ...item, run: { ...run, env: without(run.env, name) } };
    for (const [name, content] of Object.entries(run.files)) {
      if (typeof content !== "string") continue;
      for (const smaller of smallerTexts(content))
        yield { ...item, run: { ...run, files: { ...run.files, [name]: smaller } } };
    }
    for (const [index, word] of run.argv.entries())
      for (const smaller of smallerTexts(word)) yield { ...item, run: { ...run, argv: run.argv.with(index, smaller) } };
  }
}

function* smallerSteps(step: Step): Generator<Step> {
  if ("args" in step && step.args) {
    for (const args of withoutLast(step.args)) yield { ...step, args };
    for (const args of smallerItems(step.args)) yield { ...step, args };
  }
  if ("kwargs" in step && step.kwargs) for (const kwargs of smallerRecords(step.kwargs)) yield { ...step, kwargs };
  if ("set" in step) for (const value of smallerValues(step.value)) yield { ...step, value };
}

/** Arguments have their places: only the last ones can be left out. */
function* withoutLast<T>(items: readonly T[]): Generator<T[]> {
  for (let length = 0; length < items.length; length++) yield items.slice(0, length);
}

/** The sequence without a piece of it: halves first, then ever smaller ones. */
export function* withoutPieces<T>(items: readonly T[]): Generator<T[]> {
  if (items.length === 0) return;
  yield [];
  for (let size = Math.ceil(items.length / 2); size >= 1; size = size === 1 ? 0 : Math.ceil(size / 2)) {
    for (let from = 0; from < items.length; from += size) {
      const left = [...items.slice(0, from), ...items.slice(from + size)];
      if (left.length > 0) yield left;
    }
  }
}

function* smallerItems(items: readonly Json[]): Generator<Json[]> {
  for (const [index, item] of items.entries())
    for (const smaller of smallerValues(item)) yield items.with(index, smaller);
}

const without = <T>(record: Readonly<Record<string, T>>, name: string): Record<string, T> =>
  Object.fromEntries(Object.entries(record).filter(([key]) => key !== name));

function* smallerRecords(record: Readonly<Record<string, Json>>): Generator<Record<string, Json>> {
  for (const name of Object.keys(record)) yield without(record, name);
  for (const [name, item] of Object.entries(record))
    for (const smaller of smallerValues(item)) yield { ...record, [name]: smaller };
}

/** Lines first, then characters. */
export function* smallerTexts(text: string): Generator<string> {
  const lines = text.split("\n");
  if (lines.length > 1) for (const left of withoutPieces(lines)) yield left.join("\n");
  for (const left of withoutPieces([...text])) yield left.join("");
}

/** Simpler values of the same form. */
export function* smallerValues(value: Json): Generator<Json> {
  if (typeof value === "number") yield* smallerNumbers(value);
  else if (typeof value === "string") yield* smallerTexts(value);
  else if (value === true) yield false;
  else if (Array.isArray(value)) {
    yield* withoutPieces(value as readonly Json[]);
    yield* smallerItems(value);
  } else if (typeof value === "object" && value !== null)
    yield* smallerObjects(value as Readonly<Record<string, Json>>);
}

const SIMPLE = [0, 1, 2, 3, 5, 10];

function* smallerNumbers(value: number): Generator<number> {
  const candidates = [
    ...SIMPLE,
    Math.abs(value),
    Math.trunc(value),
    Math.trunc(value / 10),
    Math.trunc(value / 2),
    value - Math.sign(value),
  ];
  const rounded = [1, 2, 3].map((digits) => Number(value.toFixed(digits)));
  for (const candidate of new Set([...candidates, ...rounded])) if (isSimpler(candidate, value)) yield candidate;
}

/** Fewer characters, or as many and nearer to zero, so that a search always ends. */
function isSimpler(candidate: number, value: number): boolean {
  if (candidate === value || Object.is(candidate, -0)) return false;
  const [one, other] = [String(candidate).length, String(value).length];
  return one < other || (one === other && Math.abs(candidate) < Math.abs(value));
}

/** Tagged notation keeps its tag; its content is simplified. */
function* smallerObjects(record: Readonly<Record<string, Json>>): Generator<Json> {
  for (const tag of ["~tuple", "~set", "~list", "~map"]) {
    const items = record[tag];
    if (!Array.isArray(items)) continue;
    for (const left of withoutPieces(items as readonly Json[])) yield { ...record, [tag]: left };
    for (const left of smallerItems(items as readonly Json[])) yield { ...record, [tag]: left };
    return;
  }
  if ("~obj" in record) {
    for (const fields of smallerRecords((record.fields ?? {}) as Record<string, Json>)) yield { ...record, fields };
    return;
  }
  if (Object.keys(record).some((key) => key.startsWith("~"))) return;
  yield* smallerRecords(record);
}
