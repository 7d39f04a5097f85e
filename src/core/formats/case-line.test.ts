import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { callCaseSchema, parseCaseLines, readPlainCall } from "@/core/formats/case-line";

const line = (extra: object) => JSON.stringify({ id: "c1", module: "m", call: "f", ...extra });

describe("case lines", () => {
  it("are read in their three forms, blank lines passed over", () => {
    const text = [
      line({ args: [1] }),
      "",
      JSON.stringify({
        id: "s",
        module: "m",
        steps: [
          { new: "H", as: "h" },
          { call: "go", on: "h" },
          { get: "x", on: "h" },
          { set: "x", on: "h", value: 2 },
        ],
      }),
      JSON.stringify({ id: "r", run: { argv: ["--x"] } }),
    ].join("\r\n");
    const cases = parseCaseLines(text, "a.jsonl");
    expect(cases.map((item) => item.id)).toEqual(["c1", "s", "r"]);
    expect(cases[0]).toMatchObject({ args: [1], kwargs: {} });
    expect(cases[2]).toMatchObject({ run: { argv: ["--x"], stdin: "", files: {} }, observe: ["exit", "stdout"] });
  });

  it.each<[string, string, RegExp]>([
    ["text that is not JSON", `${line({})}\n{oops`, /Not JSON: .* in a\.jsonl, line 2/],
    ["a list", "[1]", /must be a JSON object in a\.jsonl, line 1/],
    ["none of the forms", '{"id":"x","module":"m"}', /needs one of "call", "steps" or "run" in a\.jsonl, line 1/],
    ["an unknown key", line({ argz: [] }), /Unknown key "argz" in a\.jsonl, line 1, key argz/],
    ["a missing id", '{"module":"m","call":"f"}', /"id" is missing in a\.jsonl, line 1/],
    ["an id used before", `${line({})}\n\n${line({})}`, /"c1" is already used in a\.jsonl, line 1 in a\.jsonl, line 3/],
    ["a bad observe", '{"id":"r","run":{},"observe":["stdin"]}', /a\.jsonl, line 1, key observe\.0/],
    [
      "a name that would be lost",
      line({ kwargs: JSON.parse('{"__proto__":1}') }),
      /"__proto__" .* key kwargs\.__proto__/,
    ],
    ["a step of no kind", '{"id":"s","module":"m","steps":[{"fly":1}]}', /a\.jsonl, line 1/],
  ])("with %s are refused", (_what, text, message) => {
    expect(() => parseCaseLines(text, "a.jsonl")).toThrow(message);
  });

  it("are refused when they are nested too deep, brackets in texts aside", () => {
    const deep = line({ args: [JSON.parse(`${"[".repeat(600)}${"]".repeat(600)}`)] });
    expect(() => parseCaseLines(`${line({ id: "a" })}\n${deep}`, "a.jsonl")).toThrow(
      /deeper than 500 levels in a\.jsonl, line 2/,
    );
    const flat = line({ args: [`\\"${"[{".repeat(900)}`, "x".repeat(2_000_000)] });
    expect(parseCaseLines(flat, "a.jsonl")).toHaveLength(1);
  });

  it("are read by hand as the schema reads them, or left to it", () => {
    const mostly = (usual: fc.Arbitrary<unknown>) =>
      fc.oneof({ weight: 12, arbitrary: usual }, { weight: 1, arbitrary: fc.jsonValue() });
    const name = mostly(fc.constantFrom("m", "n", "o", ""));
    const record = fc.record(
      {
        id: name,
        module: name,
        call: name,
        args: mostly(fc.array(fc.jsonValue())),
        kwargs: mostly(fc.dictionary(fc.oneof(fc.string(), fc.constant("__proto__")), fc.jsonValue())),
        title: fc.string(),
      },
      { requiredKeys: ["id", "module", "call"] },
    );
    const read = { byHand: 0, left: 0 };
    fc.assert(
      fc.property(record, (made) => {
        const value = JSON.parse(JSON.stringify(made));
        const byHand = readPlainCall(value);
        const bySchema = callCaseSchema.safeParse(value);
        if (byHand) {
          read.byHand++;
          expect(bySchema.data).toEqual(byHand);
        } else {
          read.left++;
          expect(bySchema.success && !("title" in value)).toBe(false);
        }
      }),
      { numRuns: 3000 },
    );
    expect(Math.min(read.byHand, read.left)).toBeGreaterThan(20);
  });
});
