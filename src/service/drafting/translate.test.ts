/** Runs drafts from Python into JavaScript and TypeScript beside the original: translated parts agree, others throw. */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import type { Report } from "@/core/formats/report";
import { runCheck } from "@/service/check/run-check";
import { type DraftEnd, draftModule } from "@/service/drafting/draft";
import { openPort, readCases } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const ORIGINAL = `"""Sluices and what they let through."""
import math
import random
from .water import depth_of

LIMITS = {"spring": 3, "neap": 2}
NAMES = [("a", 1), ("b", 2)]


class SluiceError(ValueError):
    pass


def flow_rate(width: float, level, factor=2):
    # A weir of that width.
    if level < 0:
        raise SluiceError("no level below zero")
    elif level == 0:
        return 0
    return width * level // factor


def parts(total, count):
    each, rest = divmod(total, count)
    return [each + 1] * rest + [each] * (count - rest)


def shifted(n, by):
    return n % by


def halves(n):
    return round(n / 2)


def label(name: str, level: int):
    """A line of a board."""
    marks = "=" * level
    return "%s|%03d|%s" % (name.strip().upper(), level, marks)


def spelled(words):
    out = []
    for word in words:
        if not word:
            continue
        out.append(word.replace("a", "$&"))
    return ", ".join(sorted(out))


def named(name: str):
    return f"{name}: \\"{{x}}\\" \`$"


def last_of(items):
    return items[-1]


def limit_of(tide: str):
    return LIMITS[tide]


def found(tide: str):
    return LIMITS.get(tide, 0)


def letters(text: str):
    return [len(text), text[1:3], text[0], "x" in text]


def pairs():
    total = 0
    for name, value in NAMES:
        total += value * len(name)
    return total


def many(values):
    return [v * 2 for v in values if v > 1], sum(v for v in values), any(v > 3 for v in values), max(1, len(values))


def counted(words):
    made = {}
    for index in range(1, 3):
        made["at_most"] = index
    return made


def written(n):
    total = 0
    while n > 0:
        total += n / 2
        n -= 1
    return str(total)


def lucky():
    return random.random()


def deep(place):
    return depth_of(place)


def default(new=None):
    return new is None


def spans(index, count):
    return [index * n for n in range(index, index + count)]


def wholes(a, b):
    return [a // b, a % b]


def face():
    return "\\U0001F600"


def shown(n: int):
    return f"{n=}"


def gathered(n: int, into=[]):
    into.append(n)
    return into


def nothing_or(n: int):
    if n > 0:
        return 1


def after_nothing(n: int):
    return nothing_or(n) + 1


def divide(a: int, b: int):
    if b == 0:
        return 0
    else:
        return a / b


def halved(a: int, b: int):
    return divide(a, b) / b


def in_order(prices: dict):
    return [key for key in prices]


def taken(prices):
    made = {}
    for key, value in prices.items():
        made[key] = value + 1
    return made, prices.get("a", 7)


def values_of(held: dict[str, int]):
    return [value for value in held.values()]


def same(yes: bool, n: int):
    return yes == n


class Meter:
    def __init__(self):
        self.total = 0

    def read(self):
        return self.total

    def told(self):
        return f"{self.read()}"

    def add(self, n: float):
        self.total += n
        self.total = self.total + n


class Gate:
    """Opens and shuts."""

    def __init__(self, wide: int):
        self.wide = wide
        self.moves = 0

    def open(self, by: int):
        self.moves += 1
        self.wide += by
        return self.wide

    @property
    def is_open(self):
        return self.wide > 0

    def state(self):
        return "open" if self.is_open else "shut"
`;
const call = (name: string, ...args: unknown[]) => ({
  id: `${name}-${JSON.stringify(args)}`,
  module: "sluice",
  call: name,
  args,
});
const CASES = [
  ...[
    [2.5, 3],
    [2.5, 0],
    [1, -1],
    [3, 7, 0],
    [-3, 7, 2],
  ].map((args) => call("flow_rate", ...args)),
  ...[
    [7, 3],
    [9, 3],
    [2, 3],
  ].map((args) => call("parts", ...args)),
  ...[
    [7, 3],
    [-7, 3],
    [7, -3],
    [-6, 3],
    [1, 0],
    [-0.5, 2],
  ].map((args) => call("shifted", ...args)),
  ...[1, 3, 5, 4, -1, -3, 0].map((n) => call("halves", n)),
  ...[
    ["ab", 3],
    ["$&", 1200],
    ["x", -4],
  ].map((args) => call("label", ...args)),
  call("spelled", ["banana", "", "$", "\u{1f600}", "\uffff", "B"]),
  call("named", "q"),
  ...[[1, 2], []].map((items) => call("last_of", items)),
  ...["spring", "none"].flatMap((tide) => [call("limit_of", tide), call("found", tide)]),
  ...["a\u{1f600}bcx", ""].map((text) => call("letters", text)),
  call("pairs"),
  ...[[1, 2, 5], []].map((values) => call("many", values)),
  call("counted", []),
  call("written", 3),
  call("deep", "lock"),
  call("default"),
  call("default", 3),
  call("spans", 2, 3),
  ...[
    [1, 0.1],
    [7, 2],
    [-7, 2],
    [7.5, -2],
    [1, 0],
    [1.5, 0],
  ].map((args) => call("wholes", ...args)),
  call("face"),
  call("shown", 3),
  ...[1, 2].map((n) => call("gathered", n)),
  ...[1, 0].flatMap((n) => [call("nothing_or", n), call("after_nothing", n)]),
  ...[
    [3, 2],
    [3, 0],
  ].flatMap((args) => [call("divide", ...args), call("halved", ...args)]),
  call("in_order", { b: 1, a: 2 }),
  call("in_order", { "10": 1, "2": 2 }),
  call("taken", { b: 1, a: 2 }),
  call("taken", {}),
  call("values_of", { b: 1, a: 2 }),
  call("same", true, 1),
  {
    id: "meter",
    module: "sluice",
    steps: [
      { new: "Meter", as: "meter" },
      { call: "told", on: "meter" },
      { call: "add", on: "meter", args: [0.5] },
      { call: "read", on: "meter" },
    ],
  },
  {
    id: "gate",
    module: "sluice",
    steps: [
      { new: "Gate", args: [0], as: "gate" },
      { call: "state", on: "gate" },
      { call: "open", on: "gate", args: [2] },
      { call: "state", on: "gate" },
    ],
  },
];

