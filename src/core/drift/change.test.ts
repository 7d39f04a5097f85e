import { describe, expect, it } from "vitest";
import { changeOf } from "@/core/drift/change";

const shown = (before: string, now: string) =>
  changeOf(before, now).map(
    (line) => `${line.kind} ${line.before ?? "-"} ${line.now ?? "-"} ${line.parts.map(({ text }) => text).join("")}`,
  );
const numbered = (from: number, to: number) =>
  Array.from({ length: to - from + 1 }, (_, index) => `line ${from + index}`);

describe("a change as it is shown", () => {
  it("has the lines that went and came, with those around them", () => {
    expect(shown("a\nb\nc", "a\nx\nc")).toEqual(["same 1 1 a", "gone 2 - b", "new - 2 x", "same 3 3 c"]);
    expect(shown("a", "a\nb")).toEqual(["same 1 1 a", "new - 2 b"]);
    expect(shown("a\nb", "b")).toEqual(["gone 1 - a", "same 2 1 b"]);
  });

  it("is nothing where nothing changed", () => {
    expect(changeOf("a\nb", "a\nb").filter(({ kind }) => kind !== "same")).toEqual([]);
  });

  it("leaves lines out that are far from all changes, and keeps their numbers", () => {
    const before = ["old", ...numbered(2, 12), "last"].join("\n");
    const now = ["new", ...numbered(2, 12), "end"].join("\n");
    expect(shown(before, now)).toEqual([
      "gone 1 - old",
      "new - 1 new",
      "same 2 2 line 2",
      "same 3 3 line 3",
      "same 11 11 line 11",
      "same 12 12 line 12",
      "gone 13 - last",
      "new - 13 end",
    ]);
  });

  it("marks what differs within two lines that belong together", () => {
    const [gone, came] = changeOf("fare = price * 2", "fare = price * 3");
    const marked = (line: typeof gone) => line?.parts.filter(({ differs }) => differs).map(({ text }) => text.trim());
    expect(marked(gone)).toEqual(["2"]);
    expect(marked(came)).toEqual(["3"]);
  });
});
