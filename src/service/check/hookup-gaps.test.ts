/** Arguments that a case leaves out before others, through a hookup, into each language that has a driver (formats, section 16). */
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const hookups = [
  { original: "m.fare", twin: "m.fare", args: ["$1", "$zone", "$child"] },
  { original: "m.Desk", twin: "m.Desk", args: ["$name", "$size"] },
];
const cases = [
  { id: "all", module: "m", call: "fare", args: [5], kwargs: { zone: 2, child: true } },
  { id: "gap", module: "m", call: "fare", args: [5], kwargs: { child: true } },
  { id: "end", module: "m", call: "fare", args: [5], kwargs: { zone: 2 } },
  {
    id: "new",
    module: "m",
    steps: [
      { new: "Desk", kwargs: { size: 7 }, as: "d" },
      { get: "label", on: "d" },
    ],
  },
];
const PYTHON = `def fare(n, zone=1, child=False):
    return [n * zone, child]
class Desk:
    def __init__(self, name="tern", size=1):
        self.label = "%s %d" % (name, size)
`;

describe("an argument that the case leaves out before a given one", () => {
  it("has the twin's own default in JavaScript", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "js", root: "twin", language: "javascript" }], hookups }),
      "original/m.py": PYTHON,
      "twin/m.mjs": `export const fare = (n, zone = 1, child = false) => [n * zone, child];
export class Desk { constructor(name = "tern", size = 1) { this.label = name + " " + size; } }`,
      "cases/c.jsonl": cases,
    });
    const { report } = await runCheckOfFile(folder, {});
    expect(report.totals).toMatchObject({ agree: 4 });
  });

  it("has the twin's own default in Python, what follows being passed by name", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "py", root: "twin", language: "python" }], hookups }),
      "original/m.py": PYTHON,
      "twin/m.py": PYTHON,
      "cases/c.jsonl": cases,
    });
    expect((await runCheckOfFile(folder, {})).report.totals).toMatchObject({ agree: 4 });
  });

  it("is an error that names the hookup where nothing can be passed by name", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "py", root: "twin", language: "python" }], hookups }),
      "original/m.py": PYTHON,
      "twin/m.py": "def fare(n, zone=1, child=False, /):\n    return [n * zone, child]\n",
      "cases/c.jsonl": cases.slice(0, 3),
    });
    const { report } = await runCheckOfFile(folder, {});
    expect(report.cases.map(({ id, outcome }) => [id, outcome])).toEqual([
      ["all", "agree"],
      ["gap", "broken"],
      ["end", "agree"],
    ]);
    expect(report.cases[1]?.why).toContain("the hookup of m.fare leaves argument 2 out");
  });
});

describe("a key that holds nothing", () => {
  it("is the same holding null on one side and undefined on the other, and is no key that is not there", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "js", root: "twin", language: "javascript" }] }),
      "original/m.py": "def f(n):\n    return [{'a': None}, {'a': None, 'b': 1}, {'c': 1}, {}][n]\n",
      "twin/m.mjs": "export const f = (n) => [{ a: undefined }, { b: 1 }, { c: undefined }, { d: undefined }][n];",
      "cases/c.jsonl": [0, 1, 2, 3].map((n) => ({ id: `f${n}`, module: "m", call: "f", args: [n] })),
    });
    const { report } = await runCheckOfFile(folder, {});
    expect(
      report.cases.map(({ outcome, divergences }) => [outcome, ...divergences.map(({ at, kind }) => `${at} ${kind}`)]),
    ).toEqual([["agree"], ["differ", "value.a missing"], ["differ", "value.c missing"], ["agree"]]);
  });
});
