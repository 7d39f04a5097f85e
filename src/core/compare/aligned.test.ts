import { encode } from "fast-png";
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

  it("names the places of a run, and shows a single equal item itself", () => {
    const labels = (original: Json, twin: Json) =>
      alignAnswers(call(original), call(twin))
        .rows.slice(1)
        .map(({ label, original: text }) => [label, text]);
    expect(labels([7, 8, 9], [7, 8, 1])).toEqual([
      ["0 to 1", "2 equal items"],
      ["2", "9"],
    ]);
    expect(labels([7, 8], [7, 1])).toEqual([
      ["0", "7"],
      ["1", "8"],
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

describe("the documents of two program runs", () => {
  const run = (extra: object): Answer => ({ kind: "run", exit: 0, stdout: "", stderr: "", files: {}, ...extra });
  const bytes = (data: Uint8Array) => ({ bytes: Buffer.from(data).toString("base64") });
  const align = (one: object, other: object, kinds = {}) => alignAnswers(run(one), run(other), undefined, kinds);

  it("show JSON on standard output by path", () => {
    const { rows } = align({ stdout: '{"a": 1, "b": [1, 2]}' }, { stdout: '{"b":[1,3],"a":1}' });
    expect(rows.filter(({ differs }) => differs).map(({ at }) => at)).toEqual(["stdout.b.1"]);
  });

  it("show tables by cell, the rows that differ with what is around them", () => {
    const csv = (fare: string) =>
      `no,fare\n${[1, 2, 3, 4, 5, 6, 7].map((no) => `T${no},${no === 4 ? fare : no}`).join("\n")}\n`;
    const { tables, rows } = align(
      { files: { "a.csv": { text: csv("4") } } },
      { files: { "a.csv": { text: csv("5") } } },
    );
    expect(tables[0]).toMatchObject({ at: "files.a.csv", head: ["no", "fare"], rest: 2 });
    expect(tables[0]?.rows.map(({ label, gap }) => [label, gap])).toEqual([
      ["T3", 2],
      ["T4", 0],
      ["T5", 0],
    ]);
    expect(tables[0]?.rows[1]?.cells[1]).toEqual({ original: "4", twin: "5" });
    expect(rows.at(-1)).toMatchObject({ at: "files.a.csv", original: "table, below" });
  });

  it("show tables that only differ in their writing as lines", () => {
    const { tables, rows } = align(
      { files: { "a.csv": { text: "no,a\n1,x\n" } } },
      { files: { "a.csv": { text: 'no,a\n1,"x"\n' } } },
    );
    expect(tables).toEqual([]);
    expect(rows.filter(({ differs }) => differs).map(({ at }) => at)).toContain("files.a.csv.2");
  });

  it("show pictures side by side when they differ, and bytes around the first that does", () => {
    const png = (grey: number) =>
      bytes(encode({ width: 1, height: 1, data: Uint8Array.from([grey]), depth: 8, channels: 1 }));
    const files = (picture: number, byte: number) => ({
      files: { "a.png": png(picture), "b.bin": bytes(Uint8Array.from([255, 0, byte])) },
    });
    const { pictures, rows } = align(files(1, 2), files(9, 3));
    expect(pictures).toEqual([{ at: "files.a.png", file: "a.png", original: "1 × 1", twin: "1 × 1" }]);
    expect(rows.find(({ at }) => at === "files.b.bin.0")).toMatchObject({
      original: "ff 00 02",
      twin: "ff 00 03",
      differs: true,
    });
    expect(align(files(1, 2), files(1, 2)).pictures).toEqual([]);
  });

  it("show what they are set to be, and the moments of lines", () => {
    const { rows } = align({ stdout: "[1]\n", times: [5] }, { stdout: "[2]\n", times: [9] }, { stdout: "text" });
    expect(
      rows.filter(({ at }) => /^(stdout|times)/.test(at)).map(({ at, original, twin }) => [at, original, twin]),
    ).toEqual([
      ["stdout", "1 line", "1 line"],
      ["stdout.1", "[1]", "[2]"],
      ["stdout.2", "", ""],
      ["times.1", "5 ms", "9 ms"],
    ]);
  });
});

describe("arguments after the call", () => {
  it("have a row where a side changed them", () => {
    const call = (...args: Json[]) => ({ kind: "call" as const, value: 1, args, kwargs: {}, printed: "" });
    const rows = (given: Json[], original: Json[], twin: Json[]) =>
      alignAnswers(call(...original), call(...twin), undefined, {}, given).rows.map(({ at }) => at);
    expect(rows([1, [2]], [1, [2]], [1, [2]])).toEqual(["value"]);
    expect(rows([1, [2]], [1, [3]], [1, [2]])).toEqual(["value", "args.1", "args.1.0"]);
  });
});
