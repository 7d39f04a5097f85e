import { describe, expect, it } from "vitest";
import { addArguments, moveOuts, type Returned, readShapes } from "@/core/cases/argument-shapes";

const NAMES = ["text", "length", "room", "rest"];

describe("reading shapes", () => {
  it("passes over parameters that only the other side has", () => {
    const plain = readShapes({}, NAMES);
    expect(readShapes({ txt: "in", length: "length of txt" }, NAMES)).toEqual(plain);
    expect(readShapes({ made: "out", length: "length of made" }, ["text"]).parameters).toEqual([plain.parameters[0]]);
  });

  it("refuses words that are not known", () => {
    expect(() => readShapes({ text: "in, twice" }, NAMES)).toThrow('has an unknown word "twice"');
    expect(() => readShapes({ text: "room many" }, NAMES)).toThrow('has an unknown word "room many"');
    expect(() => readShapes({ return: "freed" }, NAMES)).toThrow('of "return" has an unknown word "freed"');
    expect(readShapes({ return: "text, freed by yard_free" }, []).result).toEqual({ type: "text" });
  });
});

describe("arguments", () => {
  const fill = (shapes: Record<string, string>, passed: Parameters<typeof addArguments>[0], isTyped = false) =>
    addArguments(passed, readShapes(shapes, NAMES), isTyped);

  it("get lengths of lists, texts and bytes", () => {
    const length = { length: "length of text" };
    expect(fill(length, [[4, 5, 6], 1, 2])).toEqual([[4, 5, 6], 3, 1, 2]);
    expect(fill(length, ["kö", 1, 2])).toEqual(["kö", 3, 1, 2]);
    expect(fill(length, [{ "~bytes": "AAEC" }, 1, 2])).toEqual([{ "~bytes": "AAEC" }, 3, 1, 2]);
    expect(fill(length, [7, 1, 2])).toEqual([7, 0, 1, 2]);
    expect(fill(length, [null, 1, 2])).toEqual([null, 0, 1, 2]);
  });

  it("get buffers for outs, with their room where another parameter asks for it", () => {
    const out = (words: string, isTyped = false) => fill({ rest: words }, [1, 2, 3], isTyped)[3];
    expect(out("out")).toEqual([]);
    expect(out("out", true)).toBe(0);
    expect(out("out, list", true)).toEqual([]);
    expect(out("out, room 2", true)).toEqual([0, 0]);
    expect(out("out, bytes, room 3")).toEqual({ "~bytes": "AAAA" });
    expect(out("out, text")).toBe("");
    expect(out("out, record")).toEqual({});
    expect(fill({ rest: "out, room 2", room: "room of rest" }, [1, 2])).toEqual([1, 2, 2, [0, 0]]);
  });

  it("that are too few or too many are left to the driver", () => {
    expect(fill({ length: "length of text" }, [])).toEqual([0]);
    expect(fill({ rest: "in" }, [1, 2, 3, 4, 5])).toEqual([1, 2, 3, 4, 5]);
  });
});

describe("results", () => {
  const read = (shapes: Record<string, string>, answer: Returned, passed = [1, 2, 3]) =>
    moveOuts(answer, passed, readShapes(shapes, NAMES));

  it("have outs behind the value: one alone as it is, several as a tuple", () => {
    const args = [1, 2, 3, 9];
    expect(read({ rest: "out" }, { value: 5, args })).toEqual({ value: { "~tuple": [5, 9] }, args: [1, 2, 3] });
    expect(read({ rest: "out" }, { value: null, args })).toEqual({ value: 9, args: [1, 2, 3] });
    expect(read({ rest: "out", room: "out" }, { args })).toEqual({ value: { "~tuple": [3, 9] }, args: [1, 2] });
    expect(read({ length: "length of return" }, { value: [1, 2], args })).toEqual({ value: [1, 2], args: [1, 3, 9] });
  });

  it("have the arguments of the case: without lengths, those that go in as they were", () => {
    const shapes = { text: "in", length: "length of text" };
    expect(read(shapes, { value: 0, args: [[], 2, 3, 4, 5] }, [8])).toEqual({ value: 0, args: [8, 3, 4, 5] });
    const thrown = { kind: "Error", message: "" };
    expect(read({ rest: "out" }, { thrown, args: [1, 2, 3, 9] })).toEqual({ thrown, args: [1, 2, 3] });
  });

  it("are bytes or text as the shape says", () => {
    expect(read({ return: "bytes" }, { value: "kö", args: [] }).value).toEqual({ "~bytes": "a8O2" });
    expect(read({ return: "text" }, { value: { "~bytes": "a8O2" }, args: [] }).value).toBe("kö");
    expect(read({ return: "text" }, { value: { "~bytes": "/w==" }, args: [] }).value).toEqual({ "~bytes": "/w==" });
    expect(read({ return: "list" }, { value: [1], args: [] }).value).toEqual([1]);
    expect(read({ text: "bytes" }, { value: 1, args: ["a"] }).args).toEqual([{ "~bytes": "YQ==" }]);
  });
});
