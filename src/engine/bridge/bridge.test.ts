import { spawn } from "node:child_process";
import path from "node:path";
import type { Readable, Writable } from "node:stream";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { fromNotation, toNotation } from "@/core/values/value";
import type { BridgeRequest, Pool, PoolAnswer } from "@/engine/bridge/pool";
import { DRIVERS } from "@/engine/drivers/index";
import { packageRoot } from "@/engine/package-root";
import { findRuntime } from "@/engine/toolchains/toolchains";
import { askPool, poolFor } from "@/testing/driver-pool";
import { temporaryFolder } from "@/testing/temporary-port";
import { arbitraryValue } from "@/testing/values";

const valueIn = ({ result }: PoolAnswer): Json | string =>
  result.kind === "call"
    ? result.thrown
      ? `${result.thrown.kind}: ${result.thrown.message}`
      : (result.value ?? null)
    : JSON.stringify(result);

const PYTHON = `
import asyncio, collections, dataclasses, datetime, decimal, enum, typing
class Kind(enum.Enum):
    NEAR = 1
class Point(typing.NamedTuple):
    x: int
    y: int
@dataclasses.dataclass(frozen=True)
class Fare:
    total: int
def same(value): return value
def cycle():
    items = [1]; items.append(items); return {"in": items}
def shared():
    one = [1]; return [one, one]
def numbers(): return [2.0, 2, 2**70, float("nan"), float("-inf"), -0.0, decimal.Decimal("1.50"), True, None]
def generator(): yield from range(3)
def endless():
    n = 0
    while True:
        yield n; n += 1
async def later(): return "soon"
def kinds(): return [Kind.NEAR, Point(1, 2), Fare(3), len, datetime.date(2031, 4, 2), {1: "a"}, {"~x": 1}, (1,), b"\\x00", range(2)]
def total(fare): return fare.total if isinstance(fare, Fare) else "no Fare"
def only(*, width): return width
def fails(items): items.append(1); raise KeyError("gone")
class Harbour:
    count = 0
    def __init__(self, berths): self.berths = berths
    def __repr__(self): return "H"
    @property
    def free(self): return self.berths
    def take(self, other=None): self.berths -= 1; Harbour.count += 1; return [self.berths, other is self]
    @staticmethod
    def fleet(): return "static"
`;

const TYPESCRIPT = `
export class Fare { constructor(public total: number) {} }
export const same = (value: unknown) => value;
export function cycle() { const items: unknown[] = [1]; items.push(items); return { in: items }; }
export function shared() { const one = [1]; return [one, one]; }
export function numbers() { return [2, 2.5, 2n ** 70n, NaN, -Infinity, -0, true, null, undefined]; }
export function* generator() { yield* [0, 1, 2]; }
export function* endless() { for (let n = 0; ; n++) yield n; }
export async function* stream() { yield 1; yield 2; }
export async function later() { return "soon"; }
export function kinds() { return [new Map([[1, "a"]]), new Set([1]), new Date(0), new Uint8Array([0]), () => 1, { "~x": 1 }, new Fare(3), { get price() { return 4; } }, Symbol("s"), new RangeError("r"), Promise.resolve(1)]; }
export function total(fare: unknown) { return fare instanceof Fare ? fare.total : "no Fare"; }
export function only({ width }: { width: number }) { return width; }
export function fails(items: number[]) { items.push(1); throw new KeyError("gone"); }
class KeyError extends Error {}
export class Harbour {
  static count = 0;
  constructor(public berths: number) {}
  get free() { return this.berths; }
  take(other?: Harbour) { this.berths--; Harbour.count++; return [this.berths, other === this]; }
  static fleet() { return "static"; }
}
export default function main() { return "default"; }
`;

