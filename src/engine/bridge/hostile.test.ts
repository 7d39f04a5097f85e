/** Ported code that writes to the driver's pipes or replaces built-ins: its own case pays, no other one does. */
import { describe, expect, it } from "vitest";
import type { BridgeRequest, PoolAnswer } from "@/engine/bridge/pool";
import { Seal } from "@/engine/bridge/seal";
import { askPool, poolFor } from "@/testing/driver-pool";
import { temporaryFolder } from "@/testing/temporary-port";

const outcomeOf = ({ result }: PoolAnswer): unknown =>
  result.kind === "call" ? (result.thrown ? result.thrown.kind : result.value) : result.kind;

/** The answers to `act(WORD)` for each word, in order, all asked at once. */
async function answers(
  language: "javascript" | "python",
  source: string,
  words: readonly string[],
): Promise<unknown[]> {
  const file = language === "python" ? "m.py" : "m.cjs";
  const pool = await poolFor(language, temporaryFolder({ [file]: source }));
  try {
    const request = (word: string): BridgeRequest => ({ op: "call", file, name: "act", args: [word] });
    return (await Promise.all(words.map((word) => askPool(pool, request(word))))).map(outcomeOf);
  } finally {
    pool.stop();
  }
}

const GOOD = { numbers: [1, 2, 3], text: "a,b", sorted: [1, 2, 10] };
/** Three good cases around each fault. */
const around = (faults: readonly string[]): string[] => ["good", ...faults.flatMap((fault) => [fault, "good", "good"])];

/** Each good case has its right answer. */
function expectGood(words: readonly string[], found: readonly unknown[]): void {
  const answered = words.flatMap((word, index) => (word === "good" ? [found[index]] : []));
  expect(answered.length).toBeGreaterThan(0);
  for (const answer of answered) expect(answer).toEqual(GOOD);
}

describe("a line that the driver did not write", () => {
  const forged = '{\\"id\\":5,\\"ms\\":0.1,\\"value\\":\\"forged\\",\\"args\\":[],\\"printed\\":\\"\\"}\\n';
  const lines: Readonly<Record<string, string>> = {
    forged,
    nothing: "null\\n",
    half: '{\\"id\\":1,',
    garbage: "garbage\\n",
    notation: '{\\"id\\":5,\\"ms\\":0.1,\\"value\\":{\\"~ref\\":\\"x\\"}}\\n',
  };

  it.each(Object.entries(lines))("breaks its own case: %s", async (_name, line) => {
    const node = `const fs = require("node:fs");
exports.act = (word) => { if (word === "bad") fs.writeSync(4, "${line}"); return word; };`;
    expect(await answers("javascript", node, ["a", "b", "bad", "c", "d"])).toEqual(["a", "b", "broken", "c", "d"]);
    const python = `import os
def act(word):
    if word == "bad":
        for fd in range(3, 100):
            try: os.write(fd, b"${line}")
            except OSError: pass
    return word
`;
    expect(await answers("python", python, ["a", "b", "bad", "c", "d"])).toEqual(["a", "b", "broken", "c", "d"]);
  });

  it("is no answer even where every case forges the right one", async () => {
    const source = `const fs = require("node:fs");
let id = 0;
exports.act = (word) => { fs.writeSync(4, JSON.stringify({ id: id++, ms: 0.1, value: word, args: [word], printed: "" }) + "\\n"); return "wrong"; };`;
    expect(await answers("javascript", source, ["a", "b", "c"])).toEqual(["broken", "broken", "broken"]);
  });

  it("is not helped by the seal of another reply", () => {
    const [one, other] = [new Seal(), new Seal()];
    expect(one.secret).not.toBe(other.secret);
    expect(one.endIn('{"id":5,"tag":"00000000","value":1}', 5)).toBe(-1);
    expect(one.endIn('{"id":5,"value":1}', 5)).toBe(-1);
  });
});

