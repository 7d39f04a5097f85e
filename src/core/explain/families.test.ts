import { describe, expect, it } from "vitest";
import { compareAnswers } from "@/core/compare/compare";
import type { Example } from "@/core/explain/cause";
import type { CaseFacts } from "@/core/explain/facets";
import { findFamilies, pathShape } from "@/core/explain/families";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { splitFacts } from "@/testing/case-facts";

const familiesOf = (examples: readonly Example[], call?: string) => {
  const { cases, controls } = splitFacts(examples, call);
  return findFamilies(cases, controls).map(({ at, cases: ids, simplest, sentence, suspects }) => ({
    at,
    cases: ids,
    simplest,
    sentence,
    cause: suspects[0]?.cause,
  }));
};

describe("families", () => {
  it("hold all that one fault did, at whatever places, with its consequences", () => {
    const families = familiesOf([
      { original: { each: 2, all: 6, note: "a" }, twin: { each: 3, all: 9, note: "b" }, args: [2.5, 3] },
      { original: { each: 4, all: 8, note: "c" }, twin: { each: 5, all: 10, note: "d" }, args: [4.5, 2] },
      { original: { each: 0, all: 0, note: "e" }, twin: { each: 1, all: 5, note: "f" }, args: [0.5, 5] },
      { original: { each: 3, all: 3, note: "g" }, twin: { each: 3, all: 3, note: "g" }, args: [3.25, 1] },
    ]);
    expect(families).toEqual([
      {
        at: "value.each",
        cases: ["c0", "c1", "c2"],
        simplest: "c0",
        sentence: "Halves rounded differently",
        cause: "rounding-mode",
      },
    ]);
  });

  it("are two when two faults show at different places of the same cases", () => {
    const families = familiesOf([
      { original: { name: "Tern", days: 1 }, twin: { name: "tern", days: "1" }, args: [1] },
      { original: { name: "Auk", days: 2 }, twin: { name: "auk", days: "2" }, args: [2] },
    ]);
    expect(families.map(({ at, cause }) => [at, cause]).sort()).toEqual([
      ["value.days", "text-and-number"],
      ["value.name", "text-case"],
    ]);
  });

  it("are two when two faults show at one place of different cases", () => {
    const families = familiesOf([
      { original: "Tern", twin: "TERN", args: [1] },
      { original: "Auk", twin: "AUK", args: [2] },
      { original: "", twin: null, args: [-1] },
      { original: "", twin: null, args: [-2] },
    ]);
    expect(families.map(({ cases, cause }) => [cases, cause]).sort()).toEqual([
      [["c0", "c1"], "text-case"],
      [["c2", "c3"], "empty-and-missing"],
    ]);
  });

  it("are one for a list, whether its length or its items differ", () => {
    const families = familiesOf([
      { original: [1, 2, 3], twin: [1, 2], args: [3] },
      { original: [1, 2, 3, 4], twin: [1, 2, 3], args: [4] },
    ]);
    expect(families.map(({ at, cause }) => [at, cause])).toEqual([["value.*", "last-item"]]);
  });

  it("name no cause where nothing fits, rather than a wrong one", () => {
    const [family] = familiesOf([
      { original: 17, twin: 4, args: [3] },
      { original: 2, twin: 90, args: [8] },
      { original: 51, twin: 33, args: [1] },
    ]);
    expect(family?.sentence).toBe("Another number at value");
    expect(family?.cause).toBeUndefined();
  });

  it("are held against the cases that agree", () => {
    const wraps: Example = { original: 4294967301, twin: 5, args: [1] };
    const agrees: Example = { original: 8589934592, twin: 8589934592, args: [2] };
    const scoreOf = (examples: readonly Example[]) => {
      const { cases, controls } = splitFacts(examples);
      return findFamilies(cases, controls)[0]?.suspects.find(({ cause }) => cause === "int32-wrap");
    };
    const [alone, contradicted] = [scoreOf([wraps]), scoreOf([wraps, agrees])];
    expect(alone?.score).toBeGreaterThan(0.9);
    expect(contradicted?.score).toBeLessThan(0.6);
    expect(contradicted?.evidence).toContain("1 agreeing cases speak against it");
  });

  it("write indices as `*`, and keep the number of an argument and of a step", () => {
    expect(["args.1.3", "steps.2.value.5", "stdout.14"].map(pathShape)).toEqual([
      "args.1.*",
      "steps.2.value.*",
      "stdout.*",
    ]);
  });

  it("write rows of a table and pixels of a picture as `*` too", () => {
    const paths = ["files.out/a.csv.T12.fare", "files.out/a.csv.header.fare", "files.out/a.png.pixels.10,21"];
    expect(paths.map(pathShape)).toEqual([
      "files.out/a.csv.*.fare",
      "files.out/a.csv.header.fare",
      "files.out/a.png.pixels.*",
    ]);
  });

  it("explain the order of a table's rows as they do that of a list", () => {
    const table = (...rows: string[]) => `boat,seats\n${rows.join("\n")}\n`;
    const run = (stdout: string) => ({ kind: "run", exit: 0, stdout, stderr: "", files: {} }) as const;
    const facts = [
      [table("Auk,4", "gull,2", "Tern,9"), table("Auk,4", "Tern,9", "gull,2")],
      [table("auk,4", "Gull,2"), table("Gull,2", "auk,4")],
    ].map(([one = "", other = ""], index): CaseFacts => {
      const [original, twin] = [run(one), run(other)];
      const terms = { equality: DEFAULT_EQUALITY, allowances: [], kinds: { stdout: "csv" as const } };
      const { divergences } = compareAnswers(original, twin, terms);
      const item = sharedCaseSchema.parse({ id: `c${index}`, run: { argv: [`${index}`] } });
      return { id: item.id, item, original, twin, divergences };
    });
    const [family, ...others] = findFamilies(facts, []);
    expect(others).toEqual([]);
    expect(family?.suspects[0]?.cause).toBe("sort-order");
  });
});
