/** A driver's reply as what became of the case. Read by hand, field by field: it is on the path of every case. */

import type { Answer, Observed, SideResult, StepsAnswer, Thrown } from "@/core/compare/answer";
import type { Json } from "@/core/formats/json";
import type { Lines } from "@/engine/drivers/driver";

/** A driver's reply before it is read. */
export type Reply = { readonly [key: string]: Json };

/** A reply with the facts around its answer. */
export type Read = SideResult & {
  /** The answer as the driver wrote it, without its head: `"value":…}`. Equal texts are equal answers. */
  readonly text?: string;
  /** The lines that the case ran, if reported; equal sets are the same object. */
  readonly lines?: Lines;
  /** The driver's number of that set; it sends the lines themselves only the first time. */
  readonly path?: number;
  /** The calls that were noted, where the driver observes some files (drivers/node/trace-calls.mjs). */
  readonly trace?: Json;
  /** For the `lines` operation: the executable lines of a file, and those that loading it runs. */
  readonly executable?: { readonly lines: readonly number[]; readonly load: readonly number[] };
};
/** The text before the answer of a call, after the seal; any other form is parsed in full. */
const HEAD = /,"ms":([\d.e+-]+),(?:"path":(\d+),)?(?="value"|"thrown")/y;
const LAST = ',"last":true';

/** A reply whose answer is parsed on first use: most are known to agree by their text. */
class LateRead implements Read {
  lines?: Lines;
  private parsed: SideResult["result"] | null = null;

  constructor(
    readonly text: string,
    readonly ms: number,
    readonly path: number | undefined,
  ) {}

  get trace(): Json {
    return (JSON.parse(`{${this.text}`) as Reply).trace ?? null; // a reply of the driver
  }

  get result(): SideResult["result"] {
    this.parsed ??= parseLate(this.text);
    return this.parsed;
  }
}

function parseLate(text: string): SideResult["result"] {
  try {
    return readReply(JSON.parse(`{${text}`) as Reply).result; // read field by field
  } catch {
    return { kind: "broken", why: "crashed", what: `an unreadable reply: ${text.slice(0, 200)}`, lastOutput: "" };
  }
}

/** A line from a driver: a reply, or a message about the driver itself. */
export type ReadLine =
  /** `isLast`: the driver ends after it. */
  | { readonly kind: "reply"; readonly read: Read; readonly isLast: boolean }
  /** The driver cannot take this request or later ones: send them to a new process. */
  | { readonly kind: "restart" };

/**
 * Reads a reply from the end of its seal, an offset in its line. `paths` maps the driver's numbers to line sets, and is
 * extended. Null if it is not a reply.
 */
export function readLine(line: string, sealEnd: number, paths: Map<number, Lines>): ReadLine | null {
  const isLast = line.startsWith(LAST, sealEnd);
  const from = isLast ? sealEnd + LAST.length : sealEnd;
  HEAD.lastIndex = from;
  const head = HEAD.exec(line);
  if (head) {
    const path = head[2] === undefined ? undefined : Number(head[2]);
    const read = new LateRead(line.slice(from + head[0].length), Number(head[1]), path);
    const lines = path === undefined ? undefined : paths.get(path);
    if (lines) read.lines = lines;
    return { kind: "reply", read, isLast };
  }
  const reply = parseRecord(line[from] === "}" ? "{}" : `{${line.slice(from + 1)}`);
  if (!reply) return null;
  if (reply.restart === true) return { kind: "restart" };
  const read = readReply(reply);
  if (read.path !== undefined && read.lines) paths.set(read.path, read.lines);
  const lines = read.lines ?? (read.path === undefined ? undefined : paths.get(read.path));
  return { kind: "reply", read: lines ? { ...read, lines } : read, isLast };
}

/** A JSON object, or null for any other text. */
export function parseRecord(text: string): Reply | null {
  try {
    const value = JSON.parse(text) as Json; // any JSON
    return isRecord(value) ? value : null;
  } catch {
    return null;
  }
}

type JsonRecord = { readonly [key: string]: Json };

const isRecord = (value: Json | undefined): value is JsonRecord =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const isNumbers = (value: Json | undefined): value is number[] =>
  Array.isArray(value) && value.every((item) => typeof item === "number");
