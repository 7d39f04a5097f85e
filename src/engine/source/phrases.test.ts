/** Phrases over real syntax trees: what each changes, in every language that is read. */
import { describe, expect, it } from "vitest";
import { type Phrase, parsePhrasebook } from "@/core/formats/phrasebook";
import type { ParseText } from "@/core/phrasebook/code-pattern";
import { runBook } from "@/core/phrasebook/run-book";
import { type FileRun, runFile } from "@/core/phrasebook/run-file";
import { matchesFile } from "@/core/values/file-pattern";
import { loadParser } from "@/engine/source/parse";
import { testPattern } from "@/engine/within";

const LANGUAGES = [
  "python",
  "javascript",
  "typescript",
  "tsx",
  "java",
  "c",
  "cpp",
  "csharp",
  "go",
  "rust",
  "ruby",
  "php",
  "css",
];
const parse: ParseText = await loadParser(LANGUAGES);

const book = (phrases: readonly object[], scales: object = {}) =>
  parsePhrasebook(
    JSON.stringify({
      format: "side-twin/phrasebook",
      version: 1,
      scales,
      phrases: phrases.map((phrase, index) => ({ id: `p${index + 1}`, kind: "code", ...phrase })),
    }),
    "phrases.json",
  );

function run(language: string, source: string, phrases: readonly object[], scales: object = {}): FileRun {
  const { phrases: list, scales: steps } = book(
    phrases.map((phrase) => ("kind" in phrase && phrase.kind !== "code" ? phrase : { language, ...phrase })),
    scales,
  );
  return runFile("f", source, language, {
    phrases: list,
    scales: steps,
    parse,
    testPattern,
    covers: (phrase: Phrase) => phrase.in === undefined || phrase.in.includes("f"),
    matchesFile,
    isRefused: () => false,
  });
}

const changed = (language: string, source: string, from: string, to: string, rest: object = {}) =>
  run(language, source, [{ from, to, ...rest }]).text;
const states = ({ occurrences }: FileRun) => occurrences.map(({ phrase, line, state }) => `${phrase} ${line} ${state}`);

