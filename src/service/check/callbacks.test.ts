/** Callbacks: a callback-style original against async, plain and callback-style twins, in both languages. */
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const NODE = { "~callback": "node" };

const ORIGINAL_JS = `
exports.load = (name, cb) => setTimeout(() => name === "" ? cb(new RangeError("no name")) : cb(null, name.length), 2);
exports.both = (a, cb) => cb(undefined, a, a + 1);
exports.twice = (a, cb) => { cb(null, a); cb(null, a + 1); };
exports.never = (a, cb) => a;
exports.later = (a, cb) => { setTimeout(() => {}, 5); };
exports.each = (list, fn) => { const out = []; for (const item of list) out.push(fn(item, out.length)); return out; };
exports.plain = (a) => a * 2;
exports.value = (a, done) => process.nextTick(done, a + 1);
class Desk { constructor(n) { this.n = n; } ask(more, cb) { setImmediate(() => cb(null, this.n + more)); } }
exports.Desk = Desk;
`;
const TWIN_MJS = `
export const load = async (name) => { if (name === "") throw new RangeError("no name"); return name.length; };
export const both = (a, cb) => cb(null, a, a + 1);
export const twice = (a, cb) => cb(null, a);
export const never = (a, cb) => a;
export const later = (a, cb) => {};
export const each = (list, fn) => list.map((item, index) => fn(item, index));
export const plain = (a, cb) => { cb(null, a * 2); };
export const value = (a) => a + 1;
export class Desk { constructor(n) { this.n = n; } async ask(more) { return this.n + more; } }
`;
const TWIN_PY = `
async def load(name):
    if name == "":
        raise ValueError("no name")
    return len(name)
def both(a, cb):
    cb(None, a, a + 1)
def twice(a, cb):
    cb(None, a)
    cb(None, a + 1)
def never(a, cb):
    return None
def later(a, cb):
    return None
def each(items, fn):
    return [fn(item, index) for index, item in enumerate(items)]
def plain(a, cb):
    cb(None, a * 2)
def value(a):
    return a + 1
class Desk:
    def __init__(self, n):
        self.n = n
    def ask(self, more, cb):
        import threading
        threading.Timer(0.01, lambda: cb(None, self.n + more)).start()
`;

const CASES = [
  { id: "load", module: "m", call: "load", args: ["tern", NODE] },
  { id: "load-throws", module: "m", call: "load", args: ["", NODE] },
  { id: "both", module: "m", call: "both", args: [1, NODE] },
  { id: "twice", module: "m", call: "twice", args: [1, NODE] },
  { id: "never", module: "m", call: "never", args: [1, NODE] },
  { id: "later", module: "m", call: "later", args: [1, NODE] },
  { id: "each", module: "m", call: "each", args: [["a", "b"], { "~callback": "calls", returns: [7, 8] }] },
  { id: "plain", module: "m", call: "plain", args: [4] },
  { id: "value", module: "m", call: "value", args: [1, { "~callback": "value" }] },
  {
    id: "desk",
    module: "m",
    steps: [
      { new: "Desk", args: [3], as: "d" },
      { call: "ask", on: "d", args: [4, NODE] },
    ],
  },
];

async function check(twin: { readonly language: string; readonly file: string; readonly text: string }) {
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: "javascript" },
      twins: [{ name: "t", root: "twin", language: twin.language }],
      modules: [{ name: "m", original: ["m.js"], twins: { t: [twin.file] } }],
      hookups: [{ original: "m.plain", callback: "last" }],
      equality: { errorKind: "relaxed" },
      limits: { timeMs: 4000 },
    }),
    "original/m.js": ORIGINAL_JS,
    [`twin/${twin.file}`]: twin.text,
    "cases/c.jsonl": CASES,
  });
  const { report } = await runCheckOfFile(folder, {});
  return Object.fromEntries(
    report.cases.map(({ id, outcome, divergences = [] }) => [
      id,
      divergences.length > 0 ? divergences.map(({ at }) => at).join() : outcome,
    ]),
  );
}

describe("a callback-style original", () => {
  it("agrees with an async, a plain and a callback-style twin in JavaScript", async () => {
    expect(await check({ language: "javascript", file: "m.mjs", text: TWIN_MJS })).toEqual({
      load: "agree",
      "load-throws": "agree",
      both: "agree",
      twice: "called.1",
      never: "value",
      later: "agree",
      each: "agree",
      plain: "agree",
      value: "agree",
      desk: "agree",
    });
  });

  it("agrees with a twin in Python", async () => {
    expect(await check({ language: "python", file: "m.py", text: TWIN_PY })).toEqual({
      load: "agree",
      "load-throws": "agree",
      both: "agree",
      twice: "agree",
      never: "agree",
      later: "agree",
      each: "agree",
      plain: "agree",
      value: "agree",
      desk: "agree",
    });
  });
});
