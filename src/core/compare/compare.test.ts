import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { allowancesFor } from "@/core/allowances/allowances";
import type { CallAnswer } from "@/core/compare/answer";
import { compareAnswers } from "@/core/compare/compare";
import { ComparisonState } from "@/core/compare/comparison-state";
import { sameNotation } from "@/core/compare/same-notation";
import { compareValues } from "@/core/compare/values";
import type { Allow } from "@/core/formats/allowance";
import type { Json } from "@/core/formats/json";
import { canonicalText } from "@/core/values/canonical";
import { DEFAULT_EQUALITY, type Equality, withDefaults } from "@/core/values/equality";
import { fromNotation, toNotation } from "@/core/values/value";
import { arbitraryValue } from "@/testing/values";

const call = (value: Json, rest: Partial<CallAnswer> = {}): CallAnswer => ({
  kind: "call",
  value,
  args: [],
  kwargs: {},
  printed: "",
  ...rest,
});
const thrown = (kind: string, message: string, rest: Partial<CallAnswer> = {}): CallAnswer => ({
  kind: "call",
  thrown: { kind, message },
  args: [],
  kwargs: {},
  printed: "",
  ...rest,
});

function compare(
  original: CallAnswer,
  twin: CallAnswer,
  options: { equality?: Partial<Equality>; allow?: Allow; at?: string } = {},
) {
  const allowances = options.allow
    ? allowancesFor(
        [{ id: "a1", where: options.at ? { at: options.at } : {}, allow: options.allow, reason: "a test" }],
        { id: "c", module: "m", call: "f", twin: "ts" },
      )
    : [];
  return compareAnswers(original, twin, { equality: withDefaults(options.equality ?? {}), allowances });
}

const outcome = (one: Json, other: Json, options: Parameters<typeof compare>[2] = {}) =>
  compare(call(one), call(other), options).outcome;

describe("the default equality", () => {
  // Each row: a value, another, whether they agree by default, and the option that turns an agreement into a difference.
  it.each<[Json, Json, boolean, Partial<Equality>?]>([
    [2, { "~float": "2.0" }, true, { intFloat: "strict" }],
    [{ "~dec": "12.50" }, 12.5, true, { decimal: "strict" }],
    [{ "~dec": "0.10" }, 0.1, true],
    [{ "~dec": "3" }, 3, true, { decimal: "strict" }],
    [{ "~int": "9007199254740993" }, { "~float": "9007199254740992.0" }, false],
    [{ "~tuple": [1, 2] }, [1, 2], true, { tupleList: "strict" }],
    [{ "~obj": "P", fields: { x: 1 }, items: [1] }, [1], true],
    [{ "~obj": "P", fields: { x: 1 }, items: [1] }, { x: 1 }, true],
    [null, { "~none": "undefined" }, true, { nullKinds: "strict" }],
    [{ a: { "~none": "undefined" } }, {}, true],
    [{ a: null }, {}, false],
    [{ "~obj": "Fare", fields: { a: 1 } }, { "~obj": "Ticket", fields: { a: 1 } }, true, { classNames: "strict" }],
    [{ "~obj": "Fare", fields: { a: 1 } }, { a: 1 }, true],
    [{ "~map": [[1, "x"]] }, { "1": "x" }, true, { mapKeysAsText: "strict" }],
    [{ a: 1, b: 2 }, { b: 2, a: 1 }, true, { keyOrder: "strict" }],
    [{ "~set": [1, 2] }, { "~set": [2, 1] }, true],
    [{ "~set": [1, 2] }, [1, 2], false],
    [{ "~num": "NaN" }, { "~num": "NaN" }, true],
    [{ "~num": "-0" }, 0, true, { negativeZero: "strict" }],
    [{ "~time": "2031-04-02T06:10:00+02:00" }, { "~time": "2031-04-02T04:10:00Z" }, true, { timeOffset: "strict" }],
    [{ "~time": "2031-04-02T06:10:00" }, { "~time": "2031-04-02T06:10:00.000Z" }, true],
    [{ "~date": "2031-04-02" }, { "~time": "2031-04-02T00:00:00.000Z" }, true],
    [{ "~date": "2031-04-02" }, { "~date": "2031-04-03" }, false],
    [true, 1, false],
    ["1", 1, false],
    [{ "~opaque": "<function f>" }, { "~opaque": "<function f>" }, false],
    [{ "~ref": 0 }, { "~ref": 0 }, true],
    [{ "~bytes": "AA==" }, { "~bytes": "AQ==" }, false],
  ])("%j against %j: %s", (one, other, agrees, strict) => {
    expect(outcome(one, other)).toBe(agrees ? "agree" : "differ");
    expect(outcome(other, one)).toBe(agrees ? "agree" : "differ");
    if (strict) expect(outcome(one, other, { equality: strict })).toBe("differ");
  });

  it.each([
    [[], {}, "agree"],
    [{ a: [] }, { a: {} }, "agree"],
    [[[], 1], [{}, 1], "agree"],
    [{ "~set": [[]] }, { "~set": [{}] }, "agree"],
    [[], { a: 1 }, "differ"],
    [[], null, "differ"],
  ])("takes %j for %j where empty kinds are relaxed: %s", (one, other, expected) => {
    const equality = { emptyKinds: "relaxed" } as const;
    expect(outcome(one, other, { equality })).toBe(expected);
    expect(outcome(other, one, { equality })).toBe(expected);
    expect(outcome(one, other)).toBe("differ");
  });

  it("is the same relation by path, by canonical text and by notation", () => {
    let [equal, different] = [0, 0];
    fc.assert(
      fc.property(arbitraryValue, arbitraryValue, fc.boolean(), (one, other, same) => {
        const twin = same ? fromNotation(JSON.parse(JSON.stringify(toNotation(one)))) : other;
        const state = new ComparisonState(DEFAULT_EQUALITY, []);
        compareValues(state, "value", one, twin);
        const byText = canonicalText(one, DEFAULT_EQUALITY) === canonicalText(twin, DEFAULT_EQUALITY);
        expect(state.unexcused === 0).toBe(byText);
        if (sameNotation(toNotation(one), toNotation(twin))) expect(byText).toBe(true);
        if (byText) equal++;
        else different++;
      }),
      { numRuns: 400 },
    );
    expect(equal).toBeGreaterThan(50);
    expect(different).toBeGreaterThan(50);
  });
});