describe.each(["typescript", "javascript"])("a draft in %s", (language) => {
  const ending = language === "typescript" ? "ts" : "js";
  let folder = "";
  let end: DraftEnd;
  let report: Report;
  beforeAll(async () => {
    folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: "python" },
        twins: [{ name: "t", root: "twin", language }],
        moduleMap: [{ original: "river/*.py", twin: `src/*.${ending}` }],
        names: { functions: "snake-to-camel", keys: "snake-to-camel" },
        cases: ["cases/*.jsonl"],
      }),
      "original/river/__init__.py": "",
      "original/river/sluice.py": ORIGINAL,
      "original/river/water.py": "DEPTHS = {'lock': 4}\n\n\ndef depth_of(place: str):\n    return DEPTHS[place]\n",
      "twin/package.json": { type: "module" },
      "cases/c.jsonl": CASES,
    });
    const data = path.join(folder, ".data");
    await draftModule(folder, { module: "water", data });
    end = await draftModule(folder, { module: "sluice", data });
    const open = await openPort(folder);
    report = (await runCheck(open, await readCases(open), { answersFolder: path.join(folder, ".answers") })).report;
  });
  const text = () => readFileSync(path.join(folder, `twin/src/sluice.${ending}`), "utf8");

  it("answers as the original does, or throws that it is not ported", () => {
    // What JavaScript has otherwise: how floats are written, defaults that are shared, True that equals 1, keys that are numbers.
    const notPorted = ["written", "face", "shown", "gathered", "after_nothing", "in_order", "same", "meter"];
    const differing = report.cases.filter(({ outcome }) => outcome !== "agree");
    for (const item of differing) expect(JSON.stringify(item)).toContain("not ported: ");
    expect(new Set(differing.map(({ id }) => id.split("-")[0]))).toEqual(new Set(notPorted));
  });

  it("names every line that it did not say", () => {
    const [file] = end.files;
    expect(file?.file).toBe(`src/sluice.${ending}`);
    const states = new Map(file?.sections.map(({ original, state, unsaid }) => [original, { state, unsaid }]));
    expect(states.get("flow_rate")).toEqual({ state: "drafted", unsaid: [] });
    expect(states.get("Gate.is_open")?.state).toBe("drafted");
    expect(states.get("lucky")).toMatchObject({ state: "partly", unsaid: [{ text: "return random.random()" }] });
    expect(states.get("written")?.unsaid).toMatchObject([
      { text: "return str(total)", why: "str of this has no sure counterpart" },
    ]);
    expect(file?.unsaid).toEqual([]);
  });

  it("reads like the original: comments, docstrings, spelled names", () => {
    expect(text()).toContain("/** A line of a board. */");
    expect(text()).toContain("// A weir of that width.");
    expect(text()).toContain(
      language === "typescript"
        ? "export function flowRate(width: number, level: number"
        : "export function flowRate(width, level",
    );
    expect(text()).toContain('notPorted("random.random()"); // line ');
    expect(text()).toMatch(/import \{ depthOf \} from "\.\/water(\.js)?";/);
    expect(text()).not.toContain("splitWords");
  });

  it("guesses nothing of an original that does not parse or cannot be read", async () => {
    const other = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "t", root: "twin", language }] }),
      "original/broken.py": "def f(:\n    pass\n\n\ndef g():\n    return 1\n",
    });
    writeFileSync(path.join(other, "original/latin.py"), Buffer.from('def k():\n    return "\xe9"\n', "latin1"));
    const data = path.join(other, ".data");
    const { files, snapshot } = await draftModule(other, { module: "broken", data });
    expect(snapshot).toBeNull();
    for (const { state, unsaid } of files[0]?.sections ?? [])
      expect({ state, unsaid }).toMatchObject({
        state: "left",
        unsaid: [{ why: "line 1 of the original does not parse" }],
      });
    expect(files[0]?.sections.length).toBeGreaterThan(0);
    await expect(draftModule(other, { module: "latin", data })).rejects.toThrow(/latin\.py/);
  });

  it("leaves a hooked section to a person, and drafts one section into the file that is there", async () => {
    const port = JSON.parse(readFileSync(path.join(folder, "side-twin.json"), "utf8"));
    const other = temporaryFolder({
      "side-twin.json": {
        ...port,
        hookups: [{ original: "sluice.parts", twin: "sluice.parts", args: [{ total: "$1", count: "$2" }] }],
      },
      "original/river/sluice.py": ORIGINAL,
      "cases/c.jsonl": CASES.slice(0, 4),
      [`twin/src/sluice.${ending}`]: "export const mine = 1;\n",
    });
    const { files } = await draftModule(other, {
      module: "sluice",
      sections: ["parts", "shifted"],
      data: path.join(other, ".data"),
    });
    expect(files[0]?.sections.map(({ original, state }) => `${original} ${state}`)).toEqual([
      "parts partly",
      "shifted partly",
    ]);
    const made = readFileSync(path.join(other, `twin/src/sluice.${ending}`), "utf8");
    expect(made).toMatch(/^export const mine = 1;\n/);
    expect(made).toContain("function notPorted");
    expect(made).not.toContain("flowRate");
  });
});
