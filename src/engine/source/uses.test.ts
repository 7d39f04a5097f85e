/** Which occurrences of an imported name are uses of it: a name of a function's own hides it there, and only there. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { findWords } from "@/core/source/uses";
import { readFileFacts } from "@/engine/source/parse";

/** What is written of uses: their chains with the line, as `3:os.path`. */
async function usesIn(language: string, source: string): Promise<string[]> {
  const facts = await readFileFacts("m", source, language);
  return (facts?.uses ?? []).map(({ parts, line }) => `${line}:${parts.join(".")}`);
}

/** What it shows, the language, the source, and the uses of `os` that there are. */
type Shown = readonly [shows: string, language: string, source: string, uses: readonly string[]];

const HIDDEN: readonly Shown[] = [
  ["a parameter", "python", "import os\ndef f(os):\n    os.x()\nos.y()\n", ["4:os.y"]],
  ["a parameter, in what lies beside it too", "python", "import os\ndef f(a=os.sep, os=1):\n    os.x\n", []],
  ["a typed parameter", "python", "import os\ndef f(os: int, b: os.T):\n    pass\n", []],
  ["a type that is no name of the function", "python", "import os\ndef f(b: os.T):\n    pass\n", ["2:os.T"]],
  ["what is assigned later", "python", "import os\ndef f():\n    os.x\n    os = 1\nos.y\n", ["5:os.y"]],
  ["a part of a pattern", "python", "import os\ndef f():\n    a, (os, *b) = g()\n    os.x\n", []],
  ["an attribute that is set", "python", "import os\ndef f():\n    os.x = 1\n", ["3:os.x"]],
  ["an item that is set", "python", "import os\ndef f():\n    os.x[0] = 1\n", ["3:os.x"]],
  ["a loop", "python", "import os\ndef f(xs):\n    for os in xs:\n        os.x\n", []],
  ["what is looped over", "python", "import os\ndef f():\n    for x in os.xs:\n        pass\n", ["3:os.xs"]],
  ["a comprehension", "python", "import os\nys = [os.x for os in xs]\nos.y\n", ["3:os.y"]],
  ["as in with", "python", "import os\ndef f():\n    with g() as os:\n        os.x\n", []],
  ["a walrus", "python", "import os\ndef f():\n    if (os := g()):\n        os.x\n", []],
  ["a lambda", "python", "import os\ng = lambda os: os.x\nos.y\n", ["3:os.y"]],
  ["a function within", "python", "import os\ndef f():\n    def os(): pass\n    os.x\n", []],
  ["another function's name", "python", "import os\ndef f():\n    def g(os):\n        pass\n    os.x\n", ["5:os.x"]],
  ["global", "python", "import os\ndef f():\n    global os\n    os = os.x\n", ["4:os.x"]],
  ["a keyword of a call", "python", "import os\ng(os=os.x)\n", ["2:os.x"]],
  ["a parameter", "javascript", "import os from 'os';\nfunction f(os) { os.x(); }\nos.y();\n", ["3:os.default.y"]],
  ["an arrow's one parameter", "javascript", "import os from 'os';\nconst f = os => os.x;\n", []],
  ["a default of a parameter", "javascript", "import os from 'os';\nconst f = (a = os.x) => a;\n", ["2:os.default.x"]],
  ["a pattern", "javascript", "import os from 'os';\nfunction f({ a: os, ...b }) { os.x; }\n", []],
  ["a shorthand", "javascript", "import os from 'os';\nfunction f() { const { os } = g(); os.x; }\n", []],
  ["a key", "javascript", "import os from 'os';\nfunction f({ os: b }) { os.x; }\n", ["2:os.default.x"]],
  ["a rest", "javascript", "import os from 'os';\nfunction f(...os) { os.x; }\n", []],
  ["a loop's variable", "javascript", "import os from 'os';\nfunction f(a) { for (const os of a) os.x; }\n", []],
  ["what is caught", "javascript", "import os from 'os';\ntry { os.x; } catch (os) { os.y; }\n", ["2:os.default.x"]],
  ["what is required within", "javascript", "function f() { const os = require('os'); os.x; }\n", ["1:os.x"]],
  [
    "another function's",
    "javascript",
    "import os from 'os';\nfunction f() { g(os => 1); os.x; }\n",
    ["2:os.default.x"],
  ],
  ["a class within", "javascript", "import os from 'os';\nfunction f() { class os {} os.x; }\n", []],
  ["a typed parameter", "typescript", "import os from 'os';\nconst f = (os: T, b?: os.T) => os.x;\n", []],
  ["a parameter", "go", 'package m\nimport "os"\nfunc f(os int) { g(os.X) }\nfunc h() { os.Y() }\n', ["4:os.Y"]],
  ["a short variable", "go", 'package m\nimport "os"\nfunc f() { a, os := g(); os.X() }\n', []],
  ["its value", "go", 'package m\nimport "os"\nfunc f() { a := os.X() }\n', ["3:os.X"]],
  ["a range", "go", 'package m\nimport "os"\nfunc f() { for _, os := range xs { os.X() } }\n', []],
  ["a variable", "go", 'package m\nimport "os"\nfunc f() { var os int; os.X() }\n', []],
  ["a binding", "rust", "use std::fs as os;\nfn f() { let mut os = 1; os::x(); }\nfn g() { os::y(); }\n", ["3:os.y"]],
  ["a closure's", "rust", "use std::fs as os;\nfn f() { g(|os| os::x()); os::y(); }\n", ["2:os.y"]],
];

describe("a name of a function's own", () => {
  it.each(HIDDEN)("hides what is imported: %s, %s", async (_shows, language, source, uses) => {
    const found = await usesIn(language, source);
    expect(found.filter((use) => /:os\b/.test(use))).toEqual(uses.map((use) => use.replace(".default", "")));
  });
});

describe("words of a text", () => {
  const WORDS = ["os", "é", "naïve", "a1", "$x", "_", "printf"];
  const piece = fc.oneof(fc.constantFrom(...WORDS, " ", ".", "1", "\n", "-", "“", "x", "𝒜", "\t("), fc.string());
  it("are found where a pattern finds them, in any text", () => {
    const pattern = /[\p{L}_$][\p{L}\p{N}_$]*/gu;
    fc.assert(
      fc.property(fc.array(piece), (pieces) => {
        // What begins with a digit, and letters of two units, are read otherwise: neither is a name that is looked for.
        const text = pieces
          .join("")
          .replace(/\p{Cs}|[\u{10000}-\u{10ffff}]/gu, "")
          .replace(/(?<![\p{L}\p{N}_$])\p{N}+/gu, "");
        const expected = [...text.matchAll(pattern)].flatMap(({ 0: word, index }) =>
          WORDS.includes(word) ? [{ word, index }] : [],
        );
        expect(findWords(text, new Set(WORDS))).toEqual(expected);
      }),
    );
  });
});
