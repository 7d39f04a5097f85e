import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { parsePortFile } from "@/core/formats/port-file";
import { effectOfMap, mappedFile, proposeMap } from "@/core/pairing/module-map";
import { resolveModules } from "@/core/pairing/modules";
import { portFile } from "@/testing/temporary-port";

const EMPTY = { ending: ".ts", home: "src/" };
const port = (extra: Readonly<Record<string, unknown>> = {}) =>
  parsePortFile(JSON.stringify(portFile(extra)), "side-twin.json");

describe("a rule of the moduleMap", () => {
  it("places a file in the style of either side, folders as they are", () => {
    const rules = [{ original: "lib/**/*.py", twin: "src/**/*.ts" }];
    const place = (file: string, there: string) => mappedFile(rules, file, new Set([there]))?.there;
    expect(place("lib/crew/rest_rules.py", "src/crew/restRules.ts")).toBe("src/crew/restRules.ts");
    expect(place("lib/crew/rest_rules.py", "src/crew/rest-rules.ts")).toBe("src/crew/rest-rules.ts");
    expect(place("lib/rest.py", "src/rest.ts")).toBe("src/rest.ts");
    expect(place("other/rest.py", "src/rest.ts")).toBeUndefined();
  });

  it("keeps one star within its folder, and two go through", () => {
    expect(mappedFile([{ original: "a/*.c", twin: "b/*.rs" }], "a/x/y.c", new Set())).toBeNull();
    expect(mappedFile([{ original: "a/**.c", twin: "b/**.rs" }], "a/x/y.c", new Set())?.expected).toBe("b/x/y.rs");
    expect(mappedFile([{ original: "a/one.c", twin: "b/two.rs" }], "a/one.c", new Set())?.expected).toBe("b/two.rs");
  });

  it("has its effect told: what it covers, what is there, what it misses on both sides", () => {
    const effect = effectOfMap([{ original: "a/*.py", twin: "b/*.ts" }], {
      original: ["a/one_more.py", "a/two.py", "z.py"],
      twin: ["b/oneMore.ts", "b/extra.ts"],
    });
    expect(effect.rules[0]?.covers).toEqual([
      { original: "a/one_more.py", twin: "b/oneMore.ts", isThere: true },
      { original: "a/two.py", twin: "b/two.ts", isThere: false },
    ]);
    expect(effect).toMatchObject({ missed: ["z.py"], leftTwin: ["b/extra.ts"] });
  });
});

describe("a moduleMap that is proposed", () => {
  it("is read off the files of both sides, the rule that places the most first", () => {
    const original = ["pkg/a.py", "pkg/b_c.py", "pkg/d.py", "pkg/sub/e.py", "tools/x.py", "tools/y.py"];
    const twin = ["src/a.ts", "src/bC.ts", "src/d.ts", "src/sub/e.ts", "bin/x.ts", "bin/y.ts"];
    const rules = proposeMap({ original, twin }, EMPTY);
    expect(rules).toEqual([
      { original: "pkg/**/*.py", twin: "src/**/*.ts" },
      { original: "tools/*.py", twin: "bin/*.ts" },
    ]);
    expect(effectOfMap(rules, { original, twin })).toMatchObject({ missed: [], leftTwin: [] });
  });

  it("places what it covers, each file by one rule, whatever the trees look like", () => {
    let placed = 0;
    const file = (ending: string) =>
      fc
        .tuple(fc.constantFrom("", "a/", "b/", "a/c/"), fc.constantFrom("one", "two_more", "three"))
        .map(([folder, stem]) => `${folder}${stem}${ending}`);
    fc.assert(
      fc.property(
        fc.uniqueArray(file(".py"), { maxLength: 8 }),
        fc.uniqueArray(file(".ts"), { maxLength: 8 }),
        (original, twin) => {
          const rules = proposeMap({ original, twin }, EMPTY);
          const effect = effectOfMap(rules, { original, twin });
          const covered = effect.rules.flatMap(({ covers }) => covers.map((place) => place.original));
          expect([...covered, ...effect.missed].sort()).toEqual([...original].sort());
          for (const { covers } of effect.rules) {
            if (twin.length > 0) expect(covers.some(({ isThere }) => isThere)).toBe(true);
            for (const place of covers) if (place.isThere) expect(twin).toContain(place.twin);
          }
          if (rules.length > 0 && twin.length > 0) placed++;
        },
      ),
    );
    expect(placed).toBeGreaterThan(5);
  });

  it("makes no rule of one file among many, and none of files that are alike in nothing", () => {
    expect(proposeMap({ original: ["a/x.py", "b/y.py", "c/z.py"], twin: ["q/x.ts", "r/o.ts"] }, EMPTY)).toEqual([]);
  });

  it("keeps the folders of the original where the twin is empty", () => {
    expect(proposeMap({ original: ["pkg/a.py", "pkg/b.py"], twin: [] }, EMPTY)).toEqual([
      { original: "pkg/*.py", twin: "src/*.ts" },
    ]);
    expect(proposeMap({ original: ["pkg/a.py", "pkg/sub/b.py"], twin: [] }, EMPTY)).toEqual([
      { original: "pkg/**/*.py", twin: "src/**/*.ts" },
    ]);
    expect(proposeMap({ original: [], twin: [] }, EMPTY)).toEqual([]);
  });
});

describe("modules", () => {
  const names = (modules: ReturnType<typeof resolveModules>) => modules.map(({ name, original }) => [name, original]);

  it("are a header and its source together, on both sides", () => {
    const definition = port({
      original: { root: "o", language: "c" },
      twins: [{ name: "ts", root: "t", language: "cpp" }],
    });
    const [vent, board] = resolveModules(definition, {
      original: ["include/vent.h", "src/board.h", "src/vent.c"],
      twins: { ts: ["vent.cpp", "vent.h"] },
    });
    expect(vent).toMatchObject({ name: "board", original: ["src/board.h"] });
    expect(board).toMatchObject({ name: "vent", original: ["src/vent.c", "include/vent.h"] });
    expect(board?.twins).toEqual({ ts: ["vent.cpp", "vent.h"] });
  });

  it("are folders where the port says so, files at the top their own", () => {
    const modules = resolveModules(port({ modulesBy: "folder" }), {
      original: ["main.py", "harbour/a.py", "harbour/b.py", "harbour/deep/c.py"],
      twins: { ts: [] },
    });
    expect(names(modules)).toEqual([
      ["main", ["main.py"]],
      ["harbour", ["harbour/a.py", "harbour/b.py"]],
      ["deep", ["harbour/deep/c.py"]],
    ]);
  });

  it("are what patterns gather, and the rest by file", () => {
    const modules = resolveModules(
      port({ modules: [{ name: "harbour", original: ["harbour/**/*.py"], twins: { ts: ["src/harbour/*.ts"] } }] }),
      {
        original: ["main.py", "harbour/a.py", "harbour/deep/c.py"],
        twins: { ts: ["src/harbour/a.ts", "src/harbour/c.ts", "src/main.ts"] },
      },
    );
    expect(names(modules)).toEqual([
      ["harbour", ["harbour/a.py", "harbour/deep/c.py"]],
      ["main", ["main.py"]],
    ]);
    expect(modules.map(({ twins }) => twins.ts)).toEqual([["src/harbour/a.ts", "src/harbour/c.ts"], ["src/main.ts"]]);
  });
});
