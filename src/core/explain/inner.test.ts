/** Families in parts, by the inner calls at which their cases part. */
import { describe, expect, it } from "vitest";
import type { CaseFacts } from "@/core/explain/facets";
import { type Family, findFamilies } from "@/core/explain/families";
import { joinAtSection, type PartedCase, splitByInner } from "@/core/explain/inner";
import type { Divergence } from "@/core/formats/report";

const answer = (value: number) => ({ kind: "call" as const, value, args: [], kwargs: {}, printed: "" });
const call = (id: string, input: number, original: number, twin: number): CaseFacts => ({
  id,
  item: { id, module: "tide", call: "level", args: [input], kwargs: {} },
  original: answer(original),
  twin: answer(twin),
  divergences: [{ at: "value", original, twin, kind: "number" } as Divergence],
});

/** Three cases of one look: two part in `clock.hours` by cutting, one in `tide.level` by another fault. */
const outer = ["a", "b", "c"].map((id, index) => call(id, index, 10, 11));
const family = findFamilies(outer, [])[0] as Family; // cases that differ have a family
const parted = (id: string, section: string, alone: CaseFacts | null): PartedCase => ({
  id,
  section,
  path: ["main.show", section],
  alone,
  seen: null,
});

describe("splitting a family by its inner calls", () => {
  it("leaves a family as it is where no case parts", () => {
    expect(splitByInner(family, [])).toEqual([family]);
  });

  it("makes one family of each section, with its suspects and its smallest call first", () => {
    const split = splitByInner(family, [
      parted("a", "clock.hours", call("x", -9000, -150, -149)),
      parted("b", "clock.hours", call("y", -9, -1, 0)),
      parted("c", "tide.level", null),
    ]);
    expect(split.map(({ cases, inner }) => [cases, inner?.section, inner?.shared])).toEqual([
      [["a", "b"], "clock.hours", 2],
      [["c"], "tide.level", 1],
    ]);
    expect(split[0]?.inner?.alone?.item).toMatchObject({ args: [-9] });
    expect(split[0]?.inner?.path).toEqual(["main.show", "clock.hours"]);
    expect(split[1]?.inner?.alone).toBeNull();
    expect(split[1]?.simplest).toBe("c");
  });

  it("keeps untraced cases with the only part, and apart where there are several", () => {
    const one = splitByInner(family, [parted("b", "clock.hours", call("y", -9, -1, 0))]);
    expect(one).toMatchObject([{ cases: ["a", "b", "c"], inner: { section: "clock.hours", shared: 1 } }]);
    const two = splitByInner(family, [parted("a", "clock.hours", null), parted("b", "tide.level", null)]);
    expect(two.map(({ cases, inner }) => [cases, inner?.section ?? null])).toEqual([
      [["a"], "clock.hours"],
      [["b"], "tide.level"],
      [["c"], null],
    ]);
  });

  it("separates two faults of one section", () => {
    const text = (id: string, original: string, twin: string): CaseFacts => ({
      ...call(id, 1, 0, 0),
      original: { ...answer(0), value: original },
      twin: { ...answer(0), value: twin },
      divergences: [{ at: "thrown.message", original, twin, kind: "text" } as Divergence],
    });
    const split = splitByInner(family, [
      parted("a", "clock.hours", call("x", -90, -2, -1)),
      parted("b", "clock.hours", call("y", -150, -3, -2)),
      parted("c", "clock.hours", text("z", "no such day", "bad day")),
    ]);
    expect(split.map(({ cases }) => cases)).toEqual([["a", "b"], ["c"]]);
  });
});

describe("joining what parts in one section", () => {
  const own = [call("o-1", -7, -2, -1), call("o-2", -9, -3, -2)];
  const direct = findFamilies(own, []);
  const none = { facts: own, controls: [], code: undefined };
  const inside = parted("a", "tide.level", call("x", -11, -3, -2));

  it("makes one family of its own cases and of those that lead there", () => {
    const pieces = splitByInner(family, [inside, parted("b", "tide.level", null)]);
    const joined = joinAtSection("tide.level", { ...none, pieces, direct, parted: [inside] });
    expect(joined).toMatchObject([
      { cases: ["o-1", "o-2", "a", "b", "c"], simplest: "o-1", inner: { section: "tide.level", shared: 1 } },
    ]);
    expect(joined[0]?.inner?.alone?.item).toMatchObject({ args: [-11] });
    expect(joined[0]?.inner?.path).toEqual(["main.show", "tide.level"]);
    expect(joined[0]?.suspects[0]?.cause).toBe("floor-or-truncate");
  });

  it("reads a call as it was observed where it cannot be made alone, and shows no case of it", () => {
    const seen = { ...parted("a", "tide.level", null), seen: call("x", -11, -3, -2) };
    const pieces = splitByInner(family, [seen]);
    const [joined, ...more] = joinAtSection("tide.level", { ...none, pieces, direct: [], facts: [], parted: [seen] });
    expect(more).toEqual([]);
    expect(joined).toMatchObject({ cases: ["a", "b", "c"], inner: { alone: null, shared: 1 } });
  });

  it("leaves families as they are where no inner call is known", () => {
    const unseen = parted("a", "tide.level", null);
    const pieces = splitByInner(family, [unseen]);
    expect(joinAtSection("tide.level", { ...none, pieces, direct, parted: [unseen] })).toEqual([...direct, ...pieces]);
  });

  it("keeps traced cases that part in the family's own section apart from those that part deeper", () => {
    const split = splitByInner(family, [inside], new Map(), new Set(["b"]));
    expect(split.map(({ cases, inner }) => [cases, inner?.section ?? null])).toEqual([
      [["b", "c"], null],
      [["a"], "tide.level"],
    ]);
  });
});
