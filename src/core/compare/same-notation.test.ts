import { describe, expect, it } from "vitest";
import { sameNotation } from "@/core/compare/same-notation";
import type { Json } from "@/core/formats/json";

describe("two answers in notation", () => {
  it.each<[Json, Json]>([
    [null, null],
    [1, 1],
    ["a", "a"],
    [
      [1, [2, "x"]],
      [1, [2, "x"]],
    ],
    [
      { a: 1, b: [2] },
      { b: [2], a: 1 },
    ],
    [{ a: null }, { a: null }],
    [[], []],
    [{}, {}],
  ])("%j and %j are the same", (one, other) => {
    expect(sameNotation(one, other)).toBe(true);
    expect(sameNotation(other, one)).toBe(true);
  });

  it.each<[Json, Json]>([
    [null, 0],
    [null, {}],
    ["1", 1],
    [1, 2],
    [[1], [1, 2]],
    [
      [1, 2],
      [2, 1],
    ],
    [[], {}],
    [[1], { 0: 1 }],
    [{ a: 1 }, { a: 1, b: 2 }],
    [{ a: 1 }, { b: 1 }],
    [{ a: null }, { b: null }],
    [{ "~opaque": "x" }, { "~opaque": "x" }],
  ])("%j and %j are not known to be", (one, other) => {
    expect(sameNotation(one, other)).toBe(false);
    expect(sameNotation(other, one)).toBe(false);
  });

  it("may take a whole float for its integer, where the languages have one number", () => {
    const float: Json = { "~float": "2.0" };
    expect(sameNotation(float, 2)).toBe(false);
    expect(sameNotation(float, 2, true)).toBe(true);
    expect(sameNotation([2], [float], true)).toBe(true);
    expect(sameNotation(float, 3, true)).toBe(false);
    expect(sameNotation({ "~num": "NaN" }, 2, true)).toBe(false);
    expect(sameNotation("2", 2, true)).toBe(false);
  });
});
