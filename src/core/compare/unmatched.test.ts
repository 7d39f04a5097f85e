import { describe, expect, it } from "vitest";
import { compareAnswers } from "@/core/compare/compare";
import { unmatchedPatterns } from "@/core/compare/unmatched";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { matchesFile } from "@/core/values/file-pattern";

const run = (files: Readonly<Record<string, string>>) =>
  ({
    kind: "run",
    exit: 0,
    stdout: "",
    stderr: "",
    files: Object.fromEntries(Object.entries(files).map(([name, text]) => [name, { text }])),
  }) as const;

describe("patterns of files", () => {
  it.each<[pattern: string, matching: string[], other: string[]]>([
    ["out/{a,b}.txt", ["out/a.txt", "out/b.txt"], ["out/c.txt", "out/{a,b}.txtx"]],
    ["out/?.txt", ["out/a.txt"], ["out/ab.txt", "out/.txt"]],
    ["out/[ab].txt", ["out/a.txt", "out/[ab].txt"], ["out/c.txt"]],
    ["out/*.txt", ["out/a.txt", "out/.a.txt"], ["out/x/a.txt", "a.txt"]],
    ["**/x/*.txt", ["x/a.txt", "y/x/a.txt"], ["yx/a.txt", "x/y/a.txt"]],
    ["out**", ["out", "outer"], ["out/a.txt"]],
    ["out/**", ["out/a.txt", "out/x/a.txt"], ["outer/a.txt"]],
    ["**", ["a", "a/b"], []],
  ])("%s", (pattern, matching, other) => {
    for (const file of matching) expect(matchesFile(file, pattern), file).toBe(true);
    for (const file of other) expect(matchesFile(file, pattern), file).toBe(false);
  });

  it("are what is compared of a program run", () => {
    const outcome = (pattern: string) =>
      compareAnswers(run({ "out/a.txt": "1" }), run({ "out/a.txt": "2" }), {
        equality: DEFAULT_EQUALITY,
        allowances: [],
        observe: [`files:${pattern}`],
      }).outcome;
    for (const pattern of ["out/{a,b}.txt", "out/?.txt", "out/[ab].txt", "**/a.txt"])
      expect(outcome(pattern)).toBe("differ");
    expect(outcome("in/*.txt")).toBe("agree");
  });

  it("are told where they match no file of either side", () => {
    const sides = { original: run({}), twin: run({ "b.txt": "x" }) };
    const observe = ["exit", "files:**", "files:b.txt", "files:{c,d}.txt"];
    expect(unmatchedPatterns(observe, sides)).toEqual(["files:{c,d}.txt"]);
    expect(unmatchedPatterns(observe, { ...sides, twin: null })).toEqual([]);
  });
});