describe.each([
  ["python", "m.py", PYTHON],
  ["typescript", "m.ts", TYPESCRIPT],
])("the %s driver", (language, file, source) => {
  let pool: Pool;
  const call = (name: string, args: Json[] = [], rest: BridgeRequest = {}) =>
    askPool(pool, { file, name, args, ...rest });
  beforeAll(async () => {
    pool = await poolFor(language, temporaryFolder({ [file]: source }));
  });
  afterAll(() => pool.stop());

  it("gives every value back as the same value", async () => {
    await fc.assert(
      fc.asyncProperty(arbitraryValue, async (value) => {
        // A decimal is a number to a language without decimals, and a tuple or an object is what it makes of them.
        const text = JSON.stringify(toNotation(value));
        fc.pre(language === "python" ? !/"~obj"|"~set"|"~map"/.test(text) : !/"~dec"|"~obj"|"~set"|"~map"/.test(text));
        const back = fromNotation(JSON.parse(JSON.stringify(valueIn(await call("same", [JSON.parse(text)])))));
        expect(canonicalText(back, DEFAULT_EQUALITY)).toBe(canonicalText(value, DEFAULT_EQUALITY));
      }),
      { numRuns: 150 },
    );
  });

  it("writes a cycle as the depth of what it comes back to, and a value reached twice out twice", async () => {
    expect(valueIn(await call("cycle"))).toEqual({ in: [1, { "~ref": 1 }] });
    expect(valueIn(await call("shared"))).toEqual([[1], [1]]);
  });

  it("reads generators to their end, and says when it stopped", async () => {
    expect(valueIn(await call("generator"))).toEqual([0, 1, 2]);
    const cut = valueIn(await call("endless"));
    expect(cut).toMatchObject({ cut: true });
    expect((cut as { "~list": Json[] })["~list"]).toHaveLength(10_000);
  });

  it("awaits what is promised", async () => {
    expect(valueIn(await call("later"))).toBe("soon");
  });

  it("rebuilds an object argument with the module's class of that name", async () => {
    expect(valueIn(await call("total", [{ "~obj": "Fare", fields: { total: 7 } }]))).toBe(7);
    expect(valueIn(await call("total", [{ "~obj": "Nothing", fields: { total: 7 } }]))).toBe("no Fare");
  });

  it("hands over named arguments as the language has them, and tells them after the call", async () => {
    const { result } = await call("only", [], { kwargs: { width: 3 } });
    expect(result).toMatchObject({ value: 3, args: [], kwargs: { width: 3 } });
  });

  it("tells the error's class, its message, and the arguments as they are after it", async () => {
    const { result } = await call("fails", [[]]);
    expect(result).toMatchObject({
      thrown: { kind: "KeyError", message: expect.stringContaining("gone") },
      args: [[1]],
    });
  });

  it("calls static methods, and the first of several names that is there", async () => {
    expect(valueIn(await call("Harbour.fleet"))).toBe("static");
    expect(valueIn(await askPool(pool, { file, names: ["nowhere", "later"], args: [] }))).toBe("soon");
    expect((await call("nowhere")).result).toEqual({ kind: "skipped", why: "there is no nowhere" });
    expect((await askPool(pool, { file: "gone.x", name: "f", args: [] })).result).toMatchObject({
      kind: "skipped",
      why: "there is no gone.x",
    });
  });

  it("drives objects step by step, goes on after a throw, and passes objects on", async () => {
    const steps = [
      { new: ["Harbour"], args: [2], as: "h" },
      { call: ["take"], on: "h", args: [{ "~as": "h" }] },
      { get: ["free"], on: "h" },
      { set: ["berths"], on: "h", value: 9 },
      { get: ["berths"], on: "h" },
      { call: ["total"], args: [{ "~as": "h" }] },
      { call: ["take"], on: "gone" },
    ];
    const { result } = await askPool(pool, { op: "steps", file, steps });
    expect(result).toMatchObject({
      kind: "steps",
      steps: [
        { value: { "~obj": "new" } },
        { value: [1, true] },
        { value: 1 },
        {},
        { value: 9 },
        { value: "no Fare" },
        { thrown: { kind: "NoObject" } },
      ],
    });
  });

  it("gives each case fresh modules, class attributes included, and keeps them when asked", async () => {
    const bump = [
      { new: ["Harbour"], args: [5], as: "h" },
      { call: ["take"], on: "h" },
      { new: ["Harbour"], args: [1], as: "i" },
    ];
    const counted = async (state: string) => {
      const { result } = await askPool(pool, {
        op: "steps",
        file,
        steps: [...bump, { get: ["count"], on: "h" }],
        state,
      });
      return result.kind === "steps" ? result.steps.at(-1) : result;
    };
    if (language === "python") {
      expect(await counted("fresh")).toMatchObject({ value: 1 });
      expect(await counted("fresh")).toMatchObject({ value: 1 });
      expect(await counted("kept")).toMatchObject({ value: 1 });
      expect(await counted("kept")).toMatchObject({ value: 2 });
    }
  });
});

/** A driver as a process of its own, with the ends of what it is asked by and answers on. */
async function startByHand(language: string, files: Readonly<Record<string, string>>) {
  const program = path.join(packageRoot(), "src/engine/drivers", DRIVERS[language]?.program ?? "");
  const [runtime = ""] = await findRuntime(language);
  const cwd = temporaryFolder(files);
  const child = spawn(runtime, [program], { cwd, stdio: ["ignore", "pipe", "inherit", "pipe", "pipe"] });
  const [, , , requests, replies] = child.stdio;
  return { child, requests: requests as Writable, replies: replies as Readable };
}

