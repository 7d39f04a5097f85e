/**
 * Side Twin's driver for JavaScript and TypeScript: runs sections of ported code and answers in JSON Lines.
 *
 * Requests come in on file descriptor 3, replies leave on 4; descriptor 1 is a file that belongs to the ported code
 * (what it prints is read back from there), 2 stays its own. The protocol is in docs/formats.md, section 7.
 */
import fs from "node:fs";
import process from "node:process";
import vm from "node:vm";
// When it is loaded, it lays a function of its own over process.chdir: better now than amid a case.
import "node:worker_threads";
import { createBuiltInWatch } from "./built-ins.mjs";
import { countResources, createCallbacks, takesCallback, waitForCallback } from "./callbacks.mjs";
import { createFixed } from "./fixed.mjs";
import { createGuard } from "./guard.mjs";
import { createLoader } from "./loader.mjs";
import { decode, encode, isThenable, nameOf, readIterator } from "./notation.mjs";
import { createMarks } from "./probes.mjs";
import { createSeal } from "./seal.mjs";

/** The requested name does not exist: the engine decides what that means. */
class Missing extends Error {}
class WouldNotLoad extends Error {}
/** This process cannot take the request: it goes to a new one. */
class NeedsNewProcess extends Error {}
/** Thrown in place of ending the process, so that one case cannot take the others with it. */
class EndedProcess {
  constructor(code) {
    this.code = code;
  }
}

const state = {
  root: process.cwd(),
  outputLimit: 8192 * 1024,
  loader: null,
  kept: null,
  guard: null,
  home: process.cwd(),
  seal: null,
  builtIns: null,
  /** The files whose loading changed built-ins: only their cases may run in this process. */
  changedBy: null,
  /** The request that runs leaves the driver by itself, see docs/formats.md, section 7. */
  isAlone: false,
  /** The request that runs shares its state with others. */
  isKept: false,
  /** Records calls into the observed files; null unless the driver was asked to. */
  tracer: null,
  /** Which lines ran, where the driver was asked to report them with each answer. */
  marks: null,
  /** The process ends after this reply. */
  isLast: false,
};
const now = performance.now.bind(performance);
const fixed = createFixed();
const printsToFile = fs.fstatSync(1).isFile();
const print = printsToFile ? fs.openSync("/proc/self/fd/1", "r") : -1;
/** Output is unavailable if descriptor 1 is not a file, as when the driver was started by hand. */
let printedInMemory = "";
if (!printsToFile) {
  process.stdout.write = (chunk) => {
    printedInMemory += typeof chunk === "string" ? chunk : Buffer.from(chunk).toString("utf8");
    return true;
  };
}
let pendingCase = null;

/** Whether something may have been printed since the last look: a stat after every case costs as much as the case. */
let mayHavePrinted = false;
if (printsToFile) {
  const write = process.stdout._write;
  process.stdout._write = function (...given) {
    mayHavePrinted = true;
    return Reflect.apply(write, this, given);
  };
  for (const name of ["getBuiltinModule", "binding", "dlopen"]) {
    const real = process[name];
    if (!real) continue;
    process[name] = (...given) => {
      state.loader.state.canPrint = true;
      return Reflect.apply(real, process, given);
    };
  }
}

const realChdir = process.chdir.bind(process);
let moved = false;
/** Asking for the folder after every case costs more than the case: a move is noticed when it is made. */
process.chdir = (folder) => {
  moved = true;
  realChdir(folder);
};
process.exit = (code) => {
  throw new EndedProcess(code ?? process.exitCode ?? 0);
};
for (const event of ["uncaughtException", "unhandledRejection"]) {
  process.on(event, (error) => pendingCase?.({ broken: strayError(error) }));
}

function strayError(error) {
  if (error instanceof EndedProcess) return ended(error);
  return { why: "crashed", what: `an error outside the call: ${error?.stack ?? error}` };
}

const ended = ({ code }) => ({ why: "ended", what: `it ended the process: exit(${code})` });

