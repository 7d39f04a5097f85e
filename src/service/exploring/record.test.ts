/** Recording through the real interpreters: what is kept of a program's calls, and that the program notices nothing. */
import { spawnSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { type RecordOptions, recordCases } from "@/service/exploring/record";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const PYTHON = {
  "original/shed.py": `"""Sheds."""
from __future__ import annotations
from dataclasses import dataclass

COUNT = [0]


def area(width, depth=2, *, unit="m"):
    """In square metres."""
    if width < 0:
        raise ValueError("no such shed")
    return width * depth


def fill(rows, what):
    rows.append(what)
    return len(rows)


def each(rows, work):
    return [work(row) for row in rows]


def numbered(step):
    COUNT[0] += step
    return COUNT[0]


def spans(count):
    for number in range(count):
        yield number


async def later(count):
    return count + 1


class Rack:
    def __init__(self, rows=0):
        self.rows = rows

    def add(self, count):
        self.rows += self._checked(count)
        return self.rows

    def _checked(self, count):
        return max(count, 0)

    @property
    def is_full(self):
        return self.rows > 9

    @is_full.setter
    def is_full(self, value):
        self.rows = 10 if value else 0

    @staticmethod
    def half(count):
        return count / 2


@dataclass
class Plank:
    length: int

    def cut(self, count):
        return self.length // count
`,
  "original/run.py": `import asyncio, sys
import shed

for width in range(3):
    shed.area(width)
shed.area(4, 5, unit="ft")
try:
    shed.area(-1)
except ValueError as error:
    print(error, len(sys.exc_info()[2].tb_next.tb_frame.f_code.co_name))
rows = []
print(shed.fill(rows, "oak"), shed.fill(rows, "elm"), shed.each(rows, str.upper))
print(shed.numbered(1), shed.numbered(2), list(shed.spans(3)), asyncio.run(shed.later(1)))
rack = shed.Rack(4)
print(rack.add(3), rack.is_full, rack.add(-1), shed.Rack.half(3), shed.Plank(9).cut(2))
rack.is_full = True
sys.stderr.write("done\\n")
sys.exit(int(sys.argv[1]))
`,
};

const NODE = {
  "original/package.json": { type: "module" },
  "original/shed.js": `export function area(width, depth = 2) {
  if (width < 0) throw new RangeError("no such shed");
  return width * depth;
}
export const half = (count) => ({ half: count / 2 });
export const fill = (rows, what) => rows.push(what);
export async function later(count) { return count + 1; }
export function* spans(count) { for (let at = 0; at < count; at++) yield at; }
export function each(rows, work) { return rows.map(work); }
const hidden = (count) => count + 1;
export const seen = (count) => { return hidden(count); };
export class Rack {
  constructor(rows = 0) { this.rows = rows; }
  add(count) { this.rows += this.checked(count); return this.rows; }
  checked(count) { return Math.max(count, 0); }
  get isFull() { return this.rows > 9; }
  static of(rows) { return new Rack(rows); }
}
export class Bare { name(text) { return text + "!"; } }
`,
  "original/shed.test.js": `import test from "node:test";
import assert from "node:assert";
import { Worker } from "node:worker_threads";
import * as shed from "./shed.js";

test("sheds", async () => {
  assert.equal(shed.area(3), 6);
  assert.equal(shed.area(3, 4), 12);
  assert.throws(() => shed.area(-1), RangeError);
  const rows = [];
  shed.fill(rows, "oak");
  shed.fill(rows, "elm");
  assert.deepEqual(shed.each(rows, (row) => row.length), [3, 3]);
  assert.equal(await shed.later(1), 2);
  assert.deepEqual([...shed.spans(2)], [0, 1]);
  assert.equal(shed.seen(1), 2);
  const rack = new shed.Rack(4);
  assert.equal(rack.add(3), 7);
  assert.equal(rack.isFull, false);
  assert.equal(shed.Rack.of(9).add(2), 11);
  assert.equal(new shed.Bare().name("a"), "a!");
  assert.deepEqual(shed.half(3), { half: 1.5 });
});
test("elsewhere", () => new Promise((resolve) => {
  new Worker("import('" + new URL("./shed.js", import.meta.url) + "').then((shed) => shed.area(0, 0))", { eval: true }).once("exit", resolve);
}));
`,
};

const port = (language: "python" | "javascript", files: Readonly<Record<string, unknown>>) =>
  temporaryFolder({
    ...files,
    "side-twin.json": portFile({
      original: { root: "original", language, ignore: ["run.py", "*.test.js", "package.json"] },
      cases: ["cases/*.jsonl"],
    }),
  });
const record = async (folder: string, options: RecordOptions) => {
  const end = await recordCases(folder, options);
  const cases = readdirSync(path.join(folder, "cases")).flatMap((name) =>
    readFileSync(path.join(folder, "cases", name), "utf8")
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line)),
  );
  const plain = cases.map(({ id: _id, module: _module, from: _from, ...rest }) => rest);
  return { ...end, plain };
};
const why = (end: Awaited<ReturnType<typeof record>>, words: string) =>
  end.leftOut.find((entry) => entry.why.includes(words))?.count ?? 0;

