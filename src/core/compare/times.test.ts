import { describe, expect, it } from "vitest";
import { allowancesFor } from "@/core/allowances/allowances";
import { compareAnswers } from "@/core/compare/compare";
import { DEFAULT_EQUALITY } from "@/core/values/equality";

const run = (lines: readonly [string, number][]) =>
  ({
    kind: "run",
    exit: 0,
    stdout: lines.map(([line]) => `${line}\n`).join(""),
    stderr: "",
    files: {},
    times: lines.map(([, ms]) => ms),
  }) as const;

function compare(original: readonly [string, number][], twin: readonly [string, number][], ms?: number) {
  const allowances =
    ms === undefined ? [] : [{ id: "t", where: { at: "times.**" }, allow: { timing: { ms } }, reason: "r" }];
  return compareAnswers(run(original), run(twin), {
    equality: DEFAULT_EQUALITY,
    allowances: allowancesFor(allowances, { id: "c", module: null, call: "run", twin: "c" }),
    observe: ["times"],
  });
}

describe("the times of output lines", () => {
  it("are compared by the interval before each line, the first aside", () => {
    const { divergences } = compare(
      [
        ["open", 40],
        ["shut", 140],
        ["end", 150],
      ],
      [
        ["open", 5],
        ["shut", 130],
        ["end", 140],
      ],
    );
    expect(divergences).toEqual([
      { at: "times.2", kind: "interval", original: { "~float": "100.0" }, twin: { "~float": "125.0" } },
    ]);
  });

  it("are allowed within milliseconds, and the most that was needed is told", () => {
    const both = [
      [
        ["a", 0],
        ["b", 100],
      ],
      [
        ["a", 0],
        ["b", 118],
      ],
    ] as [string, number][][];
    expect(compare(both[0] ?? [], both[1] ?? [], 20)).toMatchObject({
      outcome: "allowed",
      excuses: [{ needed: { ms: 18 } }],
    });
    expect(compare(both[0] ?? [], both[1] ?? [], 10).outcome).toBe("differ");
  });

  it("belong to the lines that both printed", () => {
    const { divergences } = compare(
      [
        ["a", 0],
        ["b", 10],
        ["c", 20],
      ],
      [
        ["a", 0],
        ["c", 10],
      ],
    );
    expect(divergences).toEqual([]);
  });
});