describe("a phrase of code", () => {
  it.each([
    ["python", "x = f(p.add(1, 2))\n", "(:p:).add((:a..:))", "(:p:).plus((:a..:))", "x = f(p.plus(1, 2))\n"],
    [
      "javascript",
      "const x = old(a, b)\nold(c);\n",
      "old((:a..:))",
      "fresh((:a..:))",
      "const x = fresh(a, b)\nfresh(c);\n",
    ],
    ["javascript", "old(a)\nold(b);\n", "old((:a:));", "fresh((:a:));", "fresh(a);\nfresh(b);\n"],
    [
      "typescript",
      "const x: Old<string> = make<Old<string>>(1);\n",
      "make<(:T:)>((:a..:))",
      "build((:a..:)) as (:T:)",
      "const x: Old<string> = build(1) as Old<string>;\n",
    ],
    [
      "tsx",
      'const v = <Box pad={4}><Old id="a" /></Box>;\n',
      "<Old (:a..:) />",
      "<Fresh (:a..:) />",
      'const v = <Box pad={4}><Fresh id="a" /></Box>;\n',
    ],
    [
      "java",
      'class A { void f() { log.warning("a" + b); int n = Old.of(1, 2); } }\n',
      "Old.of((:a..:))",
      "Fresh.make((:a..:))",
      'class A { void f() { log.warning("a" + b); int n = Fresh.make(1, 2); } }\n',
    ],
    [
      "java",
      "class A {\n  @Old(1)\n  int f() { return 1; }\n}\n",
      "@Old((:n:))",
      "@Fresh(value = (:n:))",
      "class A {\n  @Fresh(value = 1)\n  int f() { return 1; }\n}\n",
    ],
    [
      "java",
      "class A { Old<String> x = new Old<>(3); }\n",
      "new Old<>((:a..:))",
      "Fresh.create((:a..:))",
      "class A { Old<String> x = Fresh.create(3); }\n",
    ],
    [
      "c",
      "void f(void) { put(a, /* two */ b); x = put_all(1); }\n",
      "put((:x:), (:y:));",
      "set((:y:), (:x:));",
      "void f(void) { set(b, a); x = put_all(1); }\n",
    ],
    [
      "c",
      "struct s { widget *w; };\nwidget *make(void);\nvoid f(widget *a) { static widget *b = 0; int c = d * e; }\n",
      "widget *(:n:)",
      "handle (:n:)",
      "struct s { handle w; };\nwidget *make(void);\nvoid f(handle a) { static handle b = 0; int c = d * e; }\n",
    ],
    [
      "cpp",
      "int f() { auto p = std::make_old<T>(1, x); return p->go(2); }\n",
      "std::make_old<(:T:)>((:a..:))",
      "fresh::make<(:T:)>((:a..:))",
      "int f() { auto p = fresh::make<T>(1, x); return p->go(2); }\n",
    ],
    [
      "cpp",
      "void f() { q->lock(); r.lock(); }\n",
      "(:q:)->lock()",
      "guard(*(:q:))",
      "void f() { guard(*q); r.lock(); }\n",
    ],
    [
      "csharp",
      'class A { void F() { Old.Say(text: "x", loud: true); var y = a?.B; } }\n',
      "Old.Say((:a..:))",
      "Fresh.Print((:a..:))",
      'class A { void F() { Fresh.Print(text: "x", loud: true); var y = a?.B; } }\n',
    ],
    [
      "go",
      "package a\n\nfunc f() {\n\tx, err := old.Read(path)\n\t_ = old.Close(x)\n}\n",
      "(:x:), (:e:) := old.Read((:p:))",
      "(:x:), (:e:) := fresh.ReadFile((:p:))",
      "package a\n\nfunc f() {\n\tx, err := fresh.ReadFile(path)\n\t_ = old.Close(x)\n}\n",
    ],
    [
      "rust",
      'fn f() { let x = old::make(1); println!("{}", x.unwrap()); }\n',
      "old::make((:a..:))",
      "fresh::build((:a..:))",
      'fn f() { let x = fresh::build(1); println!("{}", x.unwrap()); }\n',
    ],
    [
      "rust",
      "fn f() { x.unwrap(); y.unwrap_or(1); }\n",
      "(:x:).unwrap()",
      "(:x:)?",
      "fn f() { x?; y.unwrap_or(1); }\n",
    ],
    [
      "ruby",
      "x = old(1, b: 2)\ny.old_each { |z| z }\n",
      "old((:a..:))",
      "fresh((:a..:))",
      "x = fresh(1, b: 2)\ny.old_each { |z| z }\n",
    ],
    [
      "php",
      "<?php\n$x = old_len($y) + strlen($z);\n",
      "old_len((:s:))",
      "mb_strlen((:s:))",
      "<?php\n$x = mb_strlen($y) + strlen($z);\n",
    ],
    [
      "css",
      "a { margin: 8px; padding: 8px }\n",
      "margin: (:v:)",
      "margin-block: (:v:)",
      "a { margin-block: 8px; padding: 8px }\n",
    ],
  ])("of %s changes its places: %s", (language, source, from, to, wanted) => {
    expect(
      changed(language, source, from, to, { blanks: from.includes("*(:n:)") ? { n: { is: ["name"] } } : {} }),
    ).toBe(wanted);
  });

  it.each([
    ["python", "add_rule = 1\ns = 'p.old(1)'  # p.old(2)\np.older(3)\n", "(:p:).old((:a:))"],
    ["javascript", "const s = 'p.old(1)'; // p.old(2)\np.older(3);\n", "(:p:).old((:a:))"],
    ["java", 'class A { String s = "p.old(1)"; /* p.old(2) */ int n = p.older(3); }\n', "(:p:).old((:a:))"],
    ["c", 'void f(void) { s = "old(1)"; /* old(2) */ older(3); }\n', "old((:a:))"],
    ["go", 'package a\n\nvar s = "old(1)" // old(2)\nvar n = older(3)\n', "old((:a:))"],
  ])("leaves texts, comments and longer names alone in %s", (language, source, from) => {
    expect(changed(language, source, from, "new_((:a:))")).toBe(source);
  });

  it.each([
    ["python", "from m import old\n\ndef f(old):\n    return old(1)\n\nx = old(2)\n", 6],
    [
      "javascript",
      "import { old } from 'm';\nfunction f(old) { return old(1); }\nconst g = (old) => old(3);\n{ const old = 1; old(4); }\nold(2);\n",
      5,
    ],
    ["java", "class A { int f(Fn old) { return old(1); }\n int g() { return old(2); } }\n", 2],
    ["c", "int f(int (*old)(int)) { return old(1); }\nint g(void) { return old(2); }\n", 2],
    ["go", "package a\n\nfunc f(old func(int) int) int { return old(1) }\nfunc g() int { return old(2) }\n", 4],
    ["rust", "fn f(old: fn(i32) -> i32) -> i32 { old(1) }\nfn g() -> i32 { old(2) }\n", 2],
  ])("passes over a parameter or local of the same name in %s", (language, source, line) => {
    expect(states(run(language, source, [{ from: "old((:a:))", to: "fresh((:a:))" }]))).toEqual([`p1 ${line} ready`]);
  });

  it("finds places within places, and chains", () => {
    expect(changed("python", "f(f(f(1)))\n", "f((:x:))", "g((:x:))")).toBe("g(g(g(1)))\n");
    expect(changed("javascript", "a.old(1).old(2).old(b.old(3));\n", "(:p:).old((:x:))", "(:p:).new((:x:))")).toBe(
      "a.new(1).new(2).new(b.new(3));\n",
    );
  });

  it("takes a list to the letter, with the comments in it, and an empty one with its comma", () => {
    const source = "f(1,  # one\n  two, kind='a',)\nf(kind='b')\n";
    expect(changed("python", source, "f((:a..:), kind=(:k:))", "g((:k:), (:a..:))")).toBe(
      "g('a', 1,  # one\n  two)\ng('b')\n",
    );
  });

  it("finds named arguments in any order", () => {
    const phrase = ["f((:a..:), x=(:x:), y=(:y:))", "g((:x:), (:y:), (:a..:))"] as const;
    expect(changed("python", "f(1, y=3, x=2)\nf(x=1)\n", ...phrase)).toBe("g(2, 3, 1)\nf(x=1)\n");
  });

  it("keeps the white space inside braces, line ends, tabs and a missing last newline", () => {
    const source = "if (old(a)) {\r\n\tone();\r\n\ttwo(); // x\r\n}\r\nold2()";
    expect(changed("javascript", source, "if (old((:a:))) { (:b..:) }", "when((:a:), () => { (:b..:) });")).toBe(
      "when(a, () => {\r\n\tone();\r\n\ttwo(); // x\r\n});\r\nold2()",
    );
    expect(
      changed(
        "python",
        "def f():\r\n\tx, y = old(1)\r\n\treturn x",
        "(:x:), (:y:) = old((:a:))",
        "(:x:) = fresh((:a:))\n(:y:) = (:x:).rest",
      ),
    ).toBe("def f():\r\n\tx = fresh(1)\r\n\ty = x.rest\r\n\treturn x");
  });

  it("takes a statement away with its lines", () => {
    expect(
      changed("java", "class A { void f() {\n    a();\n    Old.init(1);\n    b();\n} }\n", "Old.init((:x:));", ""),
    ).toBe("class A { void f() {\n    a();\n    b();\n} }\n");
    expect(changed("python", "a()\nold.init()\nb()\n", "old.init()", "")).toBe("a()\nb()\n");
  });

  it("turns, strips, scales, styles and quotes, or leaves a place open", () => {
    const scales = { space: { unit: "px", steps: { "1": 4, "2": 8, "4": 16 }, within: 2 } };
    const css = run(
      "css",
      "a { margin: 9px; }\nb { margin: 13px; }\nc { margin: 2em; }\nd { margin: 0; }\n",
      [{ from: "margin: (:v:);", to: "@apply m-(:v:);", blanks: { v: { scale: "space" } } }],
      scales,
    );
    expect(css.text).toBe("a { @apply m-2; }\nb { margin: 13px; }\nc { margin: 2em; }\nd { margin: 0; }\n");
    expect(states(css)).toEqual(["p1 1 ready", "p1 2 open", "p1 3 open", "p1 4 open"]);
    expect(
      changed("javascript", "get('old_user_name');\n", "get((:k:))", "get((:k:))", {
        blanks: { k: { is: ["string"], text: "unquote", strip: "old_", style: "snake-to-camel" } },
      }),
    ).toBe("get(userName);\n");
  });

  it("has the first of two that want the same place, and tells the other", () => {
    const found = run("javascript", "a(1);\na(b(2));\n", [
      { from: "a(1)", to: "c()" },
      { from: "a((:x:))", to: "d((:x:))" },
      { from: "b((:x:))", to: "e((:x:))" },
    ]);
    expect(found.text).toBe("c();\nd(e(2));\n");
    expect(states(found).sort()).toEqual(["p1 1 ready", "p2 1 conflict", "p2 2 ready", "p3 2 ready"]);
  });

  it("leaves a file with a syntax error alone, and C with macros not", () => {
    expect(run("python", "def f(:\n  old(1)\n", [{ from: "old((:a:))", to: "n((:a:))" }])).toMatchObject({
      isSound: false,
      occurrences: [],
    });
    expect(
      changed("c", "EXPORT_API\nint f(void) { FOR_EACH(x) { old(1); } return 0; }\n", "old((:a:));", "fresh((:a:));"),
    ).toContain("fresh(1);");
  });

  it("asks for the same text where a blank stands twice", () => {
    expect(changed("c", "void f(void) { a = a + 1; b = c + 1; }\n", "(:x:) = (:x:) + 1;", "(:x:)++;")).toBe(
      "void f(void) { a++; b = c + 1; }\n",
    );
  });
});

