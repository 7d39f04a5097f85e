import { describe, expect, it } from "vitest";
import { alignAnswers } from "@/core/compare/aligned";
import type { Answer } from "@/core/compare/answer";
import type { Json } from "@/core/formats/json";

const call = (value: Json, extra: object = {}): Answer => ({
  kind: "call",
  value,
  args: [],
  kwargs: {},
  printed: "",
  ...extra,
});
const table = (original: Answer | null, twin: Answer | null) =>
  alignAnswers(original, twin).rows.map(({ at, original: one, twin: other, differs }) => [at, one, other, differs]);

describe("the aligned tree", () => {
  it("folds what is equal to one row and opens what differs", () => {
    expect(table(call({ total: 2, lines: { a: 1, b: [1] } }), call({ total: 3, lines: { a: 1, b: [1] } }))).toEqual([
      ["value", "", "", false],
      ["value.total", "2", "3", true],
      ["value.lines", '{"a":1,"b":[1]}', '{"a":1,"b":[1]}', false],
    ]);
  });

  it("shows a field that only one side has", () => {
    expect(table(call({ a: 1 }), call({ b: 1 })).slice(1)).toEqual([
      ["value.a", "1", null, true],
      ["value.b", null, "1", true],
    ]);
  });

  it("folds runs of equal items and keeps an inserted one level", () => {
    expect(table(call([1, 2, 3, 4]), call([1, 2, 9, 3, 4]))).toEqual([
      ["value", "4 items", "5 items", true],
      ["value.0", "2 equal items", "2 equal items", false],
      ["value.2", null, "9", true],
      ["value.2", "2 equal items", "2 equal items", false],
    ]);
  });

  it("shows an error against an answer on one line, and two errors by kind and message", () => {
    const thrown = (message: string): Answer => ({
      kind: "call",
      thrown: { kind: "E", message },
      args: [],
      kwargs: {},
      printed: "",
    });
    expect(table(call(1), thrown("no"))).toEqual([["value", "1", "throws E: no", true]]);
    expect(table(thrown("yes"), thrown("no")).slice(1)).toEqual([
      ["thrown.kind", '"E"', '"E"', false],
      ["thrown.message", '"yes"', '"no"', true],
    ]);
  });

  it("shows arguments after the call and what was printed, with the lines around", () => {
    const one = call(1, { args: [[1]], printed: "a\nb\nc\nd\n" });
    const other = call(1, { args: [[2]], printed: "a\nb\nX\nd\n" });
    expect(table(one, other)).toEqual([
      ["value", "1", "1", false],
      ["args.0", "1 item", "1 item", false],
      ["args.0.0", "1", "2", true],
      ["printed", "4 lines", "4 lines", true],
      ["printed.1", "a", "a", false],
      ["printed.2", "b", "b", false],
      ["printed.3", "c", "X", true],
      ["printed.4", "d", "d", false],
      ["printed.5", "", "", false],
    ]);
  });

  it("shows steps, runs and their files", () => {
    const steps = (value: Json): Answer => ({ kind: "steps", steps: [{ value: 1 }, { value }], printed: "" });
    expect(table(steps(2), steps(3))).toEqual([
      ["steps.0", "1", "1", false],
      ["steps.1", "2", "3", true],
    ]);
    const run = (exit: number, files: object): Answer => ({
      kind: "run",
      exit,
      stdout: "",
      stderr: "",
      files: files as never,
    });
    expect(table(run(0, { "a.txt": { text: "x" } }), run(1, {}))).toEqual([
      ["exit", "0", "1", true],
      ["files.a.txt", "1 line", "0 lines", true],
      ["files.a.txt.1", "x", "", true],
    ]);
  });

  it("shows one side alone when the other gave no answer", () => {
    expect(table(call(1), null)).toEqual([["value", "1", null, true]]);
    expect(table(null, null)).toEqual([["value", null, null, true]]);
  });

  it("writes numbers so that their kind can be told", () => {
    expect(
      table(
        call([{ "~float": "2.0" }, { "~num": "-0" }, { "~int": "9007199254740993" }, { "~dec": "1.50" }]),
        call(null),
      ).at(0)?.[1],
    ).toBe('[{"~float":"2.0"},{"~num":"-0"},{"~int":"9007199254740993"},{"~dec":"1.50"}]');
    expect(table(call({ "~float": "2.0" }), call({ "~num": "-0" }))[0]).toEqual(["value", "2.0", "-0.0", true]);
  });
});