describe("divergences", () => {
  it("have the path, both values and a kind", () => {
    const { divergences } = compare(
      call({ total: 2, lines: [{ name: "a" }], "a.b": 1 }),
      call({ total: 3, lines: [{ name: "b" }], "a.b": 2 }),
    );
    expect(divergences).toEqual([
      { at: "value.total", original: 2, twin: 3, kind: "number" },
      { at: "value.lines.0.name", original: "a", twin: "b", kind: "text" },
      { at: 'value["a.b"]', original: 1, twin: 2, kind: "number" },
    ]);
  });

  it("of lists of another length stand at the length and at what was added or lost", () => {
    const { divergences } = compare(call([1, 2, 3, 4]), call([1, 3, 4]));
    expect(divergences).toEqual([
      { at: "value.length", original: 4, twin: 3, kind: "length" },
      { at: "value.1", original: 2, twin: null, kind: "missing" },
    ]);
  });

  it("tell a key that is only on one side", () => {
    const { divergences } = compare(call({ a: 1, b: 2 }), call({ a: 1, c: 3 }));
    expect(divergences.map(({ at, kind }) => [at, kind])).toEqual([
      ["value.b", "missing"],
      ["value.c", "extra"],
    ]);
  });

  it("of errors are in the kind and the message", () => {
    const { divergences } = compare(thrown("ValueError", "no"), thrown("RangeError", "nope"));
    expect(divergences.map(({ at, kind }) => [at, kind])).toEqual([
      ["thrown.kind", "error-kind"],
      ["thrown.message", "error-message"],
    ]);
  });

  it("arise when one side throws and the other answers", () => {
    const { outcome: verdict, divergences } = compare(call(1), thrown("TypeError", "x"));
    expect(verdict).toBe("differ");
    expect(divergences[0]).toMatchObject({ at: "thrown", kind: "thrown", original: 1 });
  });

  it("include arguments after the call, also after a throw", () => {
    expect(compare(call(1, { args: [[1, 2]] }), call(1, { args: [[2, 1]] })).divergences.map(({ at }) => at)).toEqual([
      "args.0.0",
      "args.0.1",
    ]);
    expect(
      compare(thrown("E", "m", { args: [{ a: 1 }] }), thrown("E", "m", { args: [{ a: 2 }] })).divergences[0]?.at,
    ).toBe("args.0.a");
    expect(compare(call(1, { kwargs: { day: 1 } }), call(1, { kwargs: { day: 2 } })).divergences[0]?.at).toBe(
      "kwargs.day",
    );
  });

  it("include what was printed, by line", () => {
    expect(compare(call(1, { printed: "a\nb\n" }), call(1, { printed: "a\nc\n" })).divergences).toEqual([
      { at: "printed.2", original: "b", twin: "c", kind: "text" },
    ]);
  });

  it("beyond the ones kept are counted", () => {
    const long = (step: number) => call(Array.from({ length: 300 }, (_, index) => index + step));
    const { divergences, more } = compare(long(0), long(1));
    expect([divergences.length, more]).toEqual([200, 100]);
  });
});

