/** The code of both sides as evidence: which sign counts, where it is, and what it does to the order of suspects. */
import { describe, expect, it } from "vitest";
import { CAUSES } from "@/core/explain/causes/index";
import { type CodeSigns, readSigns, type SectionCode, type SideCode } from "@/core/explain/code";
import type { CaseFacts } from "@/core/explain/facets";
import { findFamilies } from "@/core/explain/families";
import type { Divergence } from "@/core/formats/report";

const side = (language: string, file: string, ...texts: string[]): SideCode => ({
  language,
  lines: texts.map((text, index) => ({ file, line: 10 + index, text })),
});
const code = (original: string, twin: string): SectionCode => ({
  original: side("python", "fare.py", original),
  twin: side("typescript", "fare.ts", "export function fare(x: number) {", twin),
});
const ROUND: CodeSigns = { original: { python: /round\(/ }, twin: { any: /Math\.round/ } };

describe("signs in the code", () => {
  it("count where both sides have one, and name the twin's place", () => {
    expect(readSigns(ROUND, code("return round(x)", "return Math.round(x);"))).toEqual({
      weight: 0.35,
      evidence: "round( beside Math.round in fare.ts:11",
      place: { file: "fare.ts", line: 11 },
    });
    expect(readSigns({ ...ROUND, strength: "slight" }, code("round(x)", "Math.round(x)"))?.weight).toBe(0.1);
  });

  it("count against a cause where the twin has none, and neither way where only the twin has one", () => {
    expect(readSigns(ROUND, code("return round(x)", "return x;"))).toEqual({ weight: -0.15, evidence: "" });
    expect(readSigns(ROUND, code("return x", "Math.round(x)"))).toMatchObject({ weight: 0, place: { line: 11 } });
  });

  it("say nothing of languages without signs, nor without code", () => {
    expect(readSigns({ twin: { python: /round/ } }, code("", "Math.round(x)"))).toBeNull();
    expect(readSigns(ROUND, undefined)).toBeNull();
    expect(readSigns(undefined, code("", ""))).toBeNull();
  });

  it("are numbers that only one side has, where each has one", () => {
    const numbers: CodeSigns = { numbers: true };
    expect(readSigns(numbers, code("return n * 3 // 7  # of 9", "return n * 3 % 8; // 9"))).toEqual({
      weight: 0.35,
      evidence: "7 beside 8 in fare.ts:11",
      place: { file: "fare.ts", line: 11 },
    });
    // Without a number of its own the twin speaks against it; with one more it may have been added.
    expect(readSigns(numbers, code("return n % 7", "return n % 7 + 1;"))).toMatchObject({ weight: -0.15 });
    expect(readSigns(numbers, code("return n % 7", "return n % 7 + 60;"))).toBeNull();
  });

  it("are patterns that can be used again, of known languages", () => {
    for (const { name, inCode } of CAUSES)
      for (const signs of [inCode?.original, inCode?.twin])
        for (const pattern of Object.values(signs ?? {})) expect(pattern.flags, name).not.toMatch(/[gy]/);
  });
});

const fact = (id: string, original: number, twin: number, input: number): CaseFacts => ({
  id,
  item: { id, module: "fare", call: "fare", args: [input], kwargs: {} },
  original: { kind: "call", value: original, args: [], kwargs: {}, printed: "" },
  twin: { kind: "call", value: twin, args: [], kwargs: {}, printed: "" },
  divergences: [{ at: "value", original, twin, kind: "number" } as Divergence],
});

describe("suspects beside the code", () => {
  const one = [fact("a", 172, 173, 3)];
  const agreeing = [fact("b", 57, 57, 1)];

  it("turns round what a single case leaves open", () => {
    const [plain] = findFamilies(one, agreeing);
    expect(plain?.suspects[0]?.cause).toBe("off-by-one");
    const [read] = findFamilies(one, agreeing, code("    return round(x * 57.5)", "  return Math.round(x * 57.5);"));
    expect(read?.suspects[0]).toMatchObject({ cause: "rounding-mode", place: { file: "fare.ts", line: 11 } });
    expect(read?.suspects[0]?.evidence).toMatch(/round\( beside Math\.round in fare\.ts:11$/);
  });

  it("does not make a cause of what the answers hardly show", () => {
    const [read] = findFamilies([fact("a", 10, 4711, 3)], [], code("round(x)", "Math.round(x)"));
    expect(read?.suspects.map(({ cause }) => cause)).not.toContain("rounding-mode");
  });
});