describe("a driver started by hand, as the protocol describes it", () => {
  it.each([
    ["python", "m.py", "def f():\n    while True: pass\n"],
    ["javascript", "m.js", "exports.f = () => { for (;;); };"],
  ])("greets before the first case, which may never end: %s", async (language, file, source) => {
    const { child, requests, replies } = await startByHand(language, { [file]: source });
    const greeting = new Promise((resolve) => replies.once("data", (chunk: Buffer) => resolve(chunk.toString("utf8"))));
    const ended = new Promise((resolve) => child.once("close", resolve));
    const ask = [
      { id: 1, op: "hello" },
      { id: 2, op: "call", file, name: "f", args: [], kwargs: {} },
    ];
    // In one piece, so that the case is at hand when the greeting is made.
    requests.write(ask.map((request) => `${JSON.stringify(request)}\n`).join(""));
    expect(JSON.parse(String(await greeting))).toMatchObject({ id: 1, bridge: 1, language });
    child.kill("SIGKILL");
    await ended;
  });

  it.each([
    ["python", "m.py", "def f(n):\n    print('hi')\n    return n * 2\n"],
    ["javascript", "m.js", "exports.f = (n) => { console.log('hi'); return n * 2; };"],
  ])("%s", async (language, file, source) => {
    const { child, requests, replies } = await startByHand(language, { [file]: source });
    let said = "";
    replies.on("data", (chunk: Buffer) => {
      said += chunk.toString("utf8");
    });
    const ask = [
      { id: 1, op: "hello" },
      { id: 2, op: "load", file },
      { id: 3, op: "call", file, name: "f", args: [21], kwargs: {} },
      { id: 4, op: "reset" },
      { id: 5, op: "what" },
      { op: "bye" },
    ];
    requests.write(ask.map((request) => `${JSON.stringify(request)}\n`).join(""));
    await new Promise((resolve) => child.once("close", resolve));
    const lines = said
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line));
    expect(lines).toMatchObject([
      { id: 1, bridge: 1, language, version: expect.stringMatching(/^\d+\.\d+\.\d+$/) },
      { id: 2, names: [{ name: "f", kind: "function", params: ["n"] }] },
      { id: 3, value: 42, args: [21], printed: "hi\n", ms: expect.any(Number) },
      { id: 4 },
      { id: 5, error: expect.stringContaining("unknown op") },
    ]);
  });
});

describe("what only one language has", () => {
  it("is told by the Python driver", async () => {
    const pool = await poolFor("python", temporaryFolder({ "m.py": PYTHON }));
    const answer = await askPool(pool, { file: "m.py", name: "kinds", args: [] });
    const numbers = await askPool(pool, { file: "m.py", name: "numbers", args: [] });
    pool.stop();
    expect(valueIn(answer)).toEqual([
      { "~obj": "Kind", fields: { value: 1 } },
      { "~obj": "Point", fields: { x: 1, y: 2 }, items: [1, 2] },
      { "~obj": "Fare", fields: { total: 3 } },
      { "~opaque": expect.stringContaining("len") },
      { "~date": "2031-04-02" },
      { "~map": [[1, "a"]] },
      { "~esc": { "~x": 1 } },
      { "~tuple": [1] },
      { "~bytes": "AA==" },
      [0, 1],
    ]);
    expect(valueIn(numbers)).toEqual([
      { "~float": "2.0" },
      2,
      { "~int": (2n ** 70n).toString() },
      { "~num": "NaN" },
      { "~num": "-Infinity" },
      { "~num": "-0" },
      { "~dec": "1.50" },
      true,
      null,
    ]);
  });

  it("is told by the Node.js driver", async () => {
    const pool = await poolFor("typescript", temporaryFolder({ "m.ts": TYPESCRIPT }));
    const [kinds, numbers, main, stream] = await Promise.all(
      ["kinds", "numbers", "default", "stream"].map((name) => askPool(pool, { file: "m.ts", name, args: [] })),
    );
    pool.stop();
    expect(kinds && valueIn(kinds)).toEqual([
      { "~map": [[1, "a"]] },
      { "~set": [1] },
      { "~time": "1970-01-01T00:00:00.000Z" },
      { "~bytes": "AA==" },
      { "~opaque": expect.any(String) },
      { "~esc": { "~x": 1 } },
      { "~obj": "Fare", fields: { total: 3 } },
      { price: 4 },
      { "~opaque": "<Symbol(s)>" },
      { "~obj": "RangeError", fields: { message: "r" } },
      { "~opaque": "<Promise>" },
    ]);
    expect(numbers && valueIn(numbers)).toEqual([
      2,
      2.5,
      { "~int": (2n ** 70n).toString() },
      { "~num": "NaN" },
      { "~num": "-Infinity" },
      { "~num": "-0" },
      true,
      null,
      { "~none": "undefined" },
    ]);
    expect(main && valueIn(main)).toBe("default");
    expect(stream && valueIn(stream)).toEqual([1, 2]);
  });
});

