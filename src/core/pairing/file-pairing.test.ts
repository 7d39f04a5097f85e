import { describe, expect, it } from "vitest";
import { type FileSketch, pairFiles } from "@/core/pairing/file-pairing";
import { traceOf } from "@/core/pairing/traces";

const sketch = (path: string, names: string, text = ""): FileSketch => ({
  path,
  names: new Set(names.split(" ").filter(Boolean)),
  trace: traceOf(text),
});
const module = (name: string, file: FileSketch, twins: readonly string[] = []) => ({ name, files: [file], twins });

describe("files whose names do not say", () => {
  it("are paired by the names of their sections and what is in them", () => {
    const modules = [
      module("fares", sketch("fares.py", "farefor rebate childfare", "lookup('adult'); x = 250")),
      module("tides", sketch("tides.py", "heightat nexthigh", "cos(1.0405); y = 'Gannet'")),
      module("later", sketch("later.py", "notyet", "z = 'nothing like it'")),
    ];
    const files = [
      sketch("water.ts", "heightat nexthigh level", "cos(1.0405); 'Gannet'"),
      sketch("prices.ts", "farefor rebate", "lookup('adult') + 250"),
      sketch("helpers.ts", "clamp pad", "'other'"),
    ];
    expect([...pairFiles(modules, files)]).toEqual([
      ["fares", ["prices.ts"]],
      ["tides", ["water.ts"]],
      ["later", []],
    ]);
  });

  it("may hold a part of a module, and a module may have gone into a file of another", () => {
    const modules = [
      module("big", sketch("big.py", "one two three four"), ["big.ts"]),
      module("small", sketch("small.py", "five six")),
    ];
    const files = [sketch("big.ts", "one two five six"), sketch("rest.ts", "three four more")];
    expect([...pairFiles(modules, files)]).toEqual([
      ["big", ["big.ts", "rest.ts"]],
      ["small", ["big.ts"]],
    ]);
  });

  it("leave what names have said as it is", () => {
    const modules = [module("a", sketch("a.py", "x y"), ["z.ts"])];
    expect([...pairFiles(modules, [sketch("z.ts", "p q"), sketch("a2.ts", "x")])]).toEqual([["a", ["z.ts"]]]);
  });

  it("go by what is in them where a name only tells a file's role", () => {
    const main = { ...module("main", sketch("lib/main.js", "render"), ["pkg/__main__.py"]), isDoubtful: true };
    const files = [sketch("pkg/__main__.py", "parseargs run"), sketch("pkg/__init__.py", "render version")];
    expect(pairFiles([main], files).get("main")).toEqual(["pkg/__init__.py"]);
    // What shares a section with the file of its name stays there, and so does what no file or more than one has.
    expect(pairFiles([main], [sketch("pkg/__main__.py", "render"), ...files.slice(1)]).get("main")).toEqual(main.twins);
    expect(pairFiles([main], [...files, sketch("pkg/view.py", "render")]).get("main")).toEqual(main.twins);
    expect(pairFiles([main], files.slice(0, 1)).get("main")).toEqual(main.twins);
    expect(pairFiles([{ ...main, isDoubtful: false }], files).get("main")).toEqual(main.twins);
  });
});
