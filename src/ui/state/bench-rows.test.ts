/** The chosen row of the Bench, while rows are hidden or renamed. */
import { describe, expect, it } from "vitest";
import type { BenchView } from "@/api/views";
import { emptyTotals } from "@/core/formats/report";
import { describeRow, describeTapeCase, placeOf } from "@/ui/state/bench-rows";

type Row = BenchView["rows"][number];
const row = (id: string, extra: object = {}): Row =>
  ({ id, name: id, kind: "function", relation: "renamed", totals: emptyTotals(), ...extra }) as Row; // the rest is not looked at
const all = ["a", "b", "c", "d"].map((id) => row(id));
const shown = (...ids: string[]) => all.filter(({ id }) => ids.includes(id));

describe("the chosen row", () => {
  it("is the first where none is, and found by its id wherever it is", () => {
    expect(placeOf(null, all, all)).toBe(0);
    expect(placeOf("c", all, all)).toBe(2);
    expect(placeOf("c", shown("a", "c"), all)).toBe(1);
  });

  it("goes on to the next that is shown, else the one before, where it is hidden", () => {
    expect(placeOf("b", shown("a", "d"), all)).toBe(1);
    expect(placeOf("d", shown("a", "c"), all)).toBe(1);
    expect(placeOf("gone", shown("a", "c"), all)).toBe(0);
    expect(placeOf("b", [], all)).toBe(0);
  });

  it("is told in words", () => {
    const totals = { ...emptyTotals(), cases: 5, agree: 2, allowed: 1, differ: 2 };
    expect(describeRow(row("fare_for", { totals }))).toBe("fare_for, renamed, 3 of 5 cases agree");
    expect(describeRow(row("x", { totals: { ...totals, agree: 0, allowed: 0, skipped: 5 } }))).toMatch(
      /not ported yet/,
    );
    expect(describeRow(row("", { kind: "between", relation: "between" }))).toBe("between sections");
    expect(describeRow(undefined)).toBe("");
    const words = { differ: "differs" };
    expect(describeTapeCase({ id: "c1", section: "f", mark: "differ", stale: true }, words)).toBe(
      "c1: differs, out of date",
    );
    expect(describeTapeCase(null, words)).toBe("");
  });
});
