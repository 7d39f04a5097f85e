import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { alignItems, type Hunk } from "@/core/compare/align";

/** Longest common subsequence by the textbook table: the slow second opinion. */
function longestCommon(one: readonly string[], other: readonly string[]): number {
  let row = new Array<number>(other.length + 1).fill(0);
  for (const item of one) {
    const next = [0];
    for (const [index, partner] of other.entries()) {
      next.push(item === partner ? (row[index] ?? 0) + 1 : Math.max(row[index + 1] ?? 0, next[index] ?? 0));
    }
    row = next;
  }
  return row[other.length] ?? 0;
}

/** What lies outside the hunks, on both sides. */
function matches(one: readonly string[], other: readonly string[], hunks: readonly Hunk[]): [string[], string[]] {
  const outside = (items: readonly string[], from: "originalFrom" | "twinFrom", to: "originalTo" | "twinTo") =>
    items.filter((_item, index) => !hunks.some((hunk) => index >= hunk[from] && index < hunk[to]));
  return [outside(one, "originalFrom", "originalTo"), outside(other, "twinFrom", "twinTo")];
}

const items = fc.array(fc.constantFrom("a", "b", "c", "d", "e", "f"), { maxLength: 24 });

describe("alignment", () => {
  it("matches only equal items, in order", () => {
    fc.assert(
      fc.property(items, items, (one, other) => {
        const [left, right] = matches(one, other, alignItems(one, other));
        expect(left).toEqual(right);
      }),
      { numRuns: 500 },
    );
  });

  it("finds the longest match where no item is unique", () => {
    const twice = fc
      .array(fc.constantFrom("a", "b"), { minLength: 4, maxLength: 14 })
      .map((list) => [...list, ...list]);
    fc.assert(
      fc.property(twice, twice, (one, other) => {
        const [left] = matches(one, other, alignItems(one, other));
        expect(left.length).toBeGreaterThanOrEqual(longestCommon(one, other) - 2);
      }),
    );
  });

  it("shows an inserted line as one hunk", () => {
    expect(alignItems(["a", "b", "c"], ["a", "new", "b", "c"])).toEqual([
      { originalFrom: 1, originalTo: 1, twinFrom: 1, twinTo: 2 },
    ]);
  });

  it("stays usable when nothing matches", () => {
    const one = Array.from({ length: 20_000 }, (_, index) => `a${index}`);
    const other = Array.from({ length: 20_000 }, (_, index) => `b${index}`);
    expect(alignItems(one, other)).toEqual([{ originalFrom: 0, originalTo: 20_000, twinFrom: 0, twinTo: 20_000 }]);
  });
});