describe("allowances", () => {
  it.each<[string, Json, Json, Allow, "allowed" | "differ"]>([
    ["a number within abs", 1, 1 + 1e-10, { number: { abs: 1e-9 } }, "allowed"],
    ["a number beyond abs", 1, 1.1, { number: { abs: 1e-9 } }, "differ"],
    ["a number within rel", 1e12, 1e12 + 1, { number: { rel: 1e-9 } }, "allowed"],
    ["a number within ulps", 0.1 + 0.2, 0.3, { number: { ulps: 1 } }, "allowed"],
    ["a number beyond ulps", 0.3, 0.3000000000000004, { number: { ulps: 4 } }, "differ"],
    ["numbers inside text", "h 1.0000001 m", "h 1.0 m", { number: { abs: 1e-6 }, text: true }, "allowed"],
    ["other words around a number", "h 1.0000001 m", "g 1.0 m", { number: { abs: 1e-6 }, text: true }, "differ"],
    ["anything ignored", { a: 1 }, [1], { ignore: true }, "allowed"],
    ["blanks", "a  ", "a", { text: { trim: true } }, "allowed"],
    ["line endings", "a\r\nb", "a\nb", { text: { lineEndings: true } }, "allowed"],
    ["letter case", "Ab", "aB", { text: { case: true } }, "allowed"],
    ["Unicode form", "e\u0301", "\u00e9", { text: { unicode: true } }, "allowed"],
    ["a replacement", "id 17", "id 18", { text: { replace: [{ pattern: "\\d+", with: "N" }] } }, "allowed"],
    ["an order", [3, 1, 2], [1, 2, 3], { unordered: true }, "allowed"],
    ["an order with another item", [3, 1, 2], [1, 2, 4], { unordered: true }, "differ"],
    [
      "an order by key",
      [
        { id: 1, v: 2 },
        { id: 2, v: 3 },
      ],
      [
        { id: 2, v: 3 },
        { id: 1, v: 2 },
      ],
      { unordered: { by: "id" } },
      "allowed",
    ],
    ["keys", { plot_no: 1 }, { plotNumber: 1 }, { keys: { plot_no: "plotNumber" } }, "allowed"],
    ["keys with another value", { plot_no: 1 }, { plotNumber: 2 }, { keys: { plot_no: "plotNumber" } }, "differ"],
    ["exactly these", 2, 3, { exactly: { original: 2, twin: 3 } }, "allowed"],
    ["exactly others", 2, 4, { exactly: { original: 2, twin: 3 } }, "differ"],
    ["an opaque value", { "~opaque": "f" }, { "~opaque": "f" }, { number: { abs: 1 } }, "differ"],
  ])("%s", (_what, one, other, allow, expected) => {
    expect(outcome(one, other, { allow, at: "value" })).toBe(expected);
  });

  it("hold only at their path", () => {
    const both = [call({ a: 1, b: 1 }), call({ a: 2, b: 2 })] as const;
    expect(compare(...both, { allow: { ignore: true }, at: "value.a" }).outcome).toBe("differ");
    expect(compare(...both, { allow: { ignore: true }, at: "value.*" }).outcome).toBe("allowed");
  });

  it("excuse error kinds by name and messages", () => {
    const both = [thrown("ValueError", "no"), thrown("RangeError", "no")] as const;
    expect(compare(...both, { allow: { errorKind: { ValueError: "RangeError" } } }).outcome).toBe("allowed");
    expect(compare(...both, { allow: { errorKind: { ValueError: "TypeError" } } }).outcome).toBe("differ");
    expect(compare(thrown("E", "a"), thrown("E", "b"), { allow: { errorMessage: true } }).outcome).toBe("allowed");
    expect(compare(...both, { equality: { errorKind: "relaxed" } }).outcome).toBe("agree");
  });

  it("are not asked where the default already agrees", () => {
    const { outcome: verdict, excuses } = compare(call(2), call({ "~float": "2.0" }), { allow: { ignore: true } });
    expect([verdict, excuses]).toEqual(["agree", []]);
  });

  it("say how much of them was needed", () => {
    expect(compare(call([1, 2]), call([1.25, 2.5]), { allow: { number: { abs: 1 } } }).excuses).toEqual([
      { allowance: "a1", needed: { abs: 0.25 } },
      { allowance: "a1", needed: { abs: 0.5 } },
    ]);
    const inText = { text: true, number: { abs: 0.1, rel: 0.5 } } as const;
    expect(compare(call("1.05 m, 3 s"), call("1 m, 4 s"), { allow: inText }).excuses).toEqual([
      { allowance: "a1", needed: { abs: expect.closeTo(0.05), rel: 0.25 } },
    ]);
  });
});

