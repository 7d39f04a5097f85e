/**
 * Loaded before a program whose calls are recorded; SIDE_TWIN_RECORD names the file with the settings: the folder for what
 * is noted, and for each recorded file its text with probes (see recording.ts). Workers and child processes load it too.
 *
 * Calls are written to `out/PID-THREAD.jsonl` as they happen, in the format of drivers/python/record_calls.py. Neither memory nor time
 * grows with the number of calls: most calls of a busy function are only counted.
 */
import fs from "node:fs";
import { register, syncBuiltinESMExports } from "node:module";
import path from "node:path";
import process from "node:process";
import { threadId } from "node:worker_threads";
import { encode, isThenable, iterators } from "./notation.mjs";
import { createTracer } from "./trace-calls.mjs";

const MAX_TEXT = 32_768;
const MAX_KEPT = 300;
const MAX_TEXTS = 4000;
const MAX_OF_A_SHAPE = 4;
const MAX_SHAPES = 60;
const MAX_OBJECTS = 40;
const MAX_STEPS = 24;
const LOOKS_BEFORE_STRIDE = 400;
/** Looking may take this share of the time since the start; past it, fewer calls are looked at. */
const MAX_SHARE = 0.4;
const MAX_STRIDE = 1 << 14;
const COUNT_EVERY_MS = 100;

const { openSync, writeSync } = fs;
const { stringify } = JSON;
const later = setImmediate;
const now = performance.now.bind(performance);
const settings = JSON.parse(fs.readFileSync(process.env.SIDE_TWIN_RECORD, "utf8"));
iterators.areRead = false;
const started = now();
const sections = [];
const lost = {};
/** Object → what is known of its calls. */
const followed = new WeakMap();
/** Class → how many of its objects are followed. */
const made = new Map();
let spent = 0;
let isBusy = false;
let out = -1;
let objects = 0;
let counted = started;
let isCountDue = false;

function write(record) {
  if (out === -1) out = openSync(path.join(settings.out, `${process.pid}-${threadId}.jsonl`), "a", 0o600);
  writeSync(out, `${stringify(record)}\n`);
}

const lose = (why) => {
  lost[why] = (lost[why] ?? 0) + 1;
};

class Section {
  constructor(file, [name, kind, owner, isGenerator]) {
    this.file = file;
    this.name = name;
    this.kind = kind;
    this.owner = owner;
    this.isGenerator = isGenerator;
    this.seen = 0;
    this.stride = 1;
    this.left = 1;
    /** How many of the calls seen were written down. */
    this.reported = 0;
    this.looks = 0;
    this.kept = 0;
    this.texts = new Set();
    this.shapes = new Map();
  }

  /** The probe: called with the arguments as an array-like, and the object (for a constructor, what is made). */
  enter(args, target) {
    if (--this.left > 0) return null;
    this.seen += this.stride;
    if (isBusy) {
      // The program's own code runs because a value is written down.
      this.seen -= this.stride;
      this.left = this.stride;
      return null;
    }
    isBusy = true;
    const since = now();
    try {
      this.looks++;
      return this.take(Array.from(args), target);
    } catch {
      lose("its arguments cannot be written down");
      return null;
    } finally {
      const at = now();
      spent += at - since;
      isBusy = false;
      if (spent > MAX_SHARE * (at - started) + 50 || this.looks % LOOKS_BEFORE_STRIDE === 0) this.lookLess();
      this.left = this.stride;
      if (at - counted > COUNT_EVERY_MS) writeCounts();
      if (!isCountDue) {
        isCountDue = true;
        later(() => {
          isCountDue = false;
          writeCounts();
        }).unref();
      }
    }
  }

  lookLess() {
    this.stride = Math.min(this.stride * 2, MAX_STRIDE);
    // The steps of an object must not have gaps: from here on nothing is noted of those of this class.
    if (this.owner !== null && this.kind !== "call") made.set(this.owner, { count: MAX_OBJECTS, isOver: true });
  }

