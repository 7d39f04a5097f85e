/** Two trees of calls laid level, by section and order, and the innermost call at which they part. */
import type { TracedCall } from "@/core/tracing/call-tree";

/** How a call of both sides compares. */
export type LevelState = "same" | "differs" | "only-original" | "only-twin" | "cannot-be-written";

/** A call of both sides, or of one. `section` is the original's name, `module.name`; the twin's where only it has one. */
export type LevelCall = {
  readonly section: string;
  readonly original: TracedCall | null;
  readonly twin: TracedCall | null;
  readonly state: LevelState;
  /** Whether both were given the same; null where that is unknown. */
  readonly isGivenSame: boolean | null;
  readonly calls: readonly LevelCall[];
};

export type LevelTerms = {
  /** The section of a call of the original, `module.name`; null for one that is not paired: its calls count as its caller's. */
  readonly originalName: (call: TracedCall) => string | null;
  /** The original's name of the section of a twin's call. */
  readonly twinName: (call: TracedCall) => string | null;
  readonly isGivenSame: (original: TracedCall, twin: TracedCall) => boolean | null;
  readonly isAnsweredSame: (original: TracedCall, twin: TracedCall) => boolean | null;
};

type Named = { readonly name: string; readonly call: TracedCall };

/** Cost: the product of the calls that one call makes on both sides; these are few. */
export function layLevel(original: readonly TracedCall[], twin: readonly TracedCall[], terms: LevelTerms): LevelCall[] {
  const left = namedCalls(original, terms.originalName);
  const right = namedCalls(twin, terms.twinName);
  const one = (name: string, call: TracedCall, side: "original" | "twin"): LevelCall => ({
    section: name,
    original: side === "original" ? call : null,
    twin: side === "twin" ? call : null,
    state: side === "original" ? "only-original" : "only-twin",
    isGivenSame: null,
    calls: side === "original" ? layLevel(call.calls, [], terms) : layLevel([], call.calls, terms),
  });
  const level: LevelCall[] = [];
  let [at, to] = [0, 0];
  for (const [index, other] of commonNames(left, right)) {
    for (; at < index; at++) level.push(...alone(left[at], "original", one));
    for (; to < other; to++) level.push(...alone(right[to], "twin", one));
    const [mine, theirs] = [left[at++], right[to++]];
    if (mine && theirs) level.push(both(mine, theirs.call, terms));
  }
  for (; at < left.length; at++) level.push(...alone(left[at], "original", one));
  for (; to < right.length; to++) level.push(...alone(right[to], "twin", one));
  return level;
}

const alone = (
  named: Named | undefined,
  side: "original" | "twin",
  one: (name: string, call: TracedCall, side: "original" | "twin") => LevelCall,
): LevelCall[] => (named ? [one(named.name, named.call, side)] : []);

function both({ name, call }: Named, twin: TracedCall, terms: LevelTerms): LevelCall {
  const isSame = terms.isAnsweredSame(call, twin);
  return {
    section: name,
    original: call,
    twin,
    state: isSame === null ? "cannot-be-written" : isSame ? "same" : "differs",
    isGivenSame: terms.isGivenSame(call, twin),
    calls: layLevel(call.calls, twin.calls, terms),
  };
}

function namedCalls(calls: readonly TracedCall[], nameOf: LevelTerms["originalName"]): Named[] {
  return calls.flatMap((call) => {
    const name = nameOf(call);
    return name === null ? namedCalls(call.calls, nameOf) : [{ name, call }];
  });
}

/** Above this many pairs of calls, calls are paired in order rather than by their longest common sequence. */
const MAX_PAIRS = 4_000_000;

/** The longest common sequence of names, as pairs of places. */
function commonNames(left: readonly Named[], right: readonly Named[]): [number, number][] {
  if (left.length * right.length > MAX_PAIRS) return inOrder(left, right);
  const width = right.length + 1;
  const lengths = new Uint32Array((left.length + 1) * width);
  for (let at = left.length - 1; at >= 0; at--) {
    for (let to = right.length - 1; to >= 0; to--) {
      lengths[at * width + to] =
        left[at]?.name === right[to]?.name
          ? 1 + (lengths[(at + 1) * width + to + 1] ?? 0)
          : Math.max(lengths[(at + 1) * width + to] ?? 0, lengths[at * width + to + 1] ?? 0);
    }
  }
  const pairs: [number, number][] = [];
  for (let [at, to] = [0, 0]; at < left.length && to < right.length; ) {
    if (left[at]?.name === right[to]?.name) pairs.push([at++, to++]);
    else if ((lengths[(at + 1) * width + to] ?? 0) >= (lengths[at * width + to + 1] ?? 0)) at++;
    else to++;
  }
  return pairs;
}

function inOrder(left: readonly Named[], right: readonly Named[]): [number, number][] {
  const pairs: [number, number][] = [];
  let to = 0;
  for (const [at, { name }] of left.entries()) {
    const found = right.findIndex((other, index) => index >= to && other.name === name);
    if (found === -1) continue;
    pairs.push([at, found]);
    to = found + 1;
  }
  return pairs;
}

/** The innermost call at which two runs part, and why it is that one. */
export type Inner = { readonly call: LevelCall; readonly why: string };

/**
 * The first call, from the inside, that was given the same and answered differently while all that it called agreed; else the
 * innermost that throws on both sides, as errors are not compared on the way; else the first that only one side makes. Null
 * where no call parts.
 */
export function findInner(level: readonly LevelCall[]): Inner | null {
  return findParting(level) ?? findThrowing(level) ?? findAlone(level);
}

function findParting(level: readonly LevelCall[]): Inner | null {
  for (const call of level) {
    // A difference inside a call whose answer agrees did no harm, provided that the call has an answer.
    if (call.state === "same" && hasAnswer(call)) continue;
    const inner = findParting(call.calls);
    if (inner) return inner;
    // A helper that one side does without is not a fault by itself: the call around it shows what comes of it.
    if (call.state === "differs" && call.isGivenSame === true) return { call, why: "same arguments, other answer" };
  }
  return null;
}

function findThrowing(level: readonly LevelCall[]): Inner | null {
  for (const call of level) {
    const inner = findThrowing(call.calls);
    if (inner) return inner;
    if (call.original?.thrown && call.twin?.thrown && call.isGivenSame === true)
      return { call, why: "same arguments, another error" };
  }
  return null;
}

function hasAnswer({ original }: LevelCall): boolean {
  const value = original?.value;
  return value !== null && value !== undefined && !(typeof value === "object" && "~none" in value);
}

function findAlone(level: readonly LevelCall[]): Inner | null {
  for (const call of level) {
    if (call.state === "only-original") return { call, why: "only the original makes this call" };
    if (call.state === "only-twin") return { call, why: "only the twin makes this call" };
    const inner = findAlone(call.calls);
    if (inner) return inner;
  }
  return null;
}

/** The sections from an outermost call down to one of the calls, both included; empty where it is not there. */
export function pathTo(level: readonly LevelCall[], wanted: LevelCall): string[] {
  for (const call of level) {
    if (call === wanted) return [call.section];
    const inside = pathTo(call.calls, wanted);
    if (inside.length > 0) return [call.section, ...inside];
  }
  return [];
}

/** All calls with their depth, as they came. */
export const flatten = (
  level: readonly LevelCall[],
  depth = 0,
): { readonly call: LevelCall; readonly depth: number }[] =>
  level.flatMap((call) => [{ call, depth }, ...flatten(call.calls, depth + 1)]);
