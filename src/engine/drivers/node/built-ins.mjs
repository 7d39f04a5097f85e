/**
 * Notices when ported code replaced or added to the language's built-ins, and puts them back.
 *
 * Looking uses nothing that ported code can replace: functions that were taken hold of before any of it ran, and plain
 * syntax. One look takes some 50 microseconds; the driver looks before it sends a batch of replies.
 */
import fs from "node:fs";
import path from "node:path";
import process from "node:process";

const { defineProperty, deleteProperty, getOwnPropertyDescriptor, getPrototypeOf, ownKeys, set } = Reflect;

/** Objects of functions among the globals; classes are found by their prototype. */
const NAMESPACES = ["Math", "JSON", "Reflect", "Atomics", "Intl", "console", "performance"];
/** The replacements in force for a fixed clock or seed; see fixed.mjs. */
const FIXED = [
  [globalThis, "Date"],
  [Math, "random"],
];

function roots() {
  /** @type {Set<object>} */
  const found = new Set([globalThis, process, fs, fs.promises, path]);
  for (const name of NAMESPACES) found.add(globalThis[name]);
  for (const key of ownKeys(globalThis)) {
    const { value } = getOwnPropertyDescriptor(globalThis, key);
    if (typeof value !== "function") continue;
    found.add(value);
    if (typeof value.prototype === "object" && value.prototype !== null) found.add(value.prototype);
  }
  const hidden = [
    [][Symbol.iterator](),
    new Map()[Symbol.iterator](),
    new Set()[Symbol.iterator](),
    ""[Symbol.iterator](),
    "".matchAll(/x/g),
    (function* () {})(),
    (async function* () {})(),
    async () => {},
    new Uint8Array(0),
  ];
  for (const value of hidden) {
    for (let at = getPrototypeOf(value); at !== null && !found.has(at); at = getPrototypeOf(at)) {
      found.add(at);
      const { value: made } = getOwnPropertyDescriptor(at, "constructor") ?? {};
      if (typeof made === "function") found.add(made);
    }
  }
  return found;
}

/** Keys that are added to one of these change what all code sees. */
function extensible() {
  /** @type {object[]} */
  const found = [globalThis, Error];
  for (const object of roots()) {
    const { value: made } = getOwnPropertyDescriptor(object, "constructor") ?? {};
    if (typeof made === "function" && made.prototype === object) found.push(object);
  }
  return found;
}

export function createBuiltInWatch() {
  /** For each property that holds a function or object: owner, value, and how to restore it. */
  let [owners, keys, values, descriptors] = [[], [], [], []];
  /** The same for accessors. */
  let [accessorOwners, accessorKeys, getters, setters, accessors] = [[], [], [], [], []];
  /** Objects whose own keys are known, and the prototypes of these objects. */
  let [counted, knownKeys, prototypes] = [[], [], []];

  function note() {
    [owners, keys, values, descriptors] = [[], [], [], []];
    [accessorOwners, accessorKeys, getters, setters, accessors] = [[], [], [], [], []];
    [counted, knownKeys, prototypes] = [[], [], []];
    for (const object of roots()) {
      for (const key of ownKeys(object)) {
        const found = getOwnPropertyDescriptor(object, key);
        if ("value" in found) {
          if ((typeof found.value !== "function" && typeof found.value !== "object") || found.value === null) continue;
          owners.push(object);
          keys.push(key);
          values.push(found.value);
          descriptors.push(found);
        } else if (object !== globalThis && object !== process && object !== fs) {
          // Lazy properties of Node.js's own objects become plain values when first read.
          accessorOwners.push(object);
          accessorKeys.push(key);
          getters.push(found.get);
          setters.push(found.set);
          accessors.push(found);
        }
      }
    }
    for (const object of extensible()) {
      counted.push(object);
      knownKeys.push(ownKeys(object));
      prototypes.push(getPrototypeOf(object));
    }
  }
  note();

  const isFixed = (object, key) =>
    (object === FIXED[0][0] && key === FIXED[0][1]) || (object === FIXED[1][0] && key === FIXED[1][1]);

  /** Whether anything changed since `note`; with `fixedToo` the clock and random numbers are included. */
  function isChanged(fixedToo) {
    for (let at = 0; at < keys.length; at++) {
      if (owners[at][keys[at]] !== values[at] && (fixedToo || !isFixed(owners[at], keys[at]))) return true;
    }
    for (let at = 0; at < accessorKeys.length; at++) {
      const found = getOwnPropertyDescriptor(accessorOwners[at], accessorKeys[at]);
      if (found === undefined || found.get !== getters[at] || found.set !== setters[at]) return true;
    }
    for (let at = 0; at < counted.length; at++) {
      if (ownKeys(counted[at]).length !== knownKeys[at].length || getPrototypeOf(counted[at]) !== prototypes[at])
        return true;
    }
    return false;
  }

  /** Puts back what can be put back. */
  function restore(fixedToo) {
    for (let at = 0; at < keys.length; at++) {
      if (owners[at][keys[at]] === values[at] || (!fixedToo && isFixed(owners[at], keys[at]))) continue;
      if (!defineProperty(owners[at], keys[at], descriptors[at])) set(owners[at], keys[at], values[at]);
    }
    for (let at = 0; at < accessorKeys.length; at++)
      defineProperty(accessorOwners[at], accessorKeys[at], accessors[at]);
    for (let at = 0; at < counted.length; at++) {
      const now = ownKeys(counted[at]);
      for (let place = 0; place < now.length; place++) {
        if (!contains(knownKeys[at], now[place])) deleteProperty(counted[at], now[place]);
      }
    }
  }

  return { isChanged, restore, note };
}

function contains(list, wanted) {
  for (let at = 0; at < list.length; at++) if (list[at] === wanted) return true;
  return false;
}
