import { describe, expect, it } from "vitest";
import { type TracedCall, toCallTree } from "@/core/tracing/call-tree";
import { findInner, flatten, type LevelTerms, layLevel } from "@/core/tracing/level";

const call = (section: string, args: number[], value: number | null, ...calls: TracedCall[]): TracedCall => ({
  file: "m",
  section,
  kind: "call",
  args,
  kwargs: {},
  value: value ?? undefined,
  thrown: value === null ? { kind: "E", message: "" } : undefined,
  calls,
});
const terms: LevelTerms = {
  originalName: ({ section }) => (section.startsWith("_") ? null : section),
  twinName: ({ section }) => (section.startsWith("_") ? null : section.toLowerCase()),
  isGivenSame: (left, right) => JSON.stringify(left.args) === JSON.stringify(right.args),
  isAnsweredSame: (left, right) => left.value === right.value,
};
const lines = (left: TracedCall[], right: TracedCall[]) =>
  flatten(layLevel(left, right, terms)).map(({ call: { section, state }, depth }) => `${depth} ${section} ${state}`);
const inner = (left: TracedCall[], right: TracedCall[]) => {
  const found = findInner(layLevel(left, right, terms));
  return found && `${found.call.section}: ${found.why}`;
};

describe("the tree of calls", () => {
  it("is built of events, also where what is awaited ends late and some never end", () => {
    const enter = (number: number, section: string) => ({
      enter: number,
      file: "m",
      section,
      kind: "call",
      args: [],
      kwargs: {},
    });
    const tree = toCallTree([
      enter(1, "a"),
      enter(2, "b"),
      enter(3, "c"),
      { leave: 2, value: 1 },
      { leave: 3, thrown: { kind: "E" } },
      { leave: 1, value: 2 },
      enter(4, "d"),
      null,
      { odd: true },
    ]);
    expect(tree).toMatchObject([
      { section: "a", value: 2, calls: [{ section: "b", value: 1, calls: [{ section: "c", thrown: { kind: "E" } }] }] },
      { section: "d", value: undefined, thrown: undefined },
    ]);
  });
});

describe("two trees laid level", () => {
  it("pair calls by section and order; those of unpaired sections count as their caller's", () => {
    const left = [call("f", [1], 1, call("g", [1], 1), call("_h", [], 1, call("k", [2], 2)))];
    const right = [call("F", [1], 1, call("G", [1], 1), call("K", [2], 2))];
    expect(lines(left, right)).toEqual(["0 f same", "1 g same", "1 k same"]);
  });

  it("name what only one side calls, and what cannot be told", () => {
    const odd = { ...terms, isAnsweredSame: () => null };
    expect(lines([call("f", [], 1), call("g", [], 1)], [call("g", [], 1), call("k", [], 1)])).toEqual([
      "0 f only-original",
      "0 g same",
      "0 k only-twin",
    ]);
    expect(layLevel([call("f", [], 1)], [call("f", [], 1)], odd)[0]?.state).toBe("cannot-be-written");
  });
});

describe("the innermost call that parts", () => {
  it("was given the same and answered otherwise, while all within agreed or did no harm", () => {
    const left = [call("f", [1], 9, call("g", [1], 5, call("k", [3], 3)), call("k", [4], 4))];
    const right = [call("f", [1], 8, call("g", [1], 6, call("k", [3], 3)), call("k", [4], 4))];
    expect(inner(left, right)).toBe("g: same arguments, other answer");
    const harmless = [call("f", [1], 9, call("g", [1], 5, call("k", [3], 7)), call("h", [2], 1))];
    const other = [call("f", [1], 8, call("g", [1], 5, call("k", [3], 8)), call("h", [2], 2))];
    expect(inner(harmless, other)).toBe("h: same arguments, other answer");
  });

  it("is the caller where what it hands on differs, and what one side alone calls where nothing parts", () => {
    expect(inner([call("f", [1], 9, call("g", [1], 5))], [call("f", [1], 8, call("g", [2], 6))])).toBe(
      "f: same arguments, other answer",
    );
    expect(inner([call("f", [1], 1, call("g", [], 1))], [call("f", [1], 1)])).toBe(
      "g: only the original makes this call",
    );
    expect(inner([call("f", [1], 1)], [call("f", [1], 1)])).toBeNull();
  });

  it("is the innermost that throws on both sides where none parts: errors are not compared on the way", () => {
    const thrown = () => [call("f", [1], null, call("g", [1], null), call("h", [2], 3))];
    expect(inner(thrown(), thrown())).toBe("g: same arguments, another error");
    expect(inner([call("f", [1], null, call("g", [1], null))], [call("f", [1], null, call("g", [2], null))])).toBe(
      "f: same arguments, another error",
    );
  });
});
