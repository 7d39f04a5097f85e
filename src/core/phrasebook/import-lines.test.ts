import { describe, expect, it } from "vitest";
import { isSameModule, parseImport, withoutNames } from "@/core/phrasebook/import-lines";

const names = (...list: (string | [string, string])[]) =>
  list.map((entry) =>
    typeof entry === "string" ? { name: entry, local: entry } : { name: entry[0], local: entry[1] },
  );

describe("an import statement", () => {
  it.each([
    ["python", "from quay import berth, tide as water", { module: "quay", names: names("berth", ["tide", "water"]) }],
    [
      "python",
      "from quay import (\n    berth,  # the first\n    tide,\n)",
      { module: "quay", names: names("berth", "tide") },
    ],
    ["python", "import quay.berths", { module: "", names: names(["quay.berths", "quay"]) }],
    ["python", "import quay as q, sea", { module: "", names: names(["quay", "q"], "sea") }],
    ["javascript", 'import "./side.js";', { module: "./side.js", names: [] }],
    [
      "javascript",
      'import quay, { berth as b } from "quay";',
      { module: "quay", names: names(["default", "quay"], ["berth", "b"]) },
    ],
    ["typescript", 'import type { Berth } from "quay";', { module: "quay", names: names("Berth") }],
    ["typescript", 'import * as quay from "quay";', { module: "quay", names: names(["*", "quay"]) }],
    ["javascript", 'const { berth: b } = require("quay");', { module: "quay", names: names(["berth", "b"]) }],
    ["java", "import static quay.Berths.tide;", { module: "quay.Berths", names: names("tide") }],
    ["java", "import quay.*;", { module: "quay", names: null }],
    ["csharp", "using Quay.Berths;", { module: "Quay.Berths", names: null }],
    ["csharp", "using Q = Quay.Berths;", { module: "Quay.Berths", names: names(["Quay.Berths", "Q"]) }],
    ["c", "#include <quay.h>", { module: "<quay.h>", names: null }],
    ["cpp", '#  include "sea/tide.hpp" // water', { module: '"sea/tide.hpp"', names: null }],
    ["go", 'import q "sea/quay"', { module: "sea/quay", names: names(["sea/quay", "q"]) }],
    ["go", '"sea/quay"', { module: "sea/quay", names: names(["sea/quay", "quay"]) }],
    ["rust", "use sea::quay::{Berth, Tide as T};", { module: "sea::quay", names: names("Berth", ["Tide", "T"]) }],
    ["rust", "pub(crate) use sea::quay as q;", { module: "sea", names: names(["quay", "q"]) }],
    ["php", "use Sea\\Quay\\Berth as B;", { module: "Sea\\Quay", names: names(["Berth", "B"]) }],
    ["php", "use function Sea\\tide;", { module: "Sea", names: names("tide") }],
    ["ruby", 'require_relative "quay"', { module: "require_relative quay", names: null }],
    ["css", '@import "quay.css";', { module: '"quay.css"', names: null }],
  ])("of %s: %s", (language, text, form) => expect(parseImport(text, language)).toEqual(form));

  it.each([
    ["python", "berth = 1"],
    ["javascript", "const berth = quay();"],
    ["java", "int berth;"],
    ["go", "berth := 1"],
    ["rust", "let berth = 1;"],
    ["cobol", "import quay"],
  ])("is not %s: %s", (language, text) => expect(parseImport(text, language)).toBeNull());

  it("brings in the same module the same way, or not", () => {
    const read = (text: string) => parseImport(text, "java");
    const [all, one, another] = ["import quay.*;", "import quay.Berth;", "import quay.Tide;"].map(read);
    if (!all || !one || !another) throw new Error("not read");
    expect(isSameModule(one, another)).toBe(true);
    expect(isSameModule(all, one)).toBe(false);
  });
});

describe("a joint import without some of its names", () => {
  const without = (language: string, text: string, ...gone: string[]) => {
    const form = parseImport(text, language);
    return form && withoutNames(text, form, new Set(gone));
  };

  it.each([
    ["python", "from quay import berth, tide", ["berth"], "from quay import tide"],
    ["python", "from quay import berth, tide", ["tide"], "from quay import berth"],
    ["python", "from quay import (\n    berth,\n    tide,\n)", ["berth"], "from quay import (\n    tide,\n)"],
    ["python", "from quay import berth as b, tide", ["berth"], "from quay import tide"],
    ["python", "from berth import berth, tide", ["berth"], "from berth import tide"],
    ["javascript", "import { berth, tide } from 'quay';", ["tide"], "import { berth } from 'quay';"],
    ["typescript", "import { type Berth, tide } from 'quay';", ["Berth"], "import { tide } from 'quay';"],
    ["rust", "use quay::{Berth, Tide};", ["Berth"], "use quay::{Tide};"],
  ])("of %s: %s without %j", (language, text, gone, left) => expect(without(language, text, ...gone)).toBe(left));

  it("is nothing once all are gone", () => {
    expect(without("python", "from quay import berth, tide", "berth", "tide")).toBeNull();
  });

  it("keeps longer names with the same beginning", () => {
    expect(without("python", "from quay import berth_of, berth", "berth")).toBe("from quay import berth_of");
  });
});
