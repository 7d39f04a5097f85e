import { describe, expect, it } from "vitest";
import { readWithPattern, runWithin, testPattern } from "@/engine/within";

const SLOW = "^(n+)+$";
const TEXT = `${"n".repeat(40)}w`;

describe("work with a limit of time", () => {
  it("gives what it returns, and passes on what it throws", () => {
    expect(runWithin(1000, () => [1, "two"])).toEqual({ value: [1, "two"] });
    expect(() =>
      runWithin(1000, () => {
        throw new TypeError("mine");
      }),
    ).toThrow(TypeError);
  });

  it("ends, and the thread goes on", () => {
    expect(runWithin(50, () => new RegExp(SLOW, "u").test(TEXT))).toBeNull();
    expect(runWithin(1000, () => 1)).toEqual({ value: 1 });
  });
});

describe("a person's pattern", () => {
  it.each([
    ["^a", "abc", true],
    ["^(?:a|b)+$", "abab", true],
    ["^(?:a|b)+$", "abc", false],
  ])("%s on %s is %s", (pattern, text, fits) => {
    expect(testPattern(pattern, text)).toBe(fits);
  });

  it("is refused where it takes too long, with the text or the key", () => {
    expect(() => testPattern(SLOW, TEXT)).toThrow(/\^\(n\+\)\+\$ takes too long on "nnn/);
    expect(readWithPattern(undefined, "ladder", () => 7)).toBe(7);
    expect(readWithPattern("x", "ladder", () => 7)).toBe(7);
  });
});