describe("the Node.js loader", () => {
  const run = async (files: Record<string, string>, requests: { file: string; name: string; args?: Json[] }[]) => {
    const pool = await poolFor("javascript", temporaryFolder(files));
    const answers = await Promise.all(requests.map((request) => askPool(pool, { args: [], ...request })));
    pool.stop();
    return answers.map(valueIn);
  };

  it("reads CommonJS, ES modules, TSX and JSON that use each other", async () => {
    const files = {
      "package.json": '{"type":"module"}',
      "a.cjs": "let n = 0; module.exports = { next() { return [++n, this.own()]; }, own: () => 'own' };",
      "b.mjs":
        "import a from './a.cjs'; import data from './d.json'; export const go = () => [...a.next(), data.x]; export * from './c.tsx';",
      "c.tsx": "enum E { A = 3 }\nexport const deep = (): number => E.A;",
      "d.json": '{"x": 5}',
    };
    expect(
      await run(files, [
        { file: "b.mjs", name: "go" },
        { file: "b.mjs", name: "go" },
        { file: "b.mjs", name: "deep" },
        { file: "a.cjs", name: "next" },
      ]),
    ).toEqual([[1, "own", 5], [1, "own", 5], 3, [1, "own"]]);
  });

  it("takes a function or class that is the module itself, by its name or as the default", async () => {
    const files = {
      "f.js": "module.exports = function slug(text) { return text.toLowerCase(); };",
      "e.js": "export default { trim: (text) => text.trim() };",
    };
    expect(
      await run(files, [
        { file: "f.js", name: "default", args: ["A"] },
        { file: "f.js", name: "slug", args: ["B"] },
        { file: "e.js", name: "trim", args: [" c "] },
      ]),
    ).toEqual(["a", "b", "c"]);
  });

  it("tells why a module would not load", async () => {
    const [answer] = await run({ "bad.js": "throw new TypeError('at load');" }, [{ file: "bad.js", name: "f" }]);
    expect(answer).toMatch(/would-not-load.*TypeError: at load/);
  });
});

describe("the Python loader", () => {
  it("loads packages with relative imports, and what __init__ passes on", async () => {
    const files = {
      "lib/pack/__init__.py": "from .inner import double\n",
      "lib/pack/inner.py": "from . import numbers_\ndef double(): return numbers_.N * 2\n",
      "lib/pack/numbers_.py": "N = 21\n",
      "tools/alone.py": "import helper\ndef go(): return helper.h()\n",
      "tools/helper.py": "def h(): return 'helped'\n",
    };
    const pool = await poolFor("python", temporaryFolder(files));
    const answers = await Promise.all([
      askPool(pool, { file: "lib/pack/__init__.py", name: "double", args: [] }),
      askPool(pool, { file: "lib/pack/inner.py", name: "double", args: [] }),
      askPool(pool, { file: "tools/alone.py", name: "go", args: [] }),
    ]);
    pool.stop();
    expect(answers.map(valueIn)).toEqual([42, 42, "helped"]);
  });

  it("notices every kind of state that a case can leave behind", async () => {
    const source = `
import functools, itertools
TOTAL = 0
LOG = []
NEXT = itertools.count()
class Box:
    shared = {}
    def __init__(self): self.n = 0
BOX = Box()
def by_global():
    global TOTAL
    TOTAL += 1
    return TOTAL
def by_list(): LOG.append(1); return len(LOG)
def by_default(seen=[]): seen.append(1); return len(seen)
def by_attribute(): by_attribute.n = getattr(by_attribute, "n", 0) + 1; return by_attribute.n
def by_class(): Box.shared["x"] = Box.shared.get("x", 0) + 1; return Box.shared["x"]
def by_instance(): BOX.n += 1; return BOX.n
def by_iterator(): return next(NEXT)
@functools.lru_cache(None)
def cached(): return []
def by_cache(): cached().append(1); return len(cached())
def counter():
    n = 0
    def bump():
        nonlocal n
        n += 1
        return n
    return bump
by_closure = counter()
`;
    const pool = await poolFor("python", temporaryFolder({ "m.py": source }));
    const names = ["global", "list", "default", "attribute", "class", "instance", "cache", "closure", "iterator"];
    const answers = await Promise.all(
      names.flatMap((name) => [1, 2, 3].map(() => askPool(pool, { file: "m.py", name: `by_${name}`, args: [] }))),
    );
    pool.stop();
    expect(answers.map(valueIn)).toEqual([...new Array(24).fill(1), 0, 0, 0]);
  });
});
