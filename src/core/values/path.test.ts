import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { joinPath, matchesPath, splitPath } from "@/core/values/path";

describe("paths", () => {
  it("split into the parts they were joined of", () => {
    const key = fc.string({ minLength: 0, maxLength: 6 });
    fc.assert(
      fc.property(fc.array(key, { maxLength: 4 }), (keys) => {
        expect(splitPath(keys.reduce<string>(joinPath, "value"))).toEqual(["value", ...keys]);
      }),
    );
  });

  it.each([
    ["value.total", "value.total", true],
    ["value.a.b.total", "value.**.total", true],
    ["value.total", "value.**.total", true],
    ["value.a.total", "value.*.total", true],
    ["value.a.b.total", "value.*.total", false],
    ["value", "value.**", true],
    ["args.0", "value.**", false],
    ["value.plot_no", "value.plot_*", true],
    ['value["a.b"].c', 'value["a.b"].c', true],
  ])("%s against %s: %s", (path, pattern, expected) => {
    expect(matchesPath(splitPath(path), splitPath(pattern))).toBe(expected);
  });
});