describe("imports", () => {
  it.each([
    [
      "python",
      "import os\nfrom old import Thing, Other\nx = Thing()\ny = Other\n",
      "Thing()",
      "Fresh()",
      { add: ["from fresh import Fresh"], drop: ["from old import Thing"] },
      "import os\nfrom old import Other\nfrom fresh import Fresh\nx = Fresh()\ny = Other\n",
    ],
    [
      "python",
      "import old\nold.go(1)\n",
      "old.go((:a:))",
      "fresh.go((:a:))",
      { add: ["import fresh"], drop: ["import old"] },
      "import fresh\nfresh.go(1)\n",
    ],
    [
      "javascript",
      "import { go, stay } from 'old';\ngo(1);\nstay();\n",
      "go((:a:))",
      "run((:a:))",
      { add: ["import { run } from 'fresh';"], drop: ["import { go } from 'old';"] },
      "import { stay } from 'old';\nimport { run } from 'fresh';\nrun(1);\nstay();\n",
    ],
    [
      "typescript",
      'import go from "old";\n\nexport const x = go(1);\n',
      "go((:a:))",
      "run((:a:))",
      { add: ['import { run } from "fresh";'], drop: ['import go from "old";'] },
      'import { run } from "fresh";\n\nexport const x = run(1);\n',
    ],
    [
      "java",
      "package p;\n\nimport old.Thing;\nimport java.util.List;\n\nclass A { Object x = Thing.of(1); }\n",
      "Thing.of((:a:))",
      "Fresh.of((:a:))",
      { add: ["import fresh.Fresh;"], drop: ["import old.Thing;"] },
      "package p;\n\nimport fresh.Fresh;\nimport java.util.List;\n\nclass A { Object x = Fresh.of(1); }\n",
    ],
    [
      "rust",
      "use old::{Thing, Other};\nfn f(o: Other) { Thing::go(1); }\n",
      "Thing::go((:a:))",
      "Fresh::go((:a:))",
      { add: ["use fresh::Fresh;"], drop: ["use old::Thing;"] },
      "use old::{Other};\nuse fresh::Fresh;\nfn f(o: Other) { Fresh::go(1); }\n",
    ],
    [
      "go",
      'package a\n\nimport (\n\t"fmt"\n\t"old/thing"\n)\n\nfunc f() { fmt.Println(thing.Go(1)) }\n',
      "thing.Go((:a:))",
      "fresh.Go((:a:))",
      { add: ['"new/fresh"'], drop: ['"old/thing"'] },
      'package a\n\nimport (\n\t"fmt"\n\t"new/fresh"\n)\n\nfunc f() { fmt.Println(fresh.Go(1)) }\n',
    ],
    [
      "csharp",
      "using Old;\nusing System;\nclass A { void F() { Thing.Go(1); } }\n",
      "Thing.Go((:a:))",
      "Fresh.Go((:a:))",
      { add: ["using FreshOnes;"], drop: ["using Old;"] },
      "using FreshOnes;\nusing System;\nclass A { void F() { Fresh.Go(1); } }\n",
    ],
    [
      "php",
      "<?php\nuse Old\\Thing;\n$x = Thing::go(1);\n",
      "Thing::go((:a:))",
      "Fresh::go((:a:))",
      { add: ["use Brand\\Fresh;"], drop: ["use Old\\Thing;"] },
      "<?php\nuse Brand\\Fresh;\n$x = Fresh::go(1);\n",
    ],
    [
      "ruby",
      "require 'old'\nx = Thing.go(1)\n",
      "Thing.go((:a:))",
      "Fresh.go((:a:))",
      { add: ["require 'fresh'"], drop: ["require 'old'"] },
      "require 'fresh'\nx = Fresh.go(1)\n",
    ],
    [
      "c",
      '#include "old.h"\nvoid f(void) { old_go(1); }\n',
      "old_go((:a:));",
      "fresh_go((:a:));",
      { add: ['#include "fresh.h"'], drop: ['#include "old.h"'] },
      '#include "fresh.h"\nvoid f(void) { fresh_go(1); }\n',
    ],
    [
      "python",
      '"""Doc."""\n\nx = go(1)\n',
      "go((:a:))",
      "run((:a:))",
      { add: ["from fresh import run"] },
      '"""Doc."""\nfrom fresh import run\n\nx = run(1)\n',
    ],
  ])("of %s come once and go when nothing uses them: %s", (language, source, from, to, imports, wanted) => {
    expect(changed(language, source, from, to, { imports })).toBe(wanted);
  });

  it("stay where a place is left", () => {
    const source = "from old import go\ngo(1)\ngo('x')\n";
    const phrase = {
      from: "go((:a:))",
      to: "run((:a:))",
      blanks: { a: { is: ["number"] } },
      imports: { add: ["from fresh import run"], drop: ["from old import go"] },
    };
    expect(run("python", source, [phrase]).text).toBe("from old import go\nfrom fresh import run\nrun(1)\ngo('x')\n");
  });

  it("go too where an earlier phrase adds one after them", () => {
    const { text } = run("python", "from old import Pan\nx = Pan()\ny = x.put(1)\n", [
      { from: "(:p:).put((:n:))", to: "(:p:).add(fresh.N, (:n:))", imports: { add: ["import fresh"] } },
      { from: "Pan()", to: "fresh.Pan()", imports: { add: ["import fresh"], drop: ["from old import Pan"] } },
    ]);
    expect(text).toBe("import fresh\nx = fresh.Pan()\ny = x.add(fresh.N, 1)\n");
  });
});

