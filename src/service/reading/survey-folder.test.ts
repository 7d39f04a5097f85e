/** The survey against the truth of small trees in every language, and of odd ones. */
import path from "node:path";
import { describe, expect, it } from "vitest";
import { LANGUAGES } from "@/core/source/languages/index";
import { SNAGS } from "@/core/survey/snags/index";
import { SNAG_KINDS } from "@/core/survey/snags/snag";
import { FactsCache, surveyFolder } from "@/service/reading/survey-folder";
import { SOURCE_TREES } from "@/testing/source-trees";
import { temporaryFolder, writeFiles } from "@/testing/temporary-port";

describe("a survey", () => {
  it("has a tree and a catalogue of snags for every language that is read", () => {
    expect(SOURCE_TREES.map(({ language }) => language).sort()).toEqual(LANGUAGES.map(({ name }) => name).sort());
    for (const { name } of LANGUAGES) expect(SNAGS[name]?.length ?? 0).toBeGreaterThan(7);
  });

  it.each(Object.entries(SNAGS))("says of each snag of %s what it is and why it is one", (_language, rules) => {
    for (const { kind, title, why, packages = [], names = [], builtins = [], syntax = [] } of rules) {
      expect(Object.keys(SNAG_KINDS)).toContain(kind);
      expect([title.length > 3, why.length > 20]).toEqual([true, true]);
      expect(packages.length + names.length + builtins.length + syntax.length).toBeGreaterThan(0);
    }
  });

  describe.each(SOURCE_TREES.map((tree) => [tree.language, tree] as const))("of %s", (_language, tree) => {
    it("finds sections, imports of the tree, and what is taken from outside", async () => {
      const survey = await surveyFolder(temporaryFolder(tree.files));
      const fileOf = (path: string) => survey.files.find((file) => file.path === path);
      expect(survey.problems).toEqual([]);
      for (const [path, expected] of Object.entries(tree.sections))
        expect([path, fileOf(path)?.sections.map(({ kind, name }) => `${kind} ${name}`)]).toEqual([path, expected]);
      for (const [path, expected] of Object.entries(tree.imports))
        expect([path, fileOf(path)?.imports.flatMap(({ files: [first] }) => first ?? [])]).toEqual([path, expected]);
      const outside = Object.fromEntries(
        survey.outside.map((entry) => [
          `${entry.package}: ${entry.name}`,
          entry.uses.map(({ file, line }) => `${file}:${line}`),
        ]),
      );
      expect(outside).toEqual(expect.objectContaining(tree.outside));
    });
  });

  it("puts modules into layers, a header with its source, and tells what would untie a knot", async () => {
    const survey = await surveyFolder(
      temporaryFolder({
        "src/a.c": '#include "a.h"\n#include "b.h"\n',
        "src/a.h": "",
        "src/b.c": '#include "b.h"\n#include "c.h"\n',
        "src/b.h": "",
        "src/c.c": '#include "b.h"\n',
        "src/c.h": "",
        "src/main.c": '#include "a.h"\n',
      }),
    );
    expect(survey.modules.map(({ name, files, needs, layer }) => [name, files.length, needs, layer])).toEqual([
      ["a", 2, ["b"], 1],
      ["b", 2, ["c"], 0],
      ["c", 2, ["b"], 0],
      ["main", 1, ["a"], 2],
    ]);
    expect(survey.knots.map(({ members }) => [...members].sort())).toEqual([["b", "c"]]);
    expect(survey.knots[0]?.untie).toMatchObject({ isLeast: true, imports: [expect.anything()] });
  });

  it("sees what files of one folder or namespace need of each other without an import", async () => {
    const needs = async (files: Record<string, string>) => {
      const { modules } = await surveyFolder(temporaryFolder(files));
      return Object.fromEntries(modules.map((module) => [module.name, module.needs]));
    };
    expect(
      await needs({
        "p/Till.java": 'package p;\nclass Till { Coin coin; /* Purse */ String s = "Purse"; }\n',
        "p/Coin.java": "package p;\nclass Coin {}\n",
        "p/Purse.java": "package p;\nclass Purse {}\n",
      }),
    ).toEqual({ Till: ["Coin"], Coin: [], Purse: [] });
    expect(
      await needs({
        "Till.cs": "using Salt.Money;\nnamespace Salt { class Till { Coin c; } }\n",
        "Coin.cs": "namespace Salt.Money { class Coin {} }\n",
      }),
    ).toEqual({ Till: ["Coin"], Coin: [] });
    expect(await needs({ "a.go": "package p\nfunc A() { b() }\n", "b.go": "package p\nfunc b() {}\n" })).toEqual({
      a: ["b"],
      b: [],
    });
  });

  it("finds names by the namespaces that files say they belong to, wherever they lie", async () => {
    const read = async (files: Record<string, string>) => {
      const { modules, outside } = await surveyFolder(temporaryFolder(files));
      return {
        needs: Object.fromEntries(modules.map(({ name, needs }) => [name, [...needs].sort()])),
        outside: outside.map((entry) => `${entry.package} ${entry.name}`),
      };
    };
    expect(
      await read({
        "Till.php":
          "<?php\nnamespace Salt\\Quay;\nuse Salt\\Money\\Coin;\nuse function Salt\\Money\\of;\nuse Psr\\Log\\Level;\nuse Salt\\Money;\nfunction f(Coin $c) { return of(1) . Level::LOW; }\n",
        "money/coin.inc.php": "<?php\nnamespace Salt\\Money;\nclass Coin {}\nfunction of($n) { return $n; }\n",
      }),
    ).toEqual({ needs: { Till: ["coin.inc"], "coin.inc": [] }, outside: ["Psr Log.Level"] });
    expect(
      await read({
        "quay/Till.java":
          "package harbour.quay;\nimport harbour.money.Coin;\nimport static harbour.money.Rates.LOW;\nimport harbour.ropes.*;\nimport java.util.List;\nclass Till { List<Coin> all; Knot knot; int n = LOW; }\n",
        "money/Coin.java": "package harbour.money;\nclass Coin {}\n",
        "money/Rates.java": "package harbour.money;\nclass Rates { static final int LOW = 1; Till Coin; }\n",
        "ropes/Knot.java": "package harbour.ropes;\nclass Knot { int till = this.Rope; }\n",
        "ropes/Rope.java": "package harbour.ropes;\nclass Rope {}\n",
      }),
    ).toEqual({
      // A name that is only a member of something, as `this.Rope`, says nothing.
      needs: { Till: ["Coin", "Knot", "Rates"], Coin: [], Rates: ["Coin"], Knot: [], Rope: [] },
      outside: ["java.util List"],
    });
    expect(
      await read({
        "Till.cs":
          "using System.Text;\nusing Salt;\nusing Salt.Money;\nnamespace Salt.Quay { class Till { Coin c; } }\n",
        "Coin.cs": "namespace Salt.Money { class Coin {} }\n",
      }),
    ).toEqual({ needs: { Till: ["Coin"], Coin: [] }, outside: ["System.Text *"] });
  });

  it("has nothing but tests rest on what tests declare", async () => {
    const { modules } = await surveyFolder(
      temporaryFolder({
        "tides.go": "package tides\n\nfunc Height(n int) int { return helper(n) }\n",
        "help.go": "package tides\n\nfunc helper(n int) int { return n }\n",
        "tides_test.go": "package tides\n\nfunc n() int { return Height(1) }\nfunc helper2() {}\n",
        "more_test.go": "package tides\n\nfunc m() { helper2() }\n",
      }),
    );
    expect(Object.fromEntries(modules.map(({ name, needs }) => [name, needs]))).toEqual({
      tides: ["help"],
      help: [],
      tides_test: ["tides"],
      more_test: ["tides_test"],
    });
  });

  it("tells headers of C++ from those of C by what is in them", async () => {
    const survey = await surveyFolder(
      temporaryFolder({
        "quay.h":
          "// class Quay {\n#ifndef Q\nstruct quay { int n; };\nint berth(struct quay *q);\nstatic int twice(int n) { return n * 2; }\n#endif\n",
        "boat.h":
          "#pragma once\nnamespace harbour {\nclass Boat : public Hull {\npublic:\n  using Hull::keel;\n  int crew() const { return std::max(1, n); }\nprivate:\n  int n;\n};\n}\n",
        "text.h": "#include <string>\nusing std::string;\nstring name();\n",
        "boat.cc": '#include "boat.h"\nint harbour::Boat::sail(int w) { return w; }\n',
      }),
    );
    expect(survey.problems).toEqual([]);
    expect(survey.languages).toEqual({ c: { files: 1, lines: 6 }, cpp: { files: 3, lines: 15 } });
    const sections = Object.fromEntries(survey.files.map((file) => [file.path, file.sections.map(({ name }) => name)]));
    expect(sections).toEqual({
      "quay.h": ["quay", "twice"],
      "boat.h": ["Boat", "Boat.crew"],
      "text.h": [],
      "boat.cc": ["Boat.sail"],
    });
    expect(survey.outside.map((entry) => `${entry.package} ${entry.name}`)).toEqual([
      "std max",
      "std string",
      "string *",
    ]);
    expect(survey.modules.map(({ name, files }) => [name, files])).toEqual([
      ["boat", ["boat.cc", "boat.h"]],
      ["quay", ["quay.h"]],
      ["text", ["text.h"]],
    ]);
  });

  it("sees what is named by its whole path where it is used", async () => {
    const { modules, outside } = await surveyFolder(
      temporaryFolder({
        "src/lib.rs": "mod money;\nmod fares;\npub fn go() -> i32 { money::of(1) + fares::of(2) }\n",
        "src/money.rs": "pub fn of(n: i32) -> i32 { n } // crate::fares::of\n",
        "src/fares.rs":
          'pub fn of(n: i32) -> i32 {\n    crate::money::of(n) + rand::random::<i32>() + i32::from(1u8)\n}\nconst S: &str = "log::info";\nfn f(v: &chrono::NaiveDate) -> String { serde_json::to_string(v).unwrap() }\n',
      }),
    );
    const needs = Object.fromEntries(modules.map((module) => [module.name, [...module.needs].sort()]));
    expect(needs).toEqual({ lib: ["fares", "money"], money: [], fares: ["money"] });
    expect(outside.map((entry) => `${entry.package} ${entry.name} ${entry.uses.map(({ line }) => line)}`)).toEqual([
      "chrono NaiveDate 5",
      "rand random 2",
      "serde_json to_string 5",
    ]);
  });

  it("knows a tree by its own name, as a package, by its folder and by its manifest", async () => {
    const folder = temporaryFolder({
      "quay/__init__.py": "",
      "quay/tides.py": "x = 1\n",
      "quay/plan.py": "from quay.tides import x\nimport quay.tides\nprint(x)\n",
      "web/package.json": { name: "@salt/web" },
      "web/src/index.ts": "export const a = 1;\n",
      "web/src/boats/list.ts": "export const b = 1;\n",
      "web/use.ts": 'import { a } from "@salt/web";\nimport { b } from "@salt/web/boats/list";\n',
    });
    const imports = async (root: string, file: string) =>
      (await surveyFolder(path.join(folder, root))).files
        .find((entry) => entry.path === file)
        ?.imports.map((written) => written.files[0]);
    expect(await imports("quay", "plan.py")).toEqual(["tides.py", "tides.py"]);
    expect(await imports("web", "use.ts")).toEqual(["src/index.ts", "src/boats/list.ts"]);
  });

  it("finds snags with their places, and leaves names of the tree's own alone", async () => {
    const survey = await surveyFolder(
      temporaryFolder({
        "m.py": [
          "import threading as t",
          "from datetime import datetime",
          "COUNT = 0",
          "def bump():",
          "    global COUNT",
          "    t.Thread(target=bump).start()",
          "    return getattr(datetime, 'now')()",
          "def eval(x): return x",
          "eval('# exec(1)')",
        ].join("\n"),
      }),
    );
    const places = survey.snags.map(
      ({ kind, name, uses }) => `${kind} ${name} ${uses.map(({ line }) => line).join(",")}`,
    );
    expect(places.sort()).toEqual([
      "dynamic getattr 7",
      "state global 5",
      "threads threading.Thread 6",
      "time datetime.datetime 7",
    ]);
  });

  it("lists mentions in files that are not code, and the tests with what they touch", async () => {
    const survey = await surveyFolder(
      temporaryFolder({
        "ferry/fares.py": "import yaml\nyaml.load('')\n",
        "tests/test_fares.py": "from ferry import fares\nimport unittest\n",
        "setup.cfg": "[options]\ninstall_requires = yaml\nentry = ferry.fares:main\n",
        Makefile: "run:\n\tpython ferry/fares.py\n",
        "picture.png": Buffer.from([0, 1, 2]).toString("latin1"),
      }),
    );
    expect(survey.mentions).toEqual([
      { file: "Makefile", line: 2, name: "fares" },
      { file: "setup.cfg", line: 2, name: "yaml" },
      { file: "setup.cfg", line: 3, name: "fares" },
    ]);
    expect(survey.tests).toEqual([{ file: "tests/test_fares.py", touches: ["fares"] }]);
  });

  it("reads again only what changed", async () => {
    const folder = temporaryFolder({ "a.py": "import b\n", "b.py": "x = 1\n" });
    const known = new FactsCache();
    const first = await surveyFolder(folder, { known });
    const kept = known.sources.get("a.py")?.facts;
    writeFiles(folder, { "b.py": "def later():\n    return 22\n", "c.py": "import a\n" });
    const second = await surveyFolder(folder, { known });
    expect(known.sources.get("a.py")?.facts).toBe(kept);
    expect(first.files).toHaveLength(2);
    expect(second.modules.map(({ name, needs }) => [name, needs])).toEqual([
      ["a", ["b"]],
      ["b", []],
      ["c", ["a"]],
    ]);
    expect(second.files.find(({ path }) => path === "b.py")?.sections.map(({ name }) => name)).toEqual(["later"]);
  });

  it("reads odd encodings, syntax errors and what programs wrote, and says so", async () => {
    const survey = await surveyFolder(
      temporaryFolder({
        "wide.py": Buffer.from("\ufeffdef wide(): pass\n", "utf16le"),
        "old.c": Buffer.from("/* \xe9t\xe9 */ int year(void) { return 1; }\n", "latin1"),
        "made.js": "// Code generated by a tool. DO NOT EDIT.\nexport const x = 1;\n",
        "broken.py": "def good(): pass\ndef (:\nclass Also: pass\n",
        "none.rb": "",
      }),
    );
    expect(survey.problems.map(({ file, message }) => `${file} ${message}`).sort()).toEqual([
      "broken.py does not parse here",
      "old.c is not UTF-8; it was read as Latin-1",
      "wide.py is UTF-16",
    ]);
    const names = survey.files.map(({ path, sections }) => [path, sections.map(({ name }) => name)]);
    expect(Object.fromEntries(names)).toMatchObject({ "wide.py": ["wide"], "old.c": ["year"], "none.rb": [] });
    expect(survey.files.filter(({ isGenerated }) => isGenerated).map(({ path }) => path)).toEqual(["made.js"]);
  });
});

