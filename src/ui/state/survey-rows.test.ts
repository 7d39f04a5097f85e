import { describe, expect, it } from "vitest";
import { type RowOrder, type SurveyRow, surveyTable } from "@/ui/state/survey-rows";

const row = (module: string, lines: number, complexity: number): SurveyRow => ({
  module,
  lines,
  complexity,
  sections: 1,
  proven: null,
  isDone: false,
  files: [`${module}.py`],
});
const column = (name: string) => ({ name, snag: null, uses: 1, modules: 1, left: 1, way: null, note: null });
const survey = {
  rows: [row("quays", 40, 9), row("berths", 90, 2), row("cranes", 10, 5)],
  grid: {
    columns: [column("json"), column("socket")],
    cells: [
      { module: "quays", column: "json", uses: 2 },
      { module: "cranes", column: "json", uses: 7 },
      { module: "berths", column: "socket", uses: 1 },
    ],
  },
};
const table = (words: string, order: RowOrder = "layer", chosen: string | null = null) => {
  const { rows, columns } = surveyTable(survey, { words, order, column: chosen });
  return { rows: rows.map(({ module }) => module), columns: columns.map(({ name }) => name) };
};

describe("the rows of the Survey", () => {
  it.each([
    ["layer", ["quays", "berths", "cranes"]],
    ["name", ["berths", "cranes", "quays"]],
    ["lines", ["berths", "quays", "cranes"]],
    ["complexity", ["quays", "cranes", "berths"]],
  ] as const)("sorts by %s", (order, rows) => {
    expect(table("", order)).toEqual({ rows, columns: ["json", "socket"] });
  });

  it("sorts by the uses of the chosen column", () => {
    expect(table("", "uses", "json").rows).toEqual(["cranes", "quays", "berths"]);
  });

  it("narrows by a module's name and keeps every column", () => {
    expect(table("Cran")).toEqual({ rows: ["cranes"], columns: ["json", "socket"] });
  });

  it("narrows by a column's name to the modules that use it", () => {
    expect(table("sock")).toEqual({ rows: ["berths"], columns: ["socket"] });
  });

  it("shows no row where nothing matches", () => {
    expect(table("zzz").rows).toEqual([]);
  });
});
