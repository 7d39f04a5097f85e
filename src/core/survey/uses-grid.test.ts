import { describe, expect, it } from "vitest";
import { makeUsesGrid, placesOf } from "@/core/survey/uses-grid";

const at = (file: string, ...lines: number[]) => lines.map((line) => ({ file, line }));
const survey = {
  outside: [
    { package: "datetime", name: "date", uses: at("a.py", 3, 9) },
    { package: "datetime", name: "timedelta", uses: at("b.py", 4) },
    { package: "json", name: "dumps", uses: at("b.py", 5, 6, 7, 8) },
  ],
  snags: [
    {
      kind: "time" as const,
      name: "datetime.date",
      title: "Clock and time zones",
      why: "because",
      uses: at("a.py", 3, 9),
    },
    { kind: "dynamic" as const, name: "getattr", title: "Attributes by name", why: "because", uses: at("a.py", 7) },
    { kind: "dynamic" as const, name: "vars", title: "Attributes by name", why: "because", uses: at("a.py", 2) },
  ],
};
const terms = {
  moduleOf: new Map([
    ["a.py", "a"],
    ["b.py", "b"],
  ]),
  done: new Set(["b"]),
  choices: [],
};

describe("the grid of uses", () => {
  it("has snags first, the language's own by what they are, and what is left in the modules that are not done", () => {
    const { columns, cells } = makeUsesGrid(survey, terms);
    expect(columns.map(({ name, snag, uses, modules, left }) => [name, snag?.kind, uses, modules, left])).toEqual([
      ["datetime", "time", 3, 2, 2],
      ["Attributes by name", "dynamic", 2, 1, 2],
      ["json", undefined, 4, 1, 0],
    ]);
    expect(cells).toContainEqual({ module: "a", column: "datetime", uses: 2 });
  });

  it("takes what a person decided, and snags of their own by a pattern", () => {
    const choices = [
      { name: "datetime", way: "wrap" as const, note: "one small day" },
      { name: "our writer", match: "json.*" },
    ];
    const { columns } = makeUsesGrid(survey, { ...terms, choices });
    expect(columns.find(({ name }) => name === "datetime")).toMatchObject({ way: "wrap", note: "one small day" });
    expect(columns.find(({ name }) => name === "our writer")).toMatchObject({ snag: { kind: "own" }, uses: 4 });
  });

  it("gives the places of a column in the order of the files", () => {
    expect(placesOf(survey, [], "datetime")).toEqual([...at("a.py", 3, 9), ...at("b.py", 4)]);
    expect(placesOf(survey, [], "Attributes by name")).toEqual(at("a.py", 2, 7));
    expect(placesOf(survey, [], "none")).toEqual([]);
  });
});
