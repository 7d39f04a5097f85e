/** A limit of time for work that does not return to the event loop, such as a person's regular expression. */
import vm from "node:vm";
import { SideTwinError } from "@/core/errors";

/**
 * Calls `work` on this thread and ends it after `ms` milliseconds. Returns null then. `finally` blocks inside `work` do
 * not run in that case: it must not hold anything. Costs some 0.1 ms.
 */
export function runWithin<T>(ms: number, work: () => T): { readonly value: T } | null {
  try {
    return { value: WORK.runInContext(vm.createContext({ work }), { timeout: ms }) };
  } catch (thrown) {
    if ((thrown as NodeJS.ErrnoException | null)?.code === "ERR_SCRIPT_EXECUTION_TIMEOUT") return null;
    throw thrown;
  }
}

const WORK = new vm.Script("work()");

const PATTERN_MS = 500;

/** As `RegExp.test`. Throws SideTwinError `bad-input` for a pattern that takes too long. */
export function testPattern(pattern: string, text: string): boolean {
  const expression = new RegExp(pattern, "u");
  // Backtracking needs repetition; a plain pattern is tested without the cost of the limit.
  if (!/[*+{]/.test(pattern)) return expression.test(text);
  const tested = runWithin(PATTERN_MS, () => expression.test(text));
  if (tested) return tested.value;
  throw slowPattern(pattern, `on ${JSON.stringify(text.slice(0, 60))}`);
}

const OUTPUT_MS = 10_000;

/**
 * Reads the output of a command with a person's pattern, or by any other means where `pattern` is undefined. Throws
 * SideTwinError `bad-input` with `key` for a pattern that takes too long.
 */
export function readWithPattern<T>(pattern: string | undefined, key: string, read: () => T): T {
  if (pattern === undefined) return read();
  const done = runWithin(OUTPUT_MS, read);
  if (done) return done.value;
  throw slowPattern(pattern, "on the output of its command", key);
}

const slowPattern = (pattern: string, on: string, key?: string): SideTwinError =>
  new SideTwinError({
    code: "bad-input",
    what: `The pattern ${pattern} takes too long ${on}`,
    ...(key === undefined ? {} : { where: { key } }),
    next: "Write it without a repetition inside a repetition, such as (a+)+.",
  });