describe("built-ins that a case replaced", () => {
  const NODE_FAULTS: Readonly<Record<string, string>> = {
    map: "Array.prototype.map = () => [7]",
    filter: "Array.prototype.filter = () => []",
    join: "Array.prototype.join = () => 'x'",
    indexOf: "Array.prototype.indexOf = () => 0",
    iterator: "Array.prototype[Symbol.iterator] = function* () { yield 9; }",
    from: "Array.from = () => [7]",
    keys: "Object.keys = () => []",
    hasOwn: "Object.hasOwn = () => true",
    get: "Map.prototype.get = () => undefined",
    apply: "Reflect.apply = () => 7",
    toJSON: "Object.prototype.toJSON = () => 7",
    broken: "Object.prototype.broken = { why: 'crashed', what: 'no' }",
    next: "Object.prototype.next = () => ({ done: true })",
    ms: "Object.defineProperty(Object.prototype, 'ms', { get: () => 7, configurable: true })",
    isNaN: "Number.isNaN = () => true",
    stringify: "JSON.stringify = () => '7'",
    parse: "JSON.parse = () => 7",
    round: "Math.round = () => { throw new Error('no'); }",
    slice: "String.prototype.slice = () => ''",
    split: "String.prototype.split = () => []",
    now: "performance.now = () => { throw new Error('no'); }",
    size: "Object.defineProperty(Map.prototype, 'size', { get: () => 7, configurable: true })",
    global: "globalThis.Array = class {}",
    prototype: "Object.setPrototypeOf(Array.prototype, { map: 1 })",
    writeSync: "require('node:fs').writeSync = () => 0",
  };

  it("spoil no answer of another case on Node.js", async () => {
    const faults = Object.entries(NODE_FAULTS).map(
      ([name, act]) => `if (word === "${name}") { ${act}; return "did"; }`,
    );
    const source = `exports.act = (word) => { ${faults.join("\n")}
  return { numbers: [1, 2, 3].map((n) => n), text: ["a", "b"].join(), sorted: [10, 2, 1].sort((a, b) => a - b) }; };`;
    const words = around(Object.keys(NODE_FAULTS));
    const found = await answers("javascript", source, words);
    expectGood(words, found);
    // What could be put back before its answer was written down leaves that answer right as well.
    expect(found.filter((answer) => answer === "did").length).toBeGreaterThan(20);
  });

  const PYTHON_FAULTS: Readonly<Record<string, string>> = {
    sorted: "builtins.sorted = lambda *a, **k: [7]",
    sum: "builtins.sum = lambda *a: 7",
    max: "builtins.max = lambda *a: 7",
    len: "builtins.len = lambda a: 7",
    type: "builtins.type = lambda a: int",
    gone: "del builtins.isinstance",
    added: "builtins.extra = 1",
    counter: "time.perf_counter = lambda: 'x'",
    dumps: "json.dumps = lambda *a: 7",
    write: "os.write = lambda fd, data: len(data)",
    encode: "[vars(m).__setitem__('encode', lambda *a: 7) for n, m in list(sys.modules.items()) if n == 'notation']",
    number: "ctypes.c_int.from_address(id(2) + 24).value = 3",
  };

  it("spoil no answer of another case in Python", async () => {
    const faults = Object.entries(PYTHON_FAULTS).map(
      ([name, act]) => `    if word == "${name}":\n        ${act}\n        return "did"`,
    );
    const source = `import builtins, ctypes, json, os, sys, time\ndef act(word):\n${faults.join("\n")}
    return {"numbers": [n for n in (1, 2, 3)], "text": ",".join(["a", "b"]), "sorted": sorted([10, 2, 1])}\n`;
    const words = around(Object.keys(PYTHON_FAULTS));
    const found = await answers("python", source, words);
    expectGood(words, found);
  });

  it("stay as a module left them when it was loaded, for its own cases", async () => {
    const folder = temporaryFolder({
      "own.cjs": "String.prototype.shout = function () { return this + '!'; };\nexports.act = (word) => word.shout();",
      "other.cjs": "exports.act = (word) => typeof word.shout;",
    });
    const pool = await poolFor("javascript", folder);
    const request = (file: string) => ({ op: "call", file, name: "act", args: ["a"] });
    const files = ["own.cjs", "own.cjs", "other.cjs", "own.cjs", "other.cjs", "other.cjs"];
    const found = await Promise.all(files.map((file) => askPool(pool, request(file))));
    pool.stop();
    expect(found.map(outcomeOf)).toEqual(["a!", "a!", "undefined", "a!", "undefined", "undefined"]);
  });
});

describe("classes that extend built-in ones", () => {
  it.each(["Map", "Set", "Date", "RegExp", "Array", "Error", "Promise"])(
    "run at the top of a module: %s",
    async (base) => {
      const source = `class C extends ${base} { label() { return 1; } }\nexports.C = C;\nexports.act = (word) => word;`;
      expect(await answers("javascript", source, ["a", "b", "c"])).toEqual(["a", "b", "c"]);
    },
  );

  it("have their instances watched for what a case leaves in them", async () => {
    const source = `class Bag extends Map { }
const bag = new Bag([["a", 1]]);
exports.act = (word) => { if (word === "put") bag.set("b", 2); return bag.size; };`;
    expect(await answers("javascript", source, ["look", "look", "put", "look", "look"])).toEqual([1, 1, 2, 1, 1]);
  });

  it("are written down by what they are, whatever they call themselves", async () => {
    const source = `class Odd extends Date { toISOString() { return { "~evil": 1 }; } }
exports.act = (word) => word === "date" ? new Odd(0) : Object.create({ constructor: { name: {} } });`;
    expect(await answers("javascript", source, ["date", "name"])).toEqual([
      { "~time": "1970-01-01T00:00:00.000Z" },
      { "~obj": "Object", fields: {} },
    ]);
  });
});

it("the drivers' own modules are not among those that ported code finds", async () => {
  const source = `import sys\ndef act(word):\n    try:\n        __import__(word)\n        return "found"\n    except ImportError:\n        return "none"\n`;
  expect(await answers("python", source, ["notation", "guard", "built_ins"])).toEqual(["none", "none", "none"]);
});
