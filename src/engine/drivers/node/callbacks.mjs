/**
 * Callbacks that a case hands over (docs/formats.md, section 18): functions that note how they are called. Those of the
 * styles `node`, `value` and `auto` give the answer; those of `calls` are observed beside it.
 */
import { decode, encode, isThenable } from "./notation.mjs";

const POLL_MS = 2;
/** Names that a parameter for a callback has, by custom. */
const CUSTOMARY = /^(?:cb|callback|done|next|fn|handler|then|resolve|reply|k|on[A-Z]\w*|\w*(?:Callback|Handler))$/;

/** The callbacks of one call. `describe` turns an error into its record. */
export function createCallbacks(describe, scope) {
  const calls = [];
  const made = new Set();
  /** @type {(outcome: object) => void} */
  let resolve = () => {};
  const first = new Promise((settled) => {
    resolve = settled;
  });

  function make(spec) {
    const style = spec["~callback"];
    const returns = (spec.returns ?? []).map((item) => decode(item, scope));
    let count = 0;
    const callback = (...given) => {
      calls.push({ style, args: given.map((item) => encode(item)) });
      if (style !== "calls") resolve(outcomeOf(style, given));
      return returns[Math.min(count++, returns.length - 1)];
    };
    Object.assign(callback, { style });
    made.add(callback);
    return callback;
  }

  function outcomeOf(style, given) {
    const [error, ...values] = given;
    if (style === "value") return { value: encode(error) };
    const isError = error !== null && error !== undefined;
    if (style === "auto" && isError && given.length === 1 && !(error instanceof Error)) return { value: encode(error) };
    if (isError) return { thrown: describe(error) };
    return { value: values.length > 1 ? { "~tuple": values.map((item) => encode(item)) } : encode(values[0]) };
  }

  return {
    make,
    first,
    isOwn: (value) => made.has(value),
    /** Whether one of the arguments gives the answer. */
    waitsFor: (args) => args.some((item) => made.has(item) && item.style !== "calls"),
    wasCalled: () => calls.some(({ style }) => style !== "calls"),
    /** Further observations beside the answer; undefined for a callback that was called once. */
    called() {
      const observed = [...made].some(({ style }) => style === "calls");
      const list = observed ? calls.filter(({ style }) => style === "calls") : calls;
      return observed || list.length > 1 ? list.map(({ args }) => args) : undefined;
    },
  };
}

/** Whether a function takes a callback at a place, as far as its parameters tell; one that is async answers by itself. */
export function takesCallback(callee, index) {
  const source = Function.prototype.toString.call(callee);
  if (/^async\b/.test(source)) return false;
  const list = /^(?:function\s*\*?\s*[\w$]*\s*)?(?:static\s+|get\s+|set\s+)?[\w$#]*\s*\(([\s\S]*?)\)\s*(?:=>|\{)/.exec(
    source,
  )?.[1];
  const bare = list ?? /^([\w$]+)\s*=>/.exec(source)?.[1] ?? "";
  const parameters = splitParameters(bare);
  if (parameters.some((part) => part.startsWith("..."))) return true;
  const own = parameters[index];
  if (own === undefined) return false;
  const [name = ""] = own.split(/[=:?\s]/);
  return CUSTOMARY.test(name) || !own.includes("=");
}

/** At commas outside of brackets. */
function splitParameters(list) {
  const parts = [];
  let depth = 0;
  let part = "";
  for (const sign of list) {
    if ("([{".includes(sign)) depth++;
    if (")]}".includes(sign)) depth--;
    if (sign === "," && depth === 0) {
      parts.push(part.trim());
      part = "";
    } else part += sign;
  }
  return [...parts, part.trim()].filter(Boolean);
}

const resources = () => process.getActiveResourcesInfo().filter((name) => name !== "Immediate").length;

/**
 * Waits until a callback gives the answer, or nothing is left to wait for. Resolves to the outcome, null for never. `own`
 * is what the function itself returned: while it is a promise that is pending, there is something left.
 */
export async function waitForCallback(callbacks, own, before, isWanted) {
  let isPending = isThenable(own);
  let failure = null;
  if (isPending)
    own.then(
      () => {
        isPending = false;
      },
      (error) => {
        isPending = false;
        failure = { error };
      },
    );
  let idle = 0;
  for (;;) {
    const tick = new Promise((resolve) => setTimeout(resolve, POLL_MS, null));
    // A call that came before anything was waited for still leaves a turn for a second one.
    const outcome = isWanted ? await Promise.race([callbacks.first, tick]) : await tick;
    if (outcome !== null) {
      await new Promise((resolve) => setImmediate(resolve));
      return { outcome };
    }
    if (failure) return { failure };
    idle = isPending || resources() > before ? 0 : idle + 1;
    if (idle > 1) return { outcome: null };
  }
}

export const countResources = resources;