  take(args, target) {
    if (this.kind === "call") return this.takeCall(args);
    return this.kind === "new" ? this.takeNew(args, target) : this.takeStep(args, target);
  }

  takeCall(args) {
    if (this.kept >= MAX_KEPT || this.texts.size >= MAX_TEXTS) return null;
    const given = this.encode(args);
    if (given === null || this.texts.has(given.text)) return null;
    this.texts.add(given.text.length > 200 ? `${given.text.length}${given.text.slice(0, 200)}` : given.text);
    const shape = stringify(shapeOf(given.args));
    const known = this.shapes.get(shape) ?? 0;
    if (known >= MAX_OF_A_SHAPE || (known === 0 && this.shapes.size >= MAX_SHAPES)) return null;
    this.shapes.set(shape, known + 1);
    this.kept++;
    return this.end({ file: this.file, section: this.name, args: given.args, kwargs: {} }, null);
  }

  end(record, thing) {
    if (!this.isGenerator) return new Call(record, thing);
    write(record);
    return null;
  }

  encode(args) {
    const encoded = args.map((item) => encode(item));
    const text = stringify(encoded);
    if (text.length > MAX_TEXT) {
      lose(`its arguments are longer than ${MAX_TEXT} characters`);
      return null;
    }
    if (text.includes('"~opaque"') || text.includes('"~ref"')) {
      const hasFunction = args.some((item) => typeof item === "function");
      lose(hasFunction ? "a function is handed over" : "its arguments cannot be written down");
      return null;
    }
    return { args: encoded, text };
  }

  takeNew(args, target) {
    const known = made.get(this.owner) ?? { count: 0, isOver: false };
    if (target?.name !== this.owner || known.count >= MAX_OBJECTS) return null;
    const given = this.encode(args);
    if (given === null) return null;
    if (this.texts.has(given.text) && this.looks % 7) return null;
    this.texts.add(given.text);
    made.set(this.owner, { ...known, count: known.count + 1 });
    const thing = { number: ++objects, steps: 0, isInside: false, isSpoilt: false, owner: this.owner };
    const step = { new: this.owner, ...(given.args.length > 0 ? { args: given.args } : {}), as: "it" };
    return this.end(recordOf(this.file, thing, step), thing);
  }

  takeStep(args, target) {
    const thing = typeof target === "object" && target !== null ? followed.get(target) : undefined;
    if (!thing) {
      lose("its object was not made within what was recorded");
      return null;
    }
    if (thing.isInside || thing.isSpoilt || thing.steps >= MAX_STEPS || made.get(thing.owner)?.isOver) return null;
    const name = this.name.slice(this.name.indexOf(".") + 1);
    if (this.kind === "get") return this.end(recordOf(this.file, thing, { get: name, on: "it" }), thing);
    const given = this.encode(args);
    if (given === null) {
      // Later calls may depend on this one.
      thing.isSpoilt = true;
      return null;
    }
    const step = { call: name, on: "it", ...(given.args.length > 0 ? { args: given.args } : {}) };
    return this.end(recordOf(this.file, thing, step), thing);
  }
}

function recordOf(file, thing, step) {
  thing.steps++;
  thing.isInside = true;
  return { file, object: thing.number, step };
}

/** The end of a call that is noted. */
class Call {
  constructor(record, thing) {
    this.record = record;
    this.thing = thing;
    this.isClosed = false;
  }

  end(value) {
    // An iterator would be used up by reading it, and a promise's value is not there yet.
    const isPlain = !isThenable(value) && typeof value?.next !== "function";
    if (isPlain && !isBusy) {
      isBusy = true;
      const since = now();
      try {
        const encoded = encode(value);
        if (stringify(encoded).length <= MAX_TEXT) this.record.value = encoded;
      } catch {
        // The answer is taken again when the case is replayed.
      }
      isBusy = false;
      spent += now() - since;
    }
    this.close();
  }

