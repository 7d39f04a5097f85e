/**
 * A fixed clock and a fixed stream of random numbers for ported code, when the case asks for them. The stream is the
 * one of every driver: mulberry32 over a 32-bit seed (T. Ettinger, public domain, 2017), two draws a double of 53 bits.
 */

const RealDate = globalThis.Date;
const realRandom = Math.random;

export function createFixed() {
  let active = false;
  return {
    isActive: () => active,
    set(now, seed) {
      if (now !== undefined) {
        active = true;
        globalThis.Date = /** @type {any} */ (freezeAt(RealDate.parse(now)));
      }
      if (seed !== undefined) {
        active = true;
        Math.random = stream(seed);
      }
    },
    release() {
      if (!active) return;
      active = false;
      globalThis.Date = RealDate;
      Math.random = realRandom;
    },
  };
}

function freezeAt(moment) {
  function FrozenDate(...parts) {
    if (!new.target) return new RealDate(moment).toString();
    const made = parts.length === 0 ? new RealDate(moment) : Reflect.construct(RealDate, parts);
    if (new.target !== FrozenDate) Object.setPrototypeOf(made, new.target.prototype);
    return made;
  }
  Object.setPrototypeOf(FrozenDate, RealDate);
  Object.defineProperty(FrozenDate, "name", { value: "Date" });
  FrozenDate.prototype = RealDate.prototype;
  FrozenDate.now = () => moment;
  return FrozenDate;
}

function stream(seed) {
  let state = seed >>> 0;
  const word = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return (mixed ^ (mixed >>> 14)) >>> 0;
  };
  return () => {
    const high = word() >>> 5;
    return (high * 67108864 + (word() >>> 6)) / 9007199254740992;
  };
}
