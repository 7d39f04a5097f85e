/**
 * Detects whether a case changed the modules it ran in, so that unchanged ones need not be run again.
 *
 * Everything that module code can reach may change: its top-level bindings, exports, and what they reference. Two kinds
 * of state are invisible from outside: variables closed over only by nested functions, and the inside of foreign
 * objects. Where either may exist the watch is blind, and every case gets freshly run modules.
 */
import { types } from "node:util";
import { parseCode } from "./parse-code.mjs";

/** The getters with which esbuild passes on another module's names; what they read is watched in that module. */
const PASSING_ON = "() => from[key]";
/** On every function; reading `arguments` and `caller` throws. */
const BUILT = new Set(["length", "name", "arguments", "caller"]);
const STATELESS = /^\[object (Intl\.\w+|TextEncoder)\]$/;
const MAX_CHECKS = 2000;
const BUILT_IN_PROTOTYPES = new Set([Map.prototype, Set.prototype, Date.prototype, RegExp.prototype]);

const { getTime } = Date.prototype;
const timeOf = (date) => Reflect.apply(getTime, date, []);

/** The keys and values of a map, or the items of a set, whatever its class makes of its iterator. */
function itemsOf(value) {
  const items = [];
  const collect = types.isMap(value) ? (item, key) => items.push(key, item) : (item) => items.push(item);
  Reflect.apply(types.isMap(value) ? Map.prototype.forEach : Set.prototype.forEach, value, [collect]);
  return items;
}

/**
 * The names that the top of a module's code declares, and the texts of the functions that see no other variables than
 * these (`open`) and of all others (`closed`). Null when the code cannot be parsed.
 */
export function readTop(code) {
  const tree = parseCode(code);
  if (!tree) return null;
  const top = { names: new Set(), open: new Set(), closed: new Set(), hidden: new Set() };
  for (const node of tree.body) {
    if (node.type === "FunctionDeclaration" || node.type === "ClassDeclaration") top.names.add(node.id.name);
  }
  visit(tree, { code, top, depth: 0, block: 0 });
  return top;
}

function visit(node, at) {
  if (node.type === "VariableDeclaration" && at.depth === 0 && (node.kind === "var" || at.block === 0)) {
    for (const { id } of node.declarations) declare(id, at.top.names);
  }
  let inner = at;
  if (/Function/.test(node.type)) {
    const text = at.code.slice(node.start, node.end);
    (at.depth === 0 && at.block === 0 ? at.top.open : at.top.closed).add(text);
    inner = { ...at, depth: at.depth + 1 };
  } else if (/^Class(Declaration|Expression)$/.test(node.type)) {
    const text = at.code.slice(node.start, node.end);
    (at.depth === 0 && at.block === 0 ? at.top.open : at.top.closed).add(text);
    if (text.includes("#") && hasPrivate(node)) at.top.hidden.add(text);
  } else if (node.type === "BlockStatement" || /^For/.test(node.type) || node.type === "SwitchStatement") {
    const own = node.type === "BlockStatement" ? node.body : [node.init ?? node.left ?? node];
    const declares = own.some(
      (item) => /^Class/.test(item.type) || (item.type === "VariableDeclaration" && item.kind !== "var"),
    );
    if (declares || node.type === "SwitchStatement") inner = { ...at, block: at.block + 1 };
  }
  for (const key in node) {
    const child = node[key];
    if (Array.isArray(child)) {
      for (const item of child) if (typeof item?.type === "string") visitMember(item, inner);
    } else if (typeof child?.type === "string") visitMember(child, inner);
  }
}

/** A method's own text is that of the property it is defined in. */
function visitMember(node, at) {
  const isMethod =
    node.type === "MethodDefinition" || (node.type === "Property" && (node.method || node.kind !== "init"));
  if (isMethod) {
    const open = at.depth === 0 && at.block === 0;
    (open ? at.top.open : at.top.closed).add(at.code.slice(node.start, node.end).replace(/^static\s+/, ""));
  }
  visit(node, at);
}

function hasPrivate(node) {
  if (node.type === "PrivateIdentifier") return true;
  return Object.values(node).some((child) =>
    Array.isArray(child)
      ? child.some((item) => typeof item?.type === "string" && hasPrivate(item))
      : typeof child?.type === "string" && hasPrivate(child),
  );
}

function declare(pattern, names) {
  if (pattern.type === "Identifier") names.add(pattern.name);
  else if (pattern.type === "ObjectPattern")
    for (const item of pattern.properties) declare(item.value ?? item.argument, names);
  else if (pattern.type === "ArrayPattern") for (const item of pattern.elements) item && declare(item, names);
  else if (pattern.type === "AssignmentPattern") declare(pattern.left, names);
  else if (pattern.type === "RestElement") declare(pattern.argument, names);
}

