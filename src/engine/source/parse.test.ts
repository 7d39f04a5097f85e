import { describe, expect, it } from "vitest";
import { findLanguage, LANGUAGES } from "@/core/source/languages/index";
import { colourSource, parseSource } from "@/engine/source/parse";

const sections = async (language: string, text: string) =>
  (await parseSource(text, language)).sections.map(({ name, kind, from, to, complexity }) => [
    name,
    kind,
    from,
    to,
    complexity,
  ]);

describe("sections of Python", () => {
  it("are functions, classes with their methods, and constants", async () => {
    const text = `"""Doc."""
LIMIT = 3
__all__ = []

@cached
def fare(miles, kind="adult", *, day=None):
    if miles < 0 or kind == "x":
        raise ValueError
    def inner(): pass
    return [m for m in range(3) if m]

class Harbour:
    size = 1
    @property
    def free(self):
        return 1

try:
    import fast
except ImportError:
    def fallback(): return 1
`;
    expect(await sections("python", text)).toEqual([
      ["LIMIT", "constant", 2, 2, 1],
      ["fare", "function", 5, 10, 5],
      ["Harbour", "class", 12, 16, 1],
      ["Harbour.free", "method", 14, 16, 1],
      ["fallback", "function", 21, 21, 1],
    ]);
  });

  it("tell parameters without self", async () => {
    const { sections: found } = await parseSource(
      "class A:\n  def f(self, a, b=1, *args, c: int = 2, **kw): pass\n",
      "python",
    );
    expect(found[1]?.params).toEqual(["a", "b", "c"]);
  });
});

describe("sections of JavaScript and TypeScript", () => {
  it("are found in every style of declaring them", async () => {
    const text = `import x from "y";
export const LIMIT = 3;
export function fare(a, { b } = {}) { return a && b ? 1 : 2; }
const arrow = (a) => a;
export default class Harbour {
  #secret = 1;
  get free() { return 1; }
  later = async () => 2;
}
exports.old = function (a) {};
Harbour.prototype.more = function () {};
const z = require("z");
`;
    expect(await sections("javascript", text)).toEqual([
      ["LIMIT", "constant", 2, 2, 1],
      ["fare", "function", 3, 3, 3],
      ["arrow", "function", 4, 4, 1],
      ["Harbour", "class", 5, 9, 1],
      ["Harbour.free", "method", 7, 7, 1],
      ["Harbour.later", "method", 8, 8, 1],
      ["old", "function", 10, 10, 1],
      ["Harbour.more", "method", 11, 11, 1],
    ]);
  });

  it("are found within what is called at once, wrapped, or put on objects", async () => {
    const text = `(function () {
  var Heap, count;
  count = function (a) { return a; };
  Heap = (function () {
    function Heap() {}
    Heap.prototype.pop = function () {};
    return Heap;
  })();
}).call(this);
const Tern = keep(wrap(class Tern { fly(far) {} }));
const rules = { open() {}, "shut": function (at) {}, level: 3 };
rules.fence = function (tokens) {};
Tern.prototype.Nest = wrap(class Nest { lay() {} });
module.exports.tokenize = function emphasis(state) {};
module.exports = { up: (n) => n, down() {}, Heap };
`;
    expect((await sections("javascript", text)).map(([name, kind]) => `${kind} ${name}`)).toEqual([
      "function count",
      "class Heap",
      "method Heap.pop",
      "class Tern",
      "method Tern.fly",
      "constant rules",
      "method rules.open",
      "method rules.shut",
      "method rules.fence",
      "class Tern.Nest",
      "method Tern.Nest.lay",
      "function tokenize",
      "function up",
      "function down",
    ]);
  });

  it("are classes where functions make objects: by prototypes, and by what they hang on this", async () => {
    const text = [
      "harbour.Quay = function (name) { this.name = name; };",
      "harbour.Quay.prototype.moor = function (boat) { this.then = function () {}; };",
      "harbour.Quay.Builder = function () {};",
      "harbour.Quay.Builder.prototype = Object.create(Base.prototype);",
      "harbour.Quay.limit = function (n) { return n; };",
      "harbour.count = function (n) { return n; };",
      "harbour.stem = (function () { var c = 1; return function (w) { return w + c; }; })();",
      "function Buoy(depth) {",
      "  var self = this, other = 1;",
      "  function init() { self.d = depth; }",
      "  this.sink = function (by) { self.d += by; };",
      "  self.rise = (by) => { self.d -= by; };",
      "  other.none = function () {};",
      "  init();",
      "}",
      "Buoy.prototype = new Float();",
      "harbour.Crane = function () {};",
      "harbour.Crane.prototype = { lift: function (n) { return n; }, drop() {}, weight: 3 };",
      "var Lamp = function () { this.on = function () { return true; }; };",
      "function plain() { return this; }",
      "exports.deep = {};",
      "exports.deep.light = function (a, b) { return a; };",
    ].join("\n");
    expect((await sections("javascript", text)).map(([name, kind]) => `${kind} ${name}`)).toEqual([
      "class Quay",
      "method Quay.moor",
      "class Builder",
      "method Quay.limit",
      "method harbour.count",
      "method harbour.stem",
      "class Buoy",
      "method Buoy.sink",
      "method Buoy.rise",
      "class Crane",
      "method Crane.lift",
      "method Crane.drop",
      "class Lamp",
      "method Lamp.on",
      "function plain",
      "constant deep",
      "method deep.light",
    ]);
  });

  it("are one for an overloaded function: its code, or the last signature where there is none", async () => {
    const text = [
      "export function of(n: number): string;",
      "/** Or a text. */",
      "export function of(n: string): string;",
      "export function of(n: unknown) { return String(n); }",
      "declare function only(n: number): void;",
      "declare function only(n: string): void;",
      "declare namespace Quay { function of(a: number): void; }",
      "namespace Pier { function of(a: 1): void; function of(a: 2): void; function of(a: any) {} }",
    ].join("\n");
    expect((await sections("typescript", text)).map(([name, _kind, from]) => `${name} ${from}`)).toEqual([
      "of 4",
      "only 6",
      "of 7",
      "of 8",
    ]);
  });

  it("count interfaces and object types as classes", async () => {
    expect(
      await sections(
        "typescript",
        "export interface A { x: number }\ntype B = { y: string };\ntype C = string;\nenum D { E }\n",
      ),
    ).toEqual([
      ["A", "class", 1, 1, 1],
      ["B", "class", 2, 2, 1],
      ["D", "class", 4, 4, 1],
    ]);
  });
});