describe("a phrase of a name", () => {
  const name = { kind: "name", from: "oldtide", to: "newtide" };
  it.each([
    [
      "python",
      "import oldtide.ledger as l\nfrom oldtide import tides\noldtide.tides.go()\nxoldtide = a.oldtide\n",
      "import newtide.ledger as l\nfrom newtide import tides\nnewtide.tides.go()\nxoldtide = a.oldtide\n",
    ],
    [
      "java",
      'package oldtide.a;\nimport oldtide.b.C;\nclass A { oldtide.D d; String oldtides = "oldtide.x"; }\n',
      'package newtide.a;\nimport newtide.b.C;\nclass A { newtide.D d; String oldtides = "oldtide.x"; }\n',
    ],
    [
      "javascript",
      "oldtide.go();\nfunction f(oldtide) { oldtide.x(); }\nconst o = { oldtide: 1 };\n",
      "newtide.go();\nfunction f(oldtide) { oldtide.x(); }\nconst o = { oldtide: 1 };\n",
    ],
    ["rust", "use oldtide::ledger;\nfn f() { oldtide::go(); }\n", "use newtide::ledger;\nfn f() { newtide::go(); }\n"],
    [
      "csharp",
      "using oldtide.Ledger;\nnamespace oldtide.A { class B { oldtide.C c; } }\n",
      "using newtide.Ledger;\nnamespace newtide.A { class B { newtide.C c; } }\n",
    ],
  ])("moves it and all below in %s", (language, source, wanted) => {
    expect(run(language, source, [name]).text).toBe(wanted);
  });

  it("keeps what it is told to keep, the longest first", () => {
    const kept = { ...name, keep: ["oldtide.ledger.**"] };
    const found = run("python", "import oldtide.ledger\nfrom oldtide import ledger, tides\nimport oldtide.ledgers\n", [
      kept,
    ]);
    expect(found.text).toBe(
      "import oldtide.ledger\nfrom oldtide import ledger\nfrom newtide import tides\nimport newtide.ledgers\n",
    );
    expect(states(found)).toContain("p1 1 kept");
  });

  it("reaches texts and comments where it is told to", () => {
    const source = "# oldtide.x\nlog('see oldtide.x, not myoldtide.y or c.oldtide')\n";
    expect(run("python", source, [{ ...name, reach: ["code", "strings"] }]).text).toBe(
      "# oldtide.x\nlog('see newtide.x, not myoldtide.y or c.oldtide')\n",
    );
    expect(run("python", source, [{ ...name, reach: ["comments"] }]).text).toContain("# newtide.x");
  });
});