const isLines = (value: Json | undefined): value is { readonly [file: string]: readonly number[] } & JsonRecord =>
  isRecord(value) && Object.values(value).every(isNumbers);
const textOf = (value: Json | undefined): string => (typeof value === "string" ? value : "");

/** Anything that is not one of the protocol's forms is a broken case that shows what came. */
export function readReply(reply: Reply): Read {
  const ms = typeof reply.ms === "number" ? reply.ms : null;
  const lines = {
    ...(isLines(reply.lines) ? { lines: reply.lines } : {}),
    ...(typeof reply.path === "number" ? { path: reply.path } : {}),
  };
  if (isNumbers(reply.lines) && isNumbers(reply.load)) {
    const executable = { lines: reply.lines, load: reply.load };
    return { result: { kind: "skipped", why: "asked for lines only" }, ms, executable };
  }
  if (typeof reply.missing === "string")
    return { result: { kind: "skipped", why: `there is no ${reply.missing}` }, ms };
  if (isRecord(reply.broken)) {
    const why = textOf(reply.broken.why);
    const known = (["crashed", "ended", "timed-out", "over-limit", "would-not-load", "outside-folder"] as const).find(
      (word) => word === why,
    );
    const what = textOf(reply.broken.what);
    return {
      result: { kind: "broken", why: known ?? "crashed", what, lastOutput: textOf(reply.broken.lastOutput) },
      ms,
    };
  }
  if (isRecord(reply.lines) && reply.value === undefined && reply.thrown === undefined && reply.steps === undefined) {
    return { result: { kind: "skipped", why: "asked for lines only" }, ms, ...lines };
  }
  const answer = readAnswer(reply);
  const trace = reply.trace === undefined ? {} : { trace: reply.trace };
  if (answer) return { result: answer, ms, ...lines, ...trace };
  const what =
    typeof reply.error === "string"
      ? `the driver reports: ${reply.error}`
      : `an unreadable reply: ${JSON.stringify(reply).slice(0, 200)}`;
  return { result: { kind: "broken", why: "crashed", what, lastOutput: "" }, ms };
}

function readObserved({ leaks, errno }: Reply): Observed {
  const isCounts = isRecord(leaks) && Object.values(leaks).every((count) => typeof count === "number");
  return {
    ...(isCounts ? { leaks: leaks as { readonly [what: string]: number } } : {}), // all are numbers
    ...(typeof errno === "number" ? { errno } : {}),
  };
}

function readAnswer(reply: Reply): Answer | null {
  const printed = textOf(reply.printed);
  const observed = readObserved(reply);
  if (Array.isArray(reply.steps)) {
    return {
      kind: "steps",
      steps: reply.steps.map((step) => readStep(isRecord(step) ? step : {})),
      printed,
      ...observed,
    };
  }
  if (reply.value === undefined && !isRecord(reply.thrown)) return null;
  const args = Array.isArray(reply.args) ? reply.args : [];
  const kwargs = isRecord(reply.kwargs) ? reply.kwargs : {};
  const rest = { args, kwargs, ...(Array.isArray(reply.called) ? { called: reply.called } : {}), printed, ...observed };
  if (isRecord(reply.thrown)) return { kind: "call", thrown: readThrown(reply.thrown), ...rest };
  return { kind: "call", value: reply.value, ...rest };
}

function readStep(step: JsonRecord): StepsAnswer["steps"][number] {
  const after = {
    ...(Array.isArray(step.args) ? { args: step.args } : {}),
    ...(isRecord(step.kwargs) ? { kwargs: step.kwargs } : {}),
    ...(Array.isArray(step.called) ? { called: step.called } : {}),
  };
  if (isRecord(step.thrown)) return { thrown: readThrown(step.thrown), ...after };
  return { value: step.value ?? null, ...after };
}

function readThrown(thrown: JsonRecord): Thrown {
  const message = typeof thrown.message === "string" ? thrown.message : JSON.stringify(thrown.message ?? "");
  return { kind: textOf(thrown.kind), message, ...(typeof thrown.trace === "string" ? { trace: thrown.trace } : {}) };
}
