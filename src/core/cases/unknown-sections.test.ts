import { describe, expect, it } from "vitest";
import { unknownSections } from "@/core/cases/unknown-sections";
import { parseCaseLines } from "@/core/formats/case-line";

const modules = [{ name: "quays", originalSources: [{ sections: [{ name: "berth" }, { name: "Crane" }] }] }];
const unknown = (...lines: readonly object[]) =>
  unknownSections(parseCaseLines(lines.map((line) => JSON.stringify(line)).join("\n"), "cases"), modules);

describe("cases of no known section", () => {
  it("names each once, and none that the original has", () => {
    expect(
      unknown(
        { id: "a", module: "quays", call: "berth", args: [] },
        { id: "b", module: "quays", call: "bert", args: [] },
        { id: "c", module: "quays", call: "bert", args: [1] },
        {
          id: "d",
          module: "quays",
          steps: [
            { new: "Crane", args: [], as: "o" },
            { call: "lift", on: "o", args: [] },
          ],
        },
        { id: "e", module: "quays", steps: [{ new: "Cran", args: [], as: "o" }] },
        { id: "f", run: { argv: ["x"] } },
      ),
    ).toEqual(["quays.bert", "quays.Cran"]);
  });
});