function greet(request) {
  state.root = fs.realpathSync(request.root ?? state.root);
  state.home = request.scratch ?? state.root;
  realChdir(state.home);
  if (request.scratch || process.env.TMPDIR) state.guard = createGuard(state.root, request.scratch);
  state.outputLimit = (request.outputKb ?? 8192) * 1024;
  state.marks = request.lines ? createMarks() : null;
  state.loader = createLoader(state.root, false, loading, request.observe, state.marks);
  if (request.texts) state.loader.forget([], request.texts);
  if (request.secret !== undefined) state.seal = createSeal(request.secret);
  state.builtIns = createBuiltInWatch();
  return { bridge: 1, language: "javascript", version: process.versions.node };
}

const operations = {
  hello(request) {
    if (!request.observe) return greet(request);
    return import("./trace-calls.mjs").then(({ createTracer }) => {
      state.tracer = createTracer();
      Object.defineProperty(process, "__sideTwin", { value: state.tracer.probesOf, enumerable: true });
      return greet(request);
    });
  },
  load(request) {
    const world = state.loader.newWorld(filesOf(request));
    return { names: describeExports(loadModule(world, request.file)) };
  },
  /** The lines of a file that loading it runs. */
  lines(request) {
    if (!state.marks) return { lines: [], load: [] };
    state.marks.start();
    loadModule(state.loader.newWorld(request.file), request.file);
    return { lines: [], load: state.marks.linesOf(request.file) };
  },
  reset(request) {
    // Where it is known what changed, the rest need not be compiled again.
    if (request.files) state.loader.forget(request.files, request.texts);
    else state.loader = createLoader(state.root, false, loading, {}, state.marks);
    state.kept = null;
    return {};
  },
  /** Counts the lines run from `start` to `take`; modules are compiled again so that all of them are counted. */
  async coverage(request) {
    const { isCovering, startCoverage, takeCoverage } = await import("./coverage.mjs");
    // A process that restarted in between has counted nothing yet.
    if (request.action === "start" || !isCovering()) {
      startCoverage();
      // To be counted, the platform lays functions of its own over some of its built-ins.
      state.builtIns.note();
      state.loader = createLoader(state.root, true, loading);
      state.kept = null;
      return {};
    }
    return { lines: takeCoverage(state.root, state.loader.compiled, request.action === "since") };
  },
  call(request) {
    const world = worldFor(request);
    const { self, callee, exports } = find(world, request);
    // Lines run by loading are not the case's own.
    state.marks?.start();
    const scope = scopeFor(request, { exports });
    const args = (request.args ?? []).map((item) => decode(item, scope));
    const kwargs =
      request.kwargs && Object.keys(request.kwargs).length > 0 ? decodeRecord(request.kwargs, scope) : null;
    if (scope.callbacks) return settleCallbacks({ callee, self, args, kwargs, scope, request });
    // Named arguments are handed over as a last options object, which is what this language has for them.
    const handed = kwargs ? [...args, kwargs] : args;
    const finish = withArguments(args, kwargs);
    return settle(() => Reflect.apply(callee, self, handed), finish);
  },
  async steps(request) {
    const world = worldFor(request);
    const exports = loadModule(world, (request.files ?? [request.file])[0]);
    state.marks?.start();
    const objects = new Map();
    const steps = [];
    for (const step of request.steps) {
      const reply = await runStep(step, { world, request, exports, objects });
      if (reply.broken) return reply;
      delete reply.ms;
      steps.push(reply);
    }
    return { steps };
  },
};

/** Changes to built-ins during loading belong to the module; earlier changes by cases belong to none. */
const loading = {
  before() {
    if (!isChanged()) return;
    if (!state.isKept) throw new NeedsNewProcess();
    keepChanges(KEPT);
  },
  after(files) {
    if (isChanged()) keepChanges(state.isKept ? KEPT : files);
  },
};