describe("a blank outside of code", () => {
  const lines = "depth = 12\ndepth = deep\ndepth = 'x'\n";
  const text = (blank: object) =>
    run("ini", lines, [{ kind: "text", from: "depth = (:n:)", to: "fathoms = (:n:)", blanks: { n: blank } }]).text;

  it.each([
    [{ is: ["number"] }, "fathoms = 12\ndepth = deep\ndepth = 'x'\n"],
    [{ is: ["name", "string"] }, "depth = 12\nfathoms = deep\nfathoms = 'x'\n"],
    [{ matches: "^d" }, "depth = 12\nfathoms = deep\ndepth = 'x'\n"],
  ])("holds what fits %j only", (blank, wanted) => {
    expect(text(blank)).toBe(wanted);
  });
});

describe("a book over several files", () => {
  const files = [
    { file: "src/a.js", disk: "import { b } from './b.js';\nexport const a = b;\n", language: "javascript" },
    { file: "src/b.js", disk: "export const b = 1;\n", language: "javascript" },
  ];
  const runAll = (phrase: object) => {
    const { phrases, scales } = book([{ kind: "file", from: "src/(:p:).js", to: "lib/(:p:).js", ...phrase }]);
    const names = files.map(({ file }) => file);
    const rest = { names, modules: [], not: [], origins: new Map([["p1", "phrases.json"]]) };
    return runBook({ phrases, book: phrases, scales, files, ...rest }, { parse, testPattern });
  };

  it("keeps a file in its place by an exception without a text, which has not lapsed then", () => {
    const { moves, occurrences, lapsed, texts } = runAll({ except: [{ file: "src/b.js", why: "read by others" }] });
    expect(moves.map(({ to }) => to)).toEqual(["lib/a.js"]);
    expect(occurrences.map(({ file, state }) => `${file} ${state}`)).toEqual(["src/a.js ready", "src/b.js kept"]);
    expect(lapsed).toEqual([]);
    expect(texts.get("src/a.js")).toContain("'../src/b.js'");
  });

  it("moves only what its blanks may hold, also blanks that the target leaves out", () => {
    expect(runAll({ to: "lib/one.js", blanks: { p: { matches: "^b$" } } }).moves).toMatchObject([{ from: "src/b.js" }]);
  });

  it("names the file of a phrase in an error of its pattern", () => {
    const slow = { kind: "code", language: "javascript", from: "f((:x:))", to: "g((:x:))" };
    const bad = () => runAll({ ...slow, from: "f((:x:" });
    expect(bad).toThrow(/phrases\.json/);
  });
});
