import { describe, expect, it } from "vitest";
import { findDottedNames, findLineMatches, isKept } from "@/core/phrasebook/match-lines";

describe("lines that fit a pattern", () => {
  const found = (source: string, from: string) =>
    findLineMatches(source, { from }).map(({ from: start, to, held }) => [
      source.slice(start, to),
      Object.fromEntries([...held].map(([name, range]) => [name, source.slice(range.from, range.to)])),
    ]);

  it("are whole, white space outside aside, in any line ending", () => {
    const source = "  dock: 4 \r\nxdock: 4\ndock: 4 # no\ndock:  4";
    expect(found(source, "dock: 4")).toEqual([
      ["dock: 4", {}],
      ["dock:  4", {}],
    ]);
  });

  it("hold what blanks stand for, shortest first, and the same text where one is named twice", () => {
    expect(found("set a to b to c", "set (:x:) to (:y:)")).toEqual([["set a to b to c", { x: "a", y: "b to c" }]]);
    expect(found("a = a\na = b", "(:x:) = (:x:)")).toEqual([["a = a", { x: "a" }]]);
    expect(found("call()", "call((:rest..:))")).toEqual([["call()", { rest: "" }]]);
    expect(found("call()", "call((:one:))")).toEqual([]);
  });

  it("take signs of regular expressions as they are", () => {
    expect(found("a.b*c\naxb*c", "a.b*c")).toEqual([["a.b*c", {}]]);
  });

  it("are not looked for in lines of data", () => {
    expect(found(`set ${"x".repeat(6000)}`, "set (:x:)")).toEqual([]);
  });
});

describe("dotted names", () => {
  const found = (source: string, from: string) => findDottedNames(source, from).map(({ full }) => full);

  it.each([
    ["sea.quay and sea.quay.berth", "sea.quay", ["sea.quay", "sea.quay.berth"]],
    ["sea.quays xsea.quay sea.quay1", "sea.quay", []],
    ["a.sea.quay a->sea.quay ...sea.quay", "sea.quay", ["sea.quay"]],
    ["sea::quay::berth sea\\quay", "sea.quay", ["sea.quay.berth", "sea.quay"]],
    ["sea\n  .quay\n  .berth()", "sea.quay", ["sea.quay.berth"]],
    ["hafen.größe.x", "hafen.größe", ["hafen.größe.x"]],
  ])("in %j", (source, from, expected) => expect(found(source, from)).toEqual(expected));

  it("name the part that moves", () => {
    const source = "x = sea . quay.berth";
    const [first] = findDottedNames(source, "sea.quay");
    expect(first && source.slice(first.moved.from, first.moved.to)).toBe("sea . quay");
  });
});

describe("what stays of a moved name", () => {
  it.each([
    ["sea.quay", ["sea.quay"], true],
    ["sea.quay.berth", ["sea.quay"], true],
    ["sea.quays", ["sea.quay"], false],
    ["sea.quay.berth", ["sea.quay.*"], true],
    ["sea.quay.berth.x", ["sea.quay.*"], false],
    ["sea.quay", ["sea.quay.*"], false],
    ["sea.quay", ["sea.quay.**"], true],
    ["sea.quay.berth.x", ["sea.quay.**"], true],
    ["sea.quayx", ["sea.quay.**"], false],
    ["sea.quay", [], false],
  ])("%s by %j: %s", (full, keep, expected) => expect(isKept(full, keep)).toBe(expected));
});