  /** The constructor is done. */
  made(object) {
    followed.set(object, this.thing);
    this.record.value = null;
    this.close();
  }

  leave() {
    if (this.isClosed) return;
    this.record.thrown = {};
    this.close();
  }

  close() {
    this.isClosed = true;
    if (this.thing) this.thing.isInside = false;
    write(this.record);
  }
}

/** Values alike in kind, sign and rough size have the same shape. */
function shapeOf(value) {
  if (value === null || typeof value === "boolean") return value;
  if (typeof value === "number")
    return ["n", Math.sign(value), Number.isInteger(value), Math.floor(Math.log2(Math.abs(value) + 1) / 4)];
  if (typeof value === "string")
    return ["s", Math.ceil(Math.log2(value.length + 1)), /^\p{ASCII}*$/u.test(value), /^\d+$/.test(value)];
  if (Array.isArray(value)) return ["l", Math.ceil(Math.log2(value.length + 1)), value.slice(0, 3).map(shapeOf)];
  return Object.entries(value)
    .slice(0, 8)
    .map(([key, item]) => [key, shapeOf(item)]);
}

/** Asked by each recorded file once for its probes. A function, as test runners copy only these into their own globals. */
const recorded = (file, list) => {
  const own = list.map((facts) => new Section(file, facts));
  sections.push(...own);
  return { enter: (index, args, target) => own[index].enter(args, target) };
};
const tracer = settings.trace ? createTracer() : null;
Object.defineProperty(process, "__sideTwin", { value: tracer ? tracer.probesOf : recorded, enumerable: true });

/** Runners end their processes as they like: counts are written in between too, those since the last time. */
function writeCounts() {
  const seen = {};
  for (const section of sections) {
    const count = section.seen + section.stride - section.left - section.reported;
    if (count === 0) continue;
    section.reported += count;
    const key = `${section.file} ${section.name}`;
    seen[key] = (seen[key] ?? 0) + count;
  }
  if (Object.keys(seen).length > 0 || Object.keys(lost).length > 0) write({ seen, lost });
  for (const why of Object.keys(lost)) delete lost[why];
  counted = now();
}
process.on("exit", () => {
  if (tracer) for (const event of tracer.take()) write(event);
  else writeCounts();
});

const files = new Map(Object.entries(settings.files));
/** Serves recorded files with probes to all who read them from disk: the module loader, and test runners that compile. */
const replaced = (file, content) => {
  const wanted =
    typeof file === "string"
      ? files.get(path.resolve(file))
      : file instanceof URL
        ? files.get(file.pathname)
        : undefined;
  if (!wanted) return content;
  if (typeof content === "string") return content === wanted.before ? wanted.after : content;
  return Buffer.isBuffer(content) && content.toString("utf8") === wanted.before ? Buffer.from(wanted.after) : content;
};
/** Puts a function in place of another of the same object, with all that is attached to it. */
function lay(owner, name, make) {
  const real = owner[name];
  const made = make(real);
  Object.defineProperties(made, Object.getOwnPropertyDescriptors(real));
  owner[name] = made;
}
lay(
  fs,
  "readFileSync",
  (real) =>
    function (file, ...rest) {
      return replaced(file, Reflect.apply(real, this, [file, ...rest]));
    },
);
lay(
  fs,
  "readFile",
  (real) =>
    function (file, ...rest) {
      const done = rest.pop();
      if (typeof done !== "function") return Reflect.apply(real, this, [file, ...rest, done]);
      const answer = (error, content) => done(error, error ? content : replaced(file, content));
      return Reflect.apply(real, this, [file, ...rest, answer]);
    },
);
lay(
  fs.promises,
  "readFile",
  (real) =>
    async function (file, ...rest) {
      return replaced(file, await Reflect.apply(real, this, [file, ...rest]));
    },
);
syncBuiltinESMExports();
register("./record-hooks.mjs", import.meta.url, { data: settings.files });
