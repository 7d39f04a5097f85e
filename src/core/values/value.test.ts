import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Json } from "@/core/formats/json";
import { fromNotation, toNotation } from "@/core/values/value";
import { arbitraryValue } from "@/testing/values";

/** Key order and the shape of equal maps aside, two notations are the same text. */
const written = (json: Json): string => JSON.stringify(json);

describe("value notation", () => {
  it("reads back every value that it writes", () => {
    fc.assert(
      fc.property(arbitraryValue, (value) => {
        const once = toNotation(value);
        const again = toNotation(fromNotation(JSON.parse(JSON.stringify(once))));
        expect(written(again)).toBe(written(once));
      }),
      { numRuns: 400 },
    );
  });

  it.each([
    [{ "~num": "NaN" }, { kind: "float", value: Number.NaN }],
    [{ "~num": "-Infinity" }, { kind: "float", value: Number.NEGATIVE_INFINITY }],
    [{ "~num": "-0" }, { kind: "float", value: -0 }],
    [{ "~int": "9007199254740993" }, { kind: "int", value: 9007199254740993n }],
    [{ "~dec": "12.50" }, { kind: "decimal", text: "12.50" }],
    [{ "~float": "2.0" }, { kind: "float", value: 2 }],
    [{ "~none": "undefined" }, { kind: "none", form: "undefined" }],
    [{ "~ref": 2 }, { kind: "ref", depth: 2 }],
    [3, { kind: "int", value: 3n }],
    [2.5, { kind: "float", value: 2.5 }],
  ] as const)("reads %j", (json, value) => {
    expect(fromNotation(json)).toEqual(value);
    expect(toNotation(fromNotation(json))).toEqual(json);
  });

  it("keeps a lone surrogate", () => {
    const json = toNotation({ kind: "text", value: "a\ud800b" });
    expect(json).toEqual({ "~utf16": expect.any(String) });
    expect(fromNotation(json)).toEqual({ kind: "text", value: "a\ud800b" });
  });

  it("escapes a real object whose only key begins with a tilde", () => {
    const json: Json = { "~esc": { "~num": "NaN" } };
    expect(fromNotation(json)).toEqual({
      kind: "map",
      plain: true,
      entries: [
        [
          { kind: "text", value: "~num" },
          { kind: "text", value: "NaN" },
        ],
      ],
    });
    expect(toNotation(fromNotation(json))).toEqual(json);
  });

  it("names the path of a malformed value", () => {
    expect(() => fromNotation({ a: [1, { "~int": "1.5" }] })).toThrow(/"~int" is malformed in key value\.a\.1/);
    expect(() => fromNotation({ "~what": 1 })).toThrow(/Unknown value notation "~what"/);
  });
});