describe("imports", () => {
  it("name the files they may mean", async () => {
    const python = findLanguage("python");
    const { imports } = await parseSource(
      "from . import money, tides as t\nfrom .deep.er import x\nimport a.b, c\n",
      "python",
    );
    const candidates = imports.map((written) => python?.importCandidates(written, "ferry/fares.py"));
    expect(candidates[0]).toEqual(expect.arrayContaining(["ferry/money.py", "ferry/tides.py"]));
    expect(candidates[1]).toEqual(expect.arrayContaining(["ferry/deep/er.py", "ferry/deep/er/x.py"]));
    expect(candidates[2]).toEqual(expect.arrayContaining(["a/b.py", "ferry/a/b.py"]));
    const { imports: written } = await parseSource(
      'import a from "../money";\nexport * from "./x.js";\nconst b = require("./c");\nimport fs from "node:fs";\n',
      "typescript",
    );
    const found = written.map((entry) => findLanguage("typescript")?.importCandidates(entry, "src/deep/fares.ts"));
    expect(found[0]).toContain("src/money.ts");
    expect(found[1]).toContain("src/deep/x.ts");
    expect(found[2]).toContain("src/deep/c.js");
    expect(found[3]).toEqual([]);
  });
});

describe("every language", () => {
  it.each(LANGUAGES.map((language) => [language.name, language]))(
    "%s loads its grammar and survives text that does not parse",
    async (name, language) => {
      expect(language.title).not.toBe("");
      const { lines, errorLine } = await parseSource("a b c (((\n\u0000 }}}", name);
      expect(lines).toHaveLength(2);
      expect(errorLine).not.toBeNull();
      expect((await parseSource("", name)).sections).toEqual([]);
    },
  );

  it("that is not known has lines and no sections", async () => {
    expect(await parseSource("x\r\ny", null)).toMatchObject({ lines: ["x", "y"], sections: [], errorLine: null });
  });

  it("has its comments, texts, numbers and keywords coloured", async () => {
    expect(await colourSource(["x = 1 # why", 'if x: y = "t"'], "python")).toEqual([
      [
        [4, 5, "n"],
        [6, 11, "c"],
      ],
      [
        [0, 2, "k"],
        [10, 13, "s"],
      ],
    ]);
  });
});