/** Key of the cases that share one state, including changed built-ins. */
const KEPT = "\0kept";

const isChanged = () => state.builtIns?.isChanged(!fixed.isActive()) ?? false;

/** From here on the built-ins as they are now are right, for the cases of these files alone. */
function keepChanges(files) {
  state.builtIns.note();
  state.changedBy = files;
}

/** Puts built-ins back that the request which runs has changed, before its answer is written down. */
function putBack() {
  if (!state.isAlone || state.isKept || !isChanged()) return;
  state.builtIns.restore(!fixed.isActive());
  state.isLast = true;
}

const filesOf = (request) => (request.files ? request.files.join("\0") : request.file);

function worldFor(request) {
  if (state.changedBy !== null && !state.isKept && state.changedBy !== filesOf(request)) throw new NeedsNewProcess();
  fixed.set(request.now, request.seed);
  // A fixed stream of random numbers that a module took hold of must start again.
  if (request.state !== "kept" && request.seed !== undefined) return state.loader.newWorld(filesOf(request));
  if (request.state !== "kept") {
    const files = filesOf(request);
    return state.loader.freshWorld(request.now === undefined ? files : `${files}\0${request.now}`, files);
  }
  state.kept ??= state.loader.newWorld(filesOf(request));
  return state.kept;
}

function loadModule(world, file) {
  try {
    return world.load(file);
  } catch (error) {
    if (error instanceof NeedsNewProcess) throw error;
    if (error?.code === "SIDE_TWIN_NO_FILE" && error.file === file) throw new Missing(file);
    if (error instanceof EndedProcess) throw new WouldNotLoad(`it ends the process while loading: exit(${error.code})`);
    const failure = new WouldNotLoad(`${error?.name ?? "Error"}: ${error?.message ?? error}`);
    failure.cause = error;
    throw failure;
  }
}

/** The first of the names that is there, in the first of the files that has it, with the `this` it is called on. */
function find(world, request) {
  const known = world.found?.get(request.name);
  if (known) return known;
  const files = request.files ?? [request.file];
  const names = request.names ?? [request.name];
  for (const name of [names].flat()) {
    for (const file of files) {
      const exports = loadModule(world, file);
      const { self, value } = lookup(exports, name);
      if (typeof value !== "function") continue;
      const found = { self, callee: value, exports };
      if (request.name !== undefined) world.found?.set(request.name, found);
      return found;
    }
  }
  throw new Missing([names].flat()[0]);
}

function lookup(exports, name) {
  let self;
  let value = exports;
  for (const [index, part] of name.split(".").entries()) {
    const next = index === 0 ? topLevel(exports, part) : member(value, part);
    // A function on module.exports is called as its method; an ES module's export is called on nothing.
    self = index === 0 ? (exports?.__esModule ? undefined : exports) : value;
    value = next;
    if (value === undefined) return { self, value };
  }
  return { self, value };
}

function topLevel(exports, name) {
  const own = member(exports, name);
  if (own !== undefined) return own;
  const main = exports?.__esModule ? exports.default : exports;
  if (name === "default") return main;
  if (typeof main === "function" && main.name === name) return main;
  const inMain = exports?.__esModule ? member(main, name) : undefined;
  return inMain === undefined ? byOwnName(exports, name) : inMain;
}

/** Exports under another name than their own; none if several have that name. */
function byOwnName(exports, name) {
  const found = new Set();
  for (const key of Object.getOwnPropertyNames(Object(exports))) {
    const { value, get } = Object.getOwnPropertyDescriptor(exports, key);
    const made = get ? exports[key] : value;
    if (typeof made === "function" && made.name === name) found.add(made);
  }
  return found.size === 1 ? [...found][0] : undefined;
}

const member = (value, name) => (value === null || value === undefined ? undefined : value[name]);

