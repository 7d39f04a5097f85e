import { describe, expect, it } from "vitest";
import { type DraftInput, placeDraft } from "@/core/drafting/place-draft";
import type { Section } from "@/core/source/section";

const section = (name: string, from: number, to = from, kind: Section["kind"] = "function"): Section => ({
  name,
  kind,
  from,
  to,
  complexity: 1,
  params: [],
});
const HELPERS = new Map([
  ["pyKeys", "function pyKeys(of) {\n  return pyOrder(of);\n}"],
  ["pyOrder", "function pyOrder(of) {\n  return Object.keys(of);\n}"],
  ["pyOther", "function pyOther() {}"],
]);
const place = (line: string, more: Partial<DraftInput> = {}) =>
  placeDraft({
    original: [section("LIMIT", 1, 1, "constant"), section("f", 2)],
    drafted: {
      lines: ["LIMIT = 3", line],
      sections: [section("LIMIT", 1, 1, "constant"), section("f", 2)],
      imports: [],
    },
    twin: null,
    isWanted: (index) => index === 1,
    paired: new Map(),
    nameOf: (name) => name,
    helpers: HELPERS,
    blocksByIndentation: false,
    ...more,
  }).lines;
const twin = { lines: ["first", "f old", "last"], sections: [section("f", 2)], imports: [] };

describe("placing a draft", () => {
  it("brings the helpers that it calls and those that they call, spread ones too, and no others", () => {
    for (const line of ["f: pyKeys(x)", "f: [...pyKeys(x)]"]) {
      const text = place(line).join("\n");
      expect(text).toContain("function pyKeys");
      expect(text).toContain("function pyOrder");
      expect(text).not.toContain("pyOther");
    }
    expect(place("f: x.pyOther(), my_pyOther()").join("\n")).not.toContain("function pyOther");
  });

  it("takes no helper that the file has already", () => {
    const known = {
      ...twin,
      lines: [...twin.lines, "function pyKeys"],
      sections: [...twin.sections, section("pyKeys", 4)],
    };
    expect(place("f: pyKeys(x)", { twin: known, isWanted: () => true }).join("\n")).not.toContain("pyOrder");
  });

  it("puts the constants that it needs before a section that it replaces at the same line", () => {
    const paired = new Map([[1, section("f", 1)]]);
    const file = { lines: ["f old", "last"], sections: [section("f", 1)], imports: [] };
    expect(place("f: LIMIT", { twin: file, paired })).toEqual(["LIMIT = 3", "f: LIMIT", "last"]);
    expect(place("f: 4", { twin: file, paired })).toEqual(["f: 4", "last"]);
  });
});