describe("a survey of what changed", () => {
  const FILES = {
    "pkg/__init__.py": "from .tides import np\n",
    "pkg/tides.py": "import numpy as np\nimport math\ndef height(t):\n    return np.sum(t) + math.cos(t)\n",
    "pkg/plan.py": "from pkg import np\nfrom pkg import tides\nprint(np.pi, tides.height(1), eval('1'))\n",
    "go/a.go": "package boats\n\nfunc Tern() int { return Auk() }\n",
    "go/b.go": "package boats\n\nfunc Auk() int { return 1 }\n",
    "notes.md": "see pkg/plan.py and numpy\n",
  };
  const CHANGES: readonly (readonly [string, Readonly<Record<string, string>>])[] = [
    ["only a body", { "pkg/tides.py": FILES["pkg/tides.py"].replace("math.cos(t)", "math.sin(t)\n\nLAST = 3") }],
    ["what a file passes on", { "pkg/__init__.py": "from math import tau as np\n" }],
    ["what it imports", { "pkg/plan.py": "import json\nprint(json.dumps(1))\n" }],
    ["names that files of a folder see", { "go/b.go": "package boats\n\nfunc Gull() int { return Tern() }\n" }],
    ["a file that is new", { "pkg/more.py": "import csv\nfrom pkg.plan import np\nprint(np.e)\n" }],
    ["a text", { "notes.md": "see tides\n" }],
  ];

  it.each(CHANGES)("is the survey of all: %s", async (_what, change) => {
    const folder = temporaryFolder(FILES);
    const known = new FactsCache();
    const first = await surveyFolder(folder, { known });
    expect(await surveyFolder(folder, { known })).toBe(first);
    writeFiles(folder, change);
    const again = await surveyFolder(folder, { known });
    expect(again).toEqual(await surveyFolder(folder));
    expect(again).not.toEqual(first);
    writeFiles(folder, FILES);
    const whole = await surveyFolder(folder);
    expect(await surveyFolder(folder, { known })).toEqual(whole);
  });
});

describe("a file of 50,000 lines", () => {
  it("has every section at its place, with its branches", async () => {
    const boats = Array.from(
      { length: 10_000 },
      (_one, index) =>
        `def boat_${index}(n):\n    if n > ${index} and n:\n        return ${index}\n    return len(str(n))\n`,
    );
    const { files, problems } = await surveyFolder(temporaryFolder({ "fleet.py": `${boats.join("\n")}\n` }));
    const [file] = files;
    expect(problems).toEqual([]);
    expect(file).toMatchObject({ lines: 49_999 + 1 });
    expect(file?.sections).toHaveLength(10_000);
    expect(file?.sections.at(-1)).toMatchObject({ name: "boat_9999", from: 49_996, to: 49_999, complexity: 3 });
  });
});