async function runStep(step, at) {
  const objects = at.objects;
  const scope = { exports: at.exports, objects, callbacks: undefined };
  let target;
  if (step.on !== undefined) {
    if (!objects.has(step.on)) return { thrown: { kind: "NoObject", message: `no object ${step.on}` } };
    target = objects.get(step.on);
  }
  let value;
  const keep = (result) => {
    value = result;
    return result;
  };
  let reply;
  if (step.get) {
    const name = step.get.find((candidate) => Object(target) === target && candidate in target);
    if (name === undefined) throw new Missing(`${className(target)}.${step.get[0]}`);
    reply = await settle(
      () => keep(target[name]),
      (result) => result,
    );
  } else if (step.set) {
    const name = step.set.find((candidate) => candidate in target) ?? step.set.at(-1);
    reply = await settle(
      () => {
        target[name] = decode(step.value, scope);
      },
      (result) => result,
    );
  } else {
    reply = await runCallStep(step, { ...at, target, scope, keep });
  }
  if (step.as !== undefined && "value" in reply) objects.set(step.as, await value);
  if (step.new && "value" in reply) reply.value = { "~obj": "new", fields: {} };
  return reply;
}

function runCallStep(step, at) {
  const { target, keep } = at;
  const scope = scopeFor(step, at.scope);
  const args = (step.args ?? []).map((item) => decode(item, scope));
  const kwargs = step.kwargs && Object.keys(step.kwargs).length > 0 ? decodeRecord(step.kwargs, scope) : null;
  const handed = kwargs ? [...args, kwargs] : args;
  const finish = withArguments(args, kwargs);
  if (target !== undefined) {
    const name = step.call.find((candidate) => typeof member(target, candidate) === "function");
    if (name === undefined) throw new Missing(`${className(target)}.${step.call[0]}`);
    if (scope.callbacks)
      return settleCallbacks({ callee: target[name], self: target, args, kwargs, scope, request: step });
    return settle(() => keep(target[name](...handed)), finish);
  }
  const { self, callee } = find(at.world, { ...at.request, names: step.new ?? step.call });
  const construct = step.new && isClass(callee);
  if (scope.callbacks && !step.new) return settleCallbacks({ callee, self, args, kwargs, scope, request: step });
  return settle(
    () => keep(construct ? Reflect.construct(callee, handed) : Reflect.apply(callee, self, handed)),
    finish,
  );
}

/** Where values are decoded; with callbacks where a request hands some over. */
function scopeFor(request, scope) {
  if (request.callbacks !== undefined) scope.callbacks = createCallbacks(describeError, scope);
  return scope;
}

/**
 * Runs a call that was given callbacks. On a twin (`loose`) a callback that would give the answer is left out where the
 * function has no parameter for it: then its own answer counts.
 */
async function settleCallbacks({ callee, self, args, kwargs, scope, request, construct = false }) {
  const { callbacks } = scope;
  const isLoose = request.callbacks === "loose";
  const isAnswering = (item) => callbacks.waitsFor([item]);
  const handed = [...args, ...(kwargs ? [kwargs] : [])];
  const taken = handed.filter((item, index) => !isLoose || !isAnswering(item) || takesCallback(callee, index));
  const named = Object.values(kwargs ?? {});
  const isWanted = callbacks.waitsFor([...taken, ...named]);
  const finish = withArguments(
    args.filter((item) => !callbacks.isOwn(item)),
    kwargs && Object.fromEntries(Object.entries(kwargs).filter(([, item]) => !callbacks.isOwn(item))),
  );
  const note = (reply) => {
    const called = callbacks.called();
    if (called !== undefined && !reply.broken) reply.called = called;
    return finish(reply);
  };
  const before = countResources();
  const start = now();
  let own;
  const run = () => {
    own = construct ? Reflect.construct(callee, taken) : Reflect.apply(callee, self, taken);
    return own;
  };
  if (!isWanted) {
    const reply = await settle(run, (result) => result);
    if (!reply.broken && !reply.thrown) await waitForCallback(callbacks, null, before, false);
    return note(reply);
  }
  const started = await new Promise((resolve) => {
    pendingCase = resolve;
    try {
      run();
      resolve(null);
    } catch (error) {
      resolve(error instanceof EndedProcess ? { broken: ended(error) } : { thrown: describeError(error) });
    }
  });
  if (started) {
    putBack();
    pendingCase = null;
    return note({ ...started, ms: Math.round((now() - start) * 1e4) / 1e4 });
  }
  const end = await new Promise((resolve) => {
    pendingCase = (stray) => resolve({ outcome: stray });
    waitForCallback(callbacks, own, before, true).then(resolve);
  }).finally(() => {
    pendingCase = null;
  });
  if (end.failure)
    return note(
      await settle(
        () => Promise.reject(end.failure.error),
        (result) => result,
      ),
    );
  // A twin that has the parameter and still answers by itself.
  if (end.outcome === null && isLoose && own !== undefined)
    return note(
      await settle(
        () => own,
        (result) => result,
      ),
    );
  putBack();
  return note({
    ...(end.outcome ?? { value: { "~none": "never called" } }),
    ms: Math.round((now() - start) * 1e4) / 1e4,
  });
}

