import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { shrinkCase, sizeOf, smallerCases, smallerValues, withoutPieces } from "@/core/cases/shrink";
import type { CallCase, SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";

const call = (...args: Json[]): CallCase => ({ id: "c", module: "m", call: "f", args, kwargs: {} });
const never = { isOver: () => false };
const argsOf = (item: SharedCase) => ("call" in item ? item.args : null);

describe("shrinking", () => {
  it.each<[string, Json[], (args: readonly Json[]) => boolean, Json[]]>([
    [
      "a text to the one character that matters",
      ["a long text with 🐦 in it"],
      ([text]) => String(text).includes("🐦"),
      ["🐦"],
    ],
    [
      "a list to the two items that matter",
      [[5, 9, 2, 7, 1]],
      ([list]) => Array.isArray(list) && list.includes(9) && list.includes(1),
      [[9, 1]],
    ],
    ["a number to the limit", [977], ([number]) => Number(number) >= 12, [12]],
    ["arguments that do not matter away", [3, "x", { a: 1 }], ([number]) => number === 3, [3]],
    [
      "objects to the field that matters",
      [{ a: { b: [1, 2, 3], c: "x" }, d: 4 }],
      ([item]) => /"b":\[[^\]]*2/.test(JSON.stringify(item)),
      [{ a: { b: [2] } }],
    ],
  ])("brings %s", async (_what, args, shows, expected) => {
    const shrunk = await shrinkCase(call(...args), async (item) => shows(argsOf(item) ?? []), never);
    expect([argsOf(shrunk.item), shrunk.isDone]).toEqual([expected, true]);
  });

  it("takes steps away, and shortens input, arguments and files of a run", async () => {
    const steps: SharedCase = {
      id: "s",
      module: "m",
      steps: [
        { new: "H", as: "h" },
        { call: "a", on: "h", args: [1] },
        { call: "b", on: "h", args: [200] },
      ],
    };
    const kept = await shrinkCase(
      steps,
      async (item) => "steps" in item && item.steps.some((step) => "call" in step && step.call === "b"),
      never,
    );
    expect("steps" in kept.item && kept.item.steps).toEqual([{ call: "b", on: "h", args: [] }]);
    const run: SharedCase = {
      id: "r",
      run: {
        argv: ["--all", "--date", "x"],
        stdin: "one\ntwo\nthree\n",
        env: { A: "1" },
        files: { "a.csv": "h\n1\n2\n", "b.csv": "" },
      },
      observe: ["exit"],
    };
    const shows = async (item: SharedCase) =>
      "run" in item && item.run.stdin.includes("two") && String(item.run.files["a.csv"]).includes("2");
    const small = await shrinkCase(run, shows, never);
    expect("run" in small.item && small.item.run).toEqual({ argv: [], stdin: "two", env: {}, files: { "a.csv": "2" } });
  });

  it("stops when its time is over, with the best so far", async () => {
    let left = 3;
    const shows = async (item: SharedCase) => String(argsOf(item)?.[0]).includes("h");
    const shrunk = await shrinkCase(call("abcdefgh"), shows, { isOver: () => left-- <= 0 });
    expect([shrunk.isDone, shrunk.tries]).toEqual([false, 3]);
    expect(sizeOf(shrunk.item)).toBeLessThan(sizeOf(call("abcdefgh")));
  });

  it("always ends, and never leaves the form of what it was given", async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.jsonValue(), { maxLength: 3 }), async (args) => {
        const item = call(...(args as Json[])); // JSON by its making
        const shrunk = await shrinkCase(item, async () => true, never);
        expect(shrunk.isDone).toBe(true);
        expect([...smallerCases(shrunk.item)]).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  it("leaves nothing smaller out and gives nothing larger", () => {
    expect([...withoutPieces(["a", "b", "c"])]).toEqual([[], ["c"], ["a", "b"], ["b", "c"], ["a", "c"], ["a", "b"]]);
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        for (const smaller of smallerValues(value as Json))
          expect(JSON.stringify(smaller).length).toBeLessThanOrEqual(JSON.stringify(value).length + 1);
      }),
      { numRuns: 200 },
    );
  });
});
