import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { SharedCase } from "@/core/formats/case-line";
import { outcomeSchema } from "@/core/formats/report";
import { caseIndex } from "@/service/reading/case-index";
import type { PortReading } from "@/service/reading/reading";
import type { VerdictRow } from "@/store/verdicts";

const verdict = (part: Partial<VerdictRow>): VerdictRow => ({
  twin: "ts",
  caseId: "a",
  module: "m",
  section: "f",
  outcome: "agree",
  side: null,
  why: null,
  msOriginal: null,
  msTwin: null,
  stamp: "s",
  divergenceCount: 0,
  excuses: [],
  checkId: 1,
  ...part,
});
const reading = (cases: readonly SharedCase[]) => ({ cases }) as unknown as PortReading; // all of it that is read here
const call = (id: string, module: string): SharedCase => ({ id, module, call: "f", args: [], kwargs: {} });

describe("the index of cases", () => {
  it("has the last words of one twin by module, and counts what was never checked", () => {
    const cases = [
      call("a", "m"),
      call("b", "m"),
      call("c", "n"),
      { id: "r", run: { argv: [], stdin: "", env: {}, files: {} }, observe: [] } as SharedCase,
    ];
    const verdicts = [
      verdict({ caseId: "a", outcome: "differ" }),
      verdict({ caseId: "a", twin: "go" }),
      verdict({ caseId: "r", section: "run", module: null, outcome: "broken" }),
      verdict({ caseId: "gone" }),
    ];
    const index = caseIndex({ reading: reading(cases), verdicts, twin: "ts" });
    expect(index.verdictOf.get("a")?.outcome).toBe("differ");
    expect(index.of("m").cases.map(({ id }) => id)).toEqual(["a", "b"]);
    expect(index.of("m").totals).toMatchObject({ cases: 2, differ: 1, agree: 0 });
    expect(index.of("n").totals).toMatchObject({ cases: 1, agree: 0 });
    expect(index.of("").bySection.get("run")).toMatchObject({ cases: 1, broken: 1 });
    expect(index.of("elsewhere").totals.cases).toBe(0);
  });

  it("is the same one until cases or verdicts are others", () => {
    const [cases, verdicts] = [[call("a", "m")], [verdict({})]];
    const asked = { reading: reading(cases), verdicts, twin: "ts" };
    const index = caseIndex(asked);
    expect(caseIndex({ ...asked, reading: reading(cases) })).toBe(index);
    expect(caseIndex({ ...asked, twin: "go" })).not.toBe(index);
    expect(caseIndex({ ...asked, reading: reading([...cases]) })).not.toBe(index);
    expect(caseIndex({ ...asked, verdicts: [verdict({ outcome: "broken" })] }).of("m").totals.broken).toBe(1);
  });

  it("counts each verdict once, in its module and in its section", () => {
    const item = fc.record({
      module: fc.constantFrom("m", "n", "o"),
      section: fc.constantFrom("f", "g"),
      outcome: fc.constantFrom(...outcomeSchema.options),
      isChecked: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(item), (items) => {
        const cases = items.map(({ module }, id) => call(`${id}`, module));
        const verdicts = items.flatMap(({ isChecked, ...part }, id) =>
          isChecked ? [verdict({ ...part, caseId: `${id}` })] : [],
        );
        const index = caseIndex({ reading: reading(cases), verdicts, twin: "ts" });
        const modules = ["m", "n", "o"].map((name) => index.of(name));
        expect(modules.reduce((sum, { totals }) => sum + totals.cases, 0)).toBe(items.length);
        for (const outcome of outcomeSchema.options) {
          const own = verdicts.filter((entry) => entry.outcome === outcome).length;
          expect(modules.reduce((sum, { totals }) => sum + totals[outcome], 0)).toBe(own);
          const inSections = modules.flatMap(({ bySection }) => [...bySection.values()]);
          expect(inSections.reduce((sum, totals) => sum + totals[outcome], 0)).toBe(own);
        }
      }),
    );
  });
});