describe("recording a Python program", () => {
  it("keeps arguments as they were before the call, objects as steps, and counts the rest by reason", async () => {
    const end = await record(port("python", PYTHON), { command: ["python3", "run.py", "0"], all: true });
    expect(end.plain).toEqual(
      expect.arrayContaining([
        { call: "area", args: [0] },
        { call: "area", args: [4, 5], kwargs: { unit: "ft" } },
        { call: "area", args: [-1] },
        { call: "fill", args: [[], "oak"] },
        { call: "fill", args: [["oak"], "elm"] },
        { call: "spans", args: [3] },
        { call: "later", args: [1] },
        { call: "Rack.half", args: [3] },
        {
          steps: [
            { new: "Rack", args: [4], as: "it" },
            { call: "add", on: "it", args: [3] },
            { get: "is_full", on: "it" },
            { call: "add", on: "it", args: [-1] },
            { set: "is_full", on: "it", value: true },
          ],
        },
        {
          steps: [
            { new: "Plank", kwargs: { length: 9 }, as: "it" },
            { call: "cut", on: "it", args: [2] },
          ],
        },
      ]),
    );
    expect(why(end, "a function is handed over")).toBe(1);
    expect(why(end, "state that calls before it left")).toBe(1);
    expect(end.lines).toMatchObject({ before: 0 });
    expect(end.lines.after).toBeGreaterThan(end.lines.of - 5);
  });

  it("changes neither what the program prints nor how it ends", async () => {
    const folder = port("python", PYTHON);
    const bare = spawnSync("python3", ["run.py", "3"], { cwd: path.join(folder, "original"), encoding: "utf8" });
    const { program } = await record(folder, { command: ["python3", "run.py", "3"] });
    expect(program.printed).toBe(bare.stdout + bare.stderr);
    expect(program.end).toBe("it ended with status 3");
    expect(readdirSync(path.join(folder, "original")).sort()).toEqual(["run.py", "shed.py"]);
  });

  it("keeps only what reaches something new, at most as many as asked for, where it is asked to", async () => {
    const folder = port("python", PYTHON);
    const first = await record(folder, { command: ["python3", "run.py", "0"], most: 4, into: "cases/mine.jsonl" });
    expect(first.kept).toBe(4);
    expect(new Set(first.cases).size).toBe(4);
    expect(readdirSync(path.join(folder, "cases"))).toEqual(["mine.jsonl"]);
    await record(folder, { command: ["python3", "run.py", "0"] });
    const third = await recordCases(folder, { command: ["python3", "run.py", "0"] });
    expect(third).toMatchObject({ kept: 0, cases: [] });
    expect(third.lines.before).toBe(third.lines.after);
  });

  it("records the tests of a suite and a busy function without writing all of it down", async () => {
    const folder = port("python", {
      "original/count.py": "def down(n):\n    return n if n < 2 else down(n - 1) + down(n - 2)\n",
      "original/test_count.py":
        "import unittest\nimport count\n\nclass T(unittest.TestCase):\n    def test_down(self):\n        self.assertEqual(count.down(20), 6765)\n",
    });
    const end = await record(folder, { command: ["python3", "-m", "unittest"], modules: ["count"] });
    expect(end.seen).toBe(21_891);
    expect(end.plain).toContainEqual({ call: "down", args: [0] });
    expect(end.kept).toBeLessThan(6);
  });

  it("names a program that made no call, a module that is not there and a file that is not read", async () => {
    const folder = port("python", PYTHON);
    const run = (options: Partial<RecordOptions>) =>
      recordCases(folder, { command: ["python3", "run.py", "0"], ...options });
    await expect(run({ command: ["python3", "-c", "print(1)"] })).rejects.toThrow(/made no call into the modules/);
    await expect(run({ modules: ["barn"] })).rejects.toThrow(/no module "barn"/);
    await expect(run({ into: "other.txt" })).rejects.toThrow(/not among the port's case files/);
  });
});

describe("recording a Node.js program", () => {
  it("sees the tests of a runner that starts processes and threads of its own", async () => {
    const end = await record(port("javascript", NODE), { command: ["node", "--test"], all: true });
    expect(end.plain).toEqual(
      expect.arrayContaining([
        { call: "area", args: [3] },
        { call: "area", args: [3, 4] },
        { call: "area", args: [-1] },
        { call: "area", args: [0, 0] },
        { call: "half", args: [3] },
        { call: "fill", args: [[], "oak"] },
        { call: "fill", args: [["oak"], "elm"] },
        { call: "later", args: [1] },
        { call: "spans", args: [2] },
        { call: "Rack.of", args: [9] },
        {
          steps: [
            { new: "Rack", args: [4], as: "it" },
            { call: "add", on: "it", args: [3] },
            { get: "isFull", on: "it" },
          ],
        },
        {
          steps: [
            { new: "Bare", as: "it" },
            { call: "name", on: "it", args: ["a"] },
          ],
        },
      ]),
    );
    expect(why(end, "a function is handed over")).toBe(1);
    expect(why(end, "cannot be called from outside its module")).toBe(1);
    expect(end.program.end).toBe("it ended with status 0");
    expect(end.lines.after).toBe(end.lines.of);
  });
});