/** Adds the arguments after the call to a reply: changes to them are outputs. */
const withArguments = (args, kwargs) => (reply) => {
  if (reply.broken) return reply;
  reply.args = args.map((item) => encode(item));
  if (kwargs) reply.kwargs = encodeRecord(kwargs);
  return reply;
};

const className = (value) => nameOf(value?.constructor, typeof value);

/** A class, or a function used as one in the older style (methods on its prototype, or a capital first letter). */
function isClass(callee) {
  if (/^class\b/.test(Function.prototype.toString.call(callee))) return true;
  return (
    Object.getOwnPropertyNames(callee.prototype ?? {}).length > 1 || (callee.prototype && /^[A-Z]/.test(callee.name))
  );
}

/** Runs a call and turns its value or error into a reply; a promise is awaited, an iterator read. */
function settle(run, finish) {
  const start = now();
  const elapsed = () => Math.round((now() - start) * 1e4) / 1e4;
  const failed = (error) => {
    putBack();
    return finish(
      error instanceof EndedProcess ? { broken: ended(error) } : { thrown: describeError(error), ms: elapsed() },
    );
  };
  const answered = (value) => {
    putBack();
    try {
      return finish({ value: encode(value), ms: elapsed() });
    } catch (error) {
      return failed(error);
    }
  };
  try {
    const value = run();
    if (isThenable(value) || typeof value?.[Symbol.asyncIterator] === "function") {
      const read = isThenable(value) ? value : readIterator(value);
      // A promise that nothing will ever settle must run into the time limit, not into the end of an idle process.
      const alive = setInterval(() => {}, 1 << 30);
      return new Promise((resolve) => {
        pendingCase = resolve;
        read.then(
          (settled) => resolve(answered(settled)),
          (error) => resolve(failed(error)),
        );
      }).finally(() => {
        clearInterval(alive);
        pendingCase = null;
      });
    }
    return answered(value);
  } catch (error) {
    return failed(error);
  }
}

function describeError(error) {
  if (error === null || typeof error !== "object") return { kind: typeof error, message: String(error) };
  const kind = nameOf(error.constructor, nameOf(error, "Error"));
  const trace = String(error.stack ?? "")
    .split("\n")
    .slice(1, 8)
    .filter((line) => !line.includes("/drivers/node/"));
  return { kind, message: encode(String(error.message ?? "")), trace: trace.join("\n") };
}

const decodeRecord = (record, scope) =>
  Object.fromEntries(Object.entries(record).map(([key, item]) => [key, decode(item, scope)]));
const encodeRecord = (record) => Object.fromEntries(Object.entries(record).map(([key, item]) => [key, encode(item)]));

