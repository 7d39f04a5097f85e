import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { chooseCases } from "@/core/exploring/choose";
import { featuresOf, isOfCode, isOfWrongKind, kindOf, passedFeatures } from "@/core/exploring/features";
import { literalsOf } from "@/core/exploring/literals";
import { Random } from "@/core/exploring/random";
import { type Attempt, searchInputs } from "@/core/exploring/search";
import { readParameters } from "@/core/exploring/signature";
import { type TargetTerms, targetsOf } from "@/core/exploring/targets";
import { changeValue, makeOf, type Pool } from "@/core/exploring/values";
import type { CallCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Section } from "@/core/source/section";
import { fromNotation, toNotation } from "@/core/values/value";

const pool: Pool = {
  numbers: [17],
  texts: ["~obj", "~", "quay"],
  seen: [],
  byName: new Map(),
  learned: new Map(),
  classes: new Map([["Berth", [{ name: "metres", type: "int" }]]]),
  hasInts: true,
};
const names = (text: string, name: string) => readParameters(text, name)?.map((one) => one.name);

describe("parameters", () => {
  it("are read with types, defaults and how they are given, in both styles", () => {
    expect(readParameters('def fare(self, km: float, kind: str = "a,b", *, cut=(1, 2)):', "fare")).toEqual([
      { name: "km", type: "float", default: null, isNamed: false, isRest: false },
      { name: "kind", type: "str", default: '"a,b"', isNamed: false, isRest: false },
      { name: "cut", type: null, default: "(1, 2)", isNamed: true, isRest: false },
    ]);
    expect(
      readParameters("export function fare(km: number, kind?: string, ...rest: number[]): void {", "fare"),
    ).toEqual([
      { name: "km", type: "number", default: null, isNamed: false, isRest: false },
      { name: "kind", type: "string", default: "undefined", isNamed: false, isRest: false },
      { name: "rest", type: "number[]", default: null, isNamed: false, isRest: true },
    ]);
  });

  it("are found over several lines, in arrow functions and behind comments", () => {
    expect(names("def f(\n    a,  # first, of two\n    b,\n):\n", "f")).toEqual(["a", "b"]);
    expect(names("const f = (a, { b }) => a;", "f")?.[0]).toBe("a");
    expect(names("const f = a => a;", "f")).toEqual(["a"]);
    expect(readParameters("const f = 1;", "f")).toBeNull();
  });
});

describe("literals", () => {
  it("are the numbers and short texts of the code, without comments and docstrings", () => {
    const code = '"""Over 99."""\nif n > 1_440 or kind == "child":  # not 7\n    return 2.5\n';
    expect(literalsOf(code, [["#", ""]])).toEqual({ numbers: [1440, 2.5], texts: ["child"] });
  });

  it("are told from comments by the language: what divides in one begins a comment in another", () => {
    expect(literalsOf("a = n * 3 // 2  # 7\n", [["#", ""]]).numbers).toEqual([3, 2]);
    const braces = [
      ["//", ""],
      ["/*", "*/"],
    ] as const;
    expect(literalsOf("a = n * 3 // 2\n/* 5\n6 */ b = 4", braces).numbers).toEqual([3, 4]);
  });
});

describe("values to try", () => {
  it("are of the type that is written, in notation that can be read", () => {
    const types = [
      "int",
      "list[str]",
      "Optional[date]",
      "dict[str, int]",
      "{ a: number; b?: string }",
      "'x' | 'y'",
      "Berth",
      "tuple[int, str]",
      "Map<string, number>",
      "whatever",
    ];
    fc.assert(
      fc.property(fc.nat(), fc.constantFrom(...types), (seed, type) => {
        const value = makeOf(type, new Random(seed), pool);
        expect(() => toNotation(fromNotation(value))).not.toThrow();
        expect(() => fromNotation(changeValue(value, new Random(seed), pool))).not.toThrow();
      }),
    );
    const made = Array.from({ length: 40 }, (_, seed) => makeOf("'x' | 'y'", new Random(seed), pool));
    expect(new Set(made)).toEqual(new Set(["x", "y"]));
    expect(makeOf("Berth", new Random(1), pool)).toMatchObject({ "~obj": "Berth" });
  });

  it("come out the same for the same seed", () => {
    const run = () => Array.from({ length: 20 }, (_, seed) => makeOf("any", new Random(seed), pool));
    expect(run()).toEqual(run());
  });
});

describe("features", () => {
  const item: CallCase = { id: "c", module: "m", call: "f", args: [0, ""], kwargs: { k: null } };
  it("are the kinds of arguments and answer, the errors and the branches that were passed by", () => {
    const answer = { kind: "call" as const, value: [1], args: [], kwargs: {}, printed: "" };
    expect(featuresOf(item, answer)).toEqual([
      "kind m.f 0 int 0",
      "kind m.f 1 text empty",
      "kind m.f k none",
      "kind m.f answer list of int",
    ]);
    const thrown = { ...answer, thrown: { kind: "KeyError", message: "" } };
    expect(featuresOf(item, thrown).filter(isOfCode)).toEqual(["error m.f KeyError"]);
    expect(passedFeatures("a.py", [1, 2, 3, 5], [1, 3, 5])).toEqual(["passed a.py 1"]);
    expect(kindOf({ "~obj": "Fare", fields: {} })).toBe("object Fare");
  });

  it("tell errors of wrong kinds from those that the code throws itself", () => {
    const answer = {
      kind: "call" as const,
      thrown: { kind: "TypeError", message: "" },
      args: [],
      kwargs: {},
      printed: "",
    };
    expect(isOfWrongKind(answer, "x = 1")).toBe(true);
    expect(isOfWrongKind(answer, "raise TypeError('no')")).toBe(false);
  });
});