/**
 * Notes all that can change. `modules` are those of one world: each with its `top`, a `peek` that gives the values of its
 * top bindings now, and its `exports`; `foreign` holds what came from outside the side's own files.
 */
export function createWatch(modules, foreign) {
  const checks = [];
  const met = new Set(foreign);
  const queue = [];
  const open = new Set();
  const closed = new Set();
  const hidden = new Set();
  for (const { top, peek } of modules) {
    if (!top || !peek) return { blind: true };
    for (const text of top.open) open.add(text);
    for (const text of top.closed) closed.add(text);
    for (const text of top.hidden) hidden.add(text);
  }
  for (const text of open) if (closed.has(text)) open.delete(text);
  for (const { peek, module } of modules) {
    const values = peek();
    const { exports } = module;
    checks.push(() => module.exports === exports && sameItems(peek(), values));
    queue.push(...values, exports);
  }
  while (queue.length > 0) {
    const value = queue.pop();
    if ((typeof value !== "object" && typeof value !== "function") || value === null || met.has(value)) continue;
    met.add(value);
    // Beyond this many, running the modules again is faster than checking.
    if (!note(value) || checks.length > MAX_CHECKS) return { blind: true };
  }
  return {
    blind: false,
    unchanged() {
      for (const check of checks) if (!check()) return false;
      return true;
    },
  };

  function note(value) {
    if (typeof value === "function") return noteFunction(value);
    const prototype = Object.getPrototypeOf(value);
    if (prototype === Object.prototype || prototype === null || Array.isArray(value)) return noteProperties(value);
    if (types.isMap(value) || types.isSet(value)) {
      const items = itemsOf(value);
      checks.push(() => sameItems(itemsOf(value), items));
      queue.push(...items);
      return noteInstance(value, prototype);
    }
    if (types.isDate(value)) {
      const time = timeOf(value);
      checks.push(() => Object.is(timeOf(value), time));
      return noteInstance(value, prototype);
    }
    if (types.isRegExp(value)) return noteInstance(value, prototype);
    if (ArrayBuffer.isView(value) && !(value instanceof DataView)) {
      const view = /** @type {{ length: number }} */ (/** @type {unknown} */ (value));
      if (view.length > 4096) return false;
      const items = Array.from(view);
      checks.push(() => sameItems(value, items));
      return true;
    }
    if (STATELESS.test(Object.prototype.toString.call(value))) return true;
    // The prototype object of an own class, or of one that extends another.
    if (Object.hasOwn(value, "constructor") && isOpen(value.constructor)) return noteProperties(value);
    return noteInstance(value, prototype);
  }

  /** An instance of a built-in class, or of one of the side's own: its fields are seen, unless some are private. */
  function noteInstance(value, prototype) {
    const made = prototype.constructor;
    if (typeof made !== "function") return false;
    if (BUILT_IN_PROTOTYPES.has(prototype) || met.has(prototype)) return noteProperties(value);
    if (!isOpen(made)) return false;
    queue.push(made);
    return noteProperties(value);
  }

  function isOpen(made) {
    const text = Function.prototype.toString.call(made);
    return open.has(text) && !hidden.has(text);
  }

  function noteFunction(made) {
    const text = Function.prototype.toString.call(made);
    if (text.endsWith("{ [native code] }")) return !made.name.startsWith("bound ");
    if (!isOpen(made) && text !== PASSING_ON) return false;
    const parent = Object.getPrototypeOf(made);
    if (parent !== Function.prototype) queue.push(parent);
    return noteProperties(made);
  }

  /** Own properties by identity: those that can be listed also by their number. Of accessors only the functions are followed. */
  function noteProperties(value) {
    /** @type {Record<PropertyKey, PropertyDescriptor>} */
    const all = Object.getOwnPropertyDescriptors(value);
    const names = Reflect.ownKeys(all).filter((name) => !(typeof value === "function" && BUILT.has(String(name))));
    for (const name of names) queue.push(all[name].value, all[name].get, all[name].set);
    if (Object.isFrozen(value)) return true;
    if (Array.isArray(value)) {
      const items = [...value];
      checks.push(() => sameItems(value, items));
      return true;
    }
    const data = names.filter((name) => "value" in all[name]);
    const held = data.map((name) => all[name].value);
    const listed = Object.keys(value).length;
    checks.push(() => {
      if (Object.keys(value).length !== listed) return false;
      for (let at = 0; at < data.length; at++) if (!Object.is(value[data[at]], held[at])) return false;
      return true;
    });
    return true;
  }
}

function sameItems(now, then) {
  if (now.length !== then.length) return false;
  for (let at = 0; at < then.length; at++) if (!Object.is(now[at], then[at])) return false;
  return true;
}
