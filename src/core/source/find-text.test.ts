import { describe, expect, it } from "vitest";
import { findText } from "@/core/source/find-text";

const files = [
  { file: "quays.py", lines: ["def berth(ship):", "    return Ship.berth", ""] },
  { file: "long.py", lines: [`${"x".repeat(500)}needle${"y".repeat(500)}`] },
];

describe("finding text", () => {
  it("ignores case unless the words have an upper-case letter", () => {
    expect(findText(files, "ship", 9).map(({ line }) => line)).toEqual([1, 2]);
    expect(findText(files, "Ship", 9)).toEqual([{ file: "quays.py", line: 2, text: "return Ship.berth" }]);
  });

  it("names a line once, and stops at the limit", () => {
    expect(findText([{ file: "a", lines: ["aa aa", "aa"] }], "aa", 9)).toHaveLength(2);
    expect(findText([{ file: "a", lines: ["aa", "aa"] }], "aa", 1)).toHaveLength(1);
  });

  it("cuts a long line around the hit", () => {
    const [hit] = findText(files, "needle", 9);
    expect(hit?.text).toContain("needle");
    expect(hit?.text.length).toBeLessThan(210);
  });

  it("finds nothing for no words", () => {
    expect(findText(files, "", 9)).toEqual([]);
  });
});