describe("choosing", () => {
  const explored = (call: string, value: Json, ...features: string[]) => ({
    item: { id: "x", module: "m", call, args: [value], kwargs: {} },
    features,
  });
  it("takes the sections in turn, and drops what later ones make needless", () => {
    const all = [explored("f", 1, "a"), explored("f", 22, "a", "b"), explored("g", 1, "c"), explored("g", 2, "c")];
    const chosen = chooseCases(all, new Set(["x"]), 10);
    expect(chosen.map(({ features }) => features)).toEqual([["c"], ["a", "b"]]);
    expect(chooseCases(all, new Set(["a", "b", "c"]), 10)).toEqual([]);
    expect(chooseCases(all, new Set(), 1)).toHaveLength(1);
  });
});

const SOURCE = `def gate(tide, name="low"):
    if tide == 4711:
        if name == "spring":
            return 3
        return 2
    return 1
`;
const terms = (): TargetTerms => ({
  comments: [["#", ""]],
  makers: ["__init__"],
  hasInts: true,
  hasNamed: true,
  elsewhere: { numbers: [], texts: [] },
  seen: [],
  learned: new Map(),
});
const targets = () =>
  targetsOf(
    {
      module: "m",
      lines: SOURCE.split("\n"),
      sections: [{ name: "gate", kind: "function", from: 1, to: 6, complexity: 3, params: ["tide", "name"] }],
    },
    [],
    terms(),
  );

it("parameters of a section without a name are read too", () => {
  const names = (text: string) => readParameters(text, "default")?.map(({ name }) => name);
  expect(names("module.exports = function (val, options) {\n  return parse(val);\n};")).toEqual(["val", "options"]);
  expect(names("export default function tide(height = 2) {}")).toEqual(["height"]);
  expect(names("export default async (a, { b }) => a;")).toEqual(["a", "{ b }"]);
  expect(names("module.exports = text => text;")).toEqual(["text"]);
  expect(names("export default 7;")).toBeUndefined();
});

describe("targets", () => {
  const section = (name: string, kind: Section["kind"], line: number): Section => ({
    name,
    kind,
    from: line,
    to: line,
    complexity: 1,
    params: [],
  });
  const of = (lines: readonly string[], ...sections: Section[]) =>
    targetsOf({ module: "m", lines, sections }, [], terms()).map(({ name }) => name);

  it("are functions, classes with what they hold, and functions that hang on others", () => {
    const lines = ["function parse(text) {}", "parse.fast = (text) => text;", "class Lock {", "open(n) {}", "}"];
    expect(
      of(
        lines,
        section("parse", "function", 1),
        section("parse.fast", "method", 2),
        section("Lock", "class", 3),
        section("Lock.open", "method", 4),
      ),
    ).toEqual(["parse", "parse.fast", "Lock"]);
    expect(of(["LIMIT = 3"], section("LIMIT", "constant", 1))).toEqual([]);
  });

  it("are made from literals of the code, unless they are to be plain", () => {
    const tides = (isPlain: boolean) => {
      const [gate] = targetsOf(
        { module: "m", lines: SOURCE.split("\n"), sections: [{ ...section("gate", "function", 1), to: 6 }] },
        [],
        { ...terms(), isPlain },
      );
      const random = new Random(3);
      return Array.from({ length: 400 }, () => gate?.make(random) as CallCase).map(({ args }) => args[0]); // a function
    };
    expect(tides(false)).toContain(4711);
    expect(tides(true)).not.toContain(4711);
  });
});

describe("the search", () => {
  const search = (seed: number, isOver = () => false) =>
    searchInputs(targets(), {
      random: new Random(seed),
      reached: new Set(),
      cases: [],
      seen: [],
      isOver,
      attempt: async (items) =>
        items.map((item): Attempt => {
          const { args, kwargs } = item as CallCase; // gate is a function
          const name = args[1] ?? kwargs.name ?? "low";
          const lines = args[0] !== 4711 ? [6] : name === "spring" ? [3, 4] : [3, 5];
          return { item, features: lines.map((line) => `line m ${line}`), refused: null, isSlow: false };
        }),
    });

  it("finds what the code compares with, step by step, and the same for a seed", async () => {
    const first = await search(1);
    const features = new Set(first.found.flatMap((entry) => entry.features));
    expect([...features].sort()).toEqual(["line m 3", "line m 4", "line m 5", "line m 6"]);
    expect((await search(1)).found).toEqual(first.found);
  });

  /** A search whose every input ends in the same way. */
  const refusing = (end: Omit<Attempt, "item" | "features">) =>
    searchInputs(targets(), {
      random: new Random(1),
      reached: new Set(),
      cases: [],
      seen: [],
      isOver: () => false,
      attempt: async (items) => items.map((item) => ({ item, features: [], ...end })),
    });

  it("stops when it is over, and gives up sections that only hang", async () => {
    expect((await search(1, () => true)).tried).toBe(0);
    const end = await refusing({ refused: "it hangs", isSlow: true });
    expect(end.givenUp).toEqual(["m.gate"]);
    expect(end.tried).toBeLessThan(10);
  });

  it("leaves a section alone that no input reaches", async () => {
    const end = await refusing({ refused: "it is inside", isSlow: false, isHopeless: true });
    expect(end.tried).toBeLessThan(10);
    expect(end.givenUp).toEqual([]);
    expect([...end.refused.keys()]).toEqual(["it is inside"]);
  });
});
