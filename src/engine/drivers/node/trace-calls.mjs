/**
 * Notes every call into probed files (recording.ts), with arguments and answer, in order: the tree of a program's calls. The
 * events are those of drivers/python/trace_calls.py.
 */
import { encode, isThenable, iterators } from "./notation.mjs";

const MAX_EVENTS = 40_000;
const MAX_TEXT = 20_000;
const { stringify } = JSON;

/** `probesOf` is what probed files ask for at `process.__sideTwin`; `take` gives the events since the last time. */
export function createTracer() {
  let events = [];
  let next = 0;
  let isBusy = false;

  /** In value notation; undefined where that cannot be. */
  function written(value) {
    const before = iterators.areRead;
    isBusy = true;
    iterators.areRead = false;
    try {
      const encoded = encode(value);
      const text = stringify(encoded);
      return text.length > MAX_TEXT || text.includes('"~opaque"') ? undefined : encoded;
    } catch {
      return undefined;
    } finally {
      isBusy = false;
      iterators.areRead = before;
    }
  }

  function enter(file, [section, kind, , isGenerator], args) {
    if (isBusy || events.length >= MAX_EVENTS) return null;
    const number = ++next;
    const given = written(Array.from(args));
    events.push({ enter: number, file, section, kind, ...(given === undefined ? {} : { args: given, kwargs: {} }) });
    return isGenerator ? null : callOf(number);
  }

  function callOf(number) {
    let isOpen = true;
    const leave = (facts) => {
      if (isOpen) events.push({ leave: number, ...facts });
      isOpen = false;
    };
    const answered = (value) => {
      const encoded = written(value);
      return encoded === undefined ? {} : { value: encoded };
    };
    return {
      end(value) {
        const isPlain = !isThenable(value) && typeof value?.next !== "function";
        leave(isPlain ? answered(value) : {});
      },
      made: () => leave({ value: null }),
      // No probe sees the error itself.
      leave: () => leave({ thrown: {} }),
    };
  }

  return {
    probesOf: (file, list) => ({ enter: (index, args) => enter(file, list[index], args) }),
    take() {
      const taken = events;
      events = [];
      return taken;
    },
  };
}