function describeExports(exports) {
  const names = [];
  for (const name of new Set([
    ...Object.getOwnPropertyNames(Object(exports)),
    ...(typeof exports === "function" ? ["default"] : []),
  ])) {
    if (name === "__esModule" || (typeof exports === "function" && ["length", "name", "prototype"].includes(name)))
      continue;
    const value = topLevel(exports, name);
    if (typeof value !== "function") names.push({ name, kind: "constant" });
    else if (isClass(value)) {
      const members = [...Object.getOwnPropertyNames(value.prototype ?? {}), ...Object.getOwnPropertyNames(value)];
      names.push({
        name,
        kind: "class",
        members: members.filter((key) => !["constructor", "length", "name", "prototype"].includes(key)),
      });
    } else names.push({ name, kind: "function", params: parameterNames(value) });
  }
  return names;
}

function parameterNames(callee) {
  const source = Function.prototype.toString.call(callee);
  const list = /^[^(]*\(([^)]*)\)/.exec(source)?.[1] ?? "";
  return list
    .split(",")
    .map((part) => part.replace(/[=:].*$/s, "").trim())
    .filter(Boolean);
}

function answer(request) {
  const operation = Object.hasOwn(operations, request.op) ? operations[request.op] : null;
  if (!operation)
    return { error: `unknown op ${JSON.stringify(request.op)}; known: ${Object.keys(operations).join(", ")}` };
  const failed = (error) => {
    if (error instanceof NeedsNewProcess) return { restart: true };
    if (error instanceof Missing) return { missing: error.message };
    if (error instanceof WouldNotLoad) {
      return {
        broken: {
          why: "would-not-load",
          what: error.message,
          lastOutput: String(/** @type {Error | undefined} */ (error.cause)?.stack ?? "").slice(0, 2000),
        },
      };
    }
    return { error: String(error?.stack ?? error) };
  };
  const finish = (reply) => {
    fixed.release();
    const outside = state.guard?.finish();
    const final = outside
      ? { broken: { why: "outside-folder", what: `it wrote outside its folder: ${outside}` } }
      : reply;
    if (request.op !== "call" && request.op !== "steps") return final;
    const printed = withPrinted(final);
    if (state.marks && !printed.broken) Object.assign(printed, state.marks.take());
    return state.tracer ? { ...printed, trace: state.tracer.take() } : printed;
  };
  state.guard?.start();
  state.isAlone = request.alone === true;
  state.isKept = request.state === "kept";
  try {
    // The first compiling starts the compiler.
    const isLimited = request.limitMs !== undefined && state.loader.state.hasCompiled;
    const reply = isLimited ? within(request.limitMs, operation, request) : operation(request);
    return isThenable(reply) ? reply.catch(failed).then(finish) : finish(reply);
  } catch (error) {
    return finish(failed(error));
  }
}

/** Stops an operation that computes for too long without ending the process; what waits is the pool's to end. */
const limited = { context: null, script: new vm.Script("run()") };

function within(limitMs, operation, request) {
  limited.context ??= vm.createContext({ run: null });
  limited.context.run = () => operation(request);
  try {
    return limited.script.runInContext(limited.context, { timeout: limitMs });
  } catch (error) {
    if (error?.code !== "ERR_SCRIPT_EXECUTION_TIMEOUT") throw error;
    // An interrupted case may have left any state behind.
    if (state.loader.state.isCompiling) state.isLast = true;
    state.loader.dropWorlds();
    state.kept = null;
    pendingCase = null;
    return { broken: { why: "timed-out", what: `it took longer than ${limitMs} ms`, lastOutput: "" } };
  } finally {
    limited.context.run = null;
  }
}

function withPrinted(reply) {
  if (!printsToFile) {
    reply.printed = printedInMemory;
    printedInMemory = "";
    return reply;
  }
  const size = mayHavePrinted || state.loader.state.canPrint ? fs.fstatSync(1).size : 0;
  mayHavePrinted = false;
  if (size === 0) {
    reply.printed = "";
    return reply;
  }
  const over = size > state.outputLimit;
  const buffer = Buffer.alloc(over ? 0 : size);
  if (!over) fs.readSync(print, buffer, 0, size, 0);
  fs.ftruncateSync(1, 0);
  if (over) return { broken: { why: "over-limit", what: `it printed more than ${state.outputLimit / 1024} KB` } };
  reply.printed = buffer.toString("utf8");
  return reply;
}

