import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fromColumns, toColumns } from "@/api/case-columns";
import type { Mark } from "@/api/case-listing";

describe("the columns of the list of cases", () => {
  it("give the list again, each thing in common once", () => {
    const listing = fc.record({
      id: fc.string(),
      module: fc.constantFrom("m", "n", null),
      section: fc.constantFrom("f", "g"),
      mark: fc.constantFrom<Mark>("agree", "differ", "idle"),
      from: fc.constantFrom("hand", null),
      stale: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(listing), (cases) => {
        const columns = toColumns(cases);
        expect(fromColumns(columns)).toEqual(cases);
        const facts = new Set(cases.map(({ id: _id, ...rest }) => JSON.stringify(rest)));
        expect(columns.shared).toHaveLength(facts.size);
      }),
    );
  });
});