describe("runs", () => {
  const run = (rest: object) => ({ kind: "run", exit: 0, stdout: "", stderr: "", files: {}, ...rest }) as const;
  const terms = { equality: DEFAULT_EQUALITY, allowances: [] };

  it("are compared in what is observed only", () => {
    const [one, other] = [run({ exit: 1, stderr: "a\n" }), run({ exit: 2, stderr: "b\n" })];
    expect(compareAnswers(one, other, { ...terms, observe: ["stdout"] }).outcome).toBe("agree");
    expect(
      compareAnswers(one, other, { ...terms, observe: ["exit", "stderr"] }).divergences.map(({ at }) => at),
    ).toEqual(["exit", "stderr.1"]);
  });

  it("compare JSON on standard output by path and text by line", () => {
    const compareOut = (one: string, other: string) =>
      compareAnswers(run({ stdout: one }), run({ stdout: other }), { ...terms, observe: ["stdout"] }).divergences.map(
        ({ at }) => at,
      );
    expect(compareOut('{"a": 1}', '{"a":2}')).toEqual(["stdout.a"]);
    expect(compareOut('{"a": 1}', '{"a":1}')).toEqual([]);
    expect(compareOut("x\ny\n", "x\nnew\ny\n")).toEqual(["stdout.2"]);
  });

  it("compare files by name, by their kind, and by glob", () => {
    const files = (list: object) => run({ files: list });
    const diff = (one: object, other: object, observe = ["files:out/**"]) =>
      compareAnswers(files(one), files(other), { ...terms, observe }).divergences.map(({ at, kind }) => [at, kind]);
    expect(diff({ "out/a.csv": { text: "1\n" } }, { "out/a.csv": { text: "2\n" } })).toEqual([
      ["files.out/a.csv.1", "text"],
    ]);
    expect(diff({ "out/a": { bytes: "AA==" } }, { "out/a": { bytes: "AQ==" } })).toEqual([["files.out/a.0", "bytes"]]);
    expect(diff({ "out/a": { text: "" } }, {})).toEqual([["files.out/a", "missing"]]);
    expect(diff({ "log.txt": { text: "x" } }, {})).toEqual([]);
    expect(diff({ "a.csv": { text: "1" }, "d/b.csv": { text: "1" } }, {}, ["files:*.csv"])).toEqual([
      ["files.a.csv", "missing"],
    ]);
  });
});