/** Replies that wait to be written together, as long as further requests are at hand. */
let held = "";
let heldSince = 0;
/** The id of the first reply that is held. */
let heldFrom = null;
const HOLD_MS = 5;
const HOLD_CHARACTERS = 1 << 16;

function send(request, reply) {
  if (moved) {
    moved = false;
    realChdir(state.home);
  }
  if (reply.restart) return startAnew(heldFrom ?? request.id);
  // A case of several steps is looked at as a whole: what one step changes may be what the next one needs.
  putBack();
  heldFrom ??= request.id;
  held += form(request.id, reply);
  // A case run alone must have sent its reply before the next one can end the process; so must the greeting, at which
  // the first case's time begins.
  const isDue = request.alone || request.op === "hello" || held.length > HOLD_CHARACTERS || now() - heldSince > HOLD_MS;
  if (isDue) flush();
  if (state.isLast) leave(0);
}

/**
 * Formats a reply as a line. Fields that differ between sides come before the answer, so that equal answers are equal
 * texts.
 */
function form(id, reply) {
  const { ms } = reply;
  if (typeof id !== "number") return `${JSON.stringify({ id, ...reply })}\n`;
  const seal = state.seal === null ? "" : `,"tag":"${state.seal(id)}"`;
  const last = state.isLast ? ',"last":true' : "";
  // Lines differ between sides too.
  const known = reply.path === undefined ? "" : `,"path":${reply.path}`;
  const path = known === "" || !reply.lines ? known : `${known},"lines":${JSON.stringify(reply.lines)}`;
  reply.ms = undefined;
  if (known !== "") {
    reply.path = undefined;
    reply.lines = undefined;
  }
  const rest = JSON.stringify(reply).slice(1);
  const comma = rest === "}" ? "" : ",";
  return `{"id":${id}${seal}${last}${ms === undefined ? "" : `,"ms":${ms}`}${path}${comma}${rest}\n`;
}

/** Asks for a new process for this request and all later ones; held replies were given amid changes. */
function startAnew(id) {
  state.builtIns.restore(true);
  held = form(id, { restart: true });
  write();
  leave(0);
}

function flush() {
  heldSince = now();
  if (held === "") return;
  if (isChanged()) {
    if (state.isKept) keepChanges(KEPT);
    else startAnew(heldFrom);
  }
  heldFrom = null;
  write();
}

function write() {
  const data = Buffer.from(held);
  held = "";
  let written = 0;
  while (written < data.length) {
    try {
      written += fs.writeSync(4, data, written);
    } catch (error) {
      if (error.code !== "EAGAIN") throw error;
    }
  }
}

// Not in the types: it ends the process without running what ported code hung on its exit.
const leave = /** @type {any} */ (process).reallyExit.bind(process);

async function serve() {
  const chunk = Buffer.alloc(1 << 16);
  let pending = "";
  const decoder = new TextDecoder();
  for (;;) {
    const length = fs.readSync(3, chunk, 0, chunk.length, null);
    if (length === 0) return;
    const lines = (pending + decoder.decode(chunk.subarray(0, length), { stream: true })).split("\n");
    pending = lines.pop();
    heldSince = now();
    for (const line of lines) {
      const request = JSON.parse(line);
      if (request.op === "bye") return flush();
      const reply = answer(request);
      if (isThenable(reply)) {
        // A promise may take long, or never settle.
        flush();
        send(request, await reply);
      } else send(request, reply);
    }
    flush();
  }
}

serve().then(
  () => leave(0),
  (error) => {
    fs.writeSync(2, `${error?.stack ?? error}\n`);
    leave(70);
  },
);
