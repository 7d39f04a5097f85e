import { describe, expect, it } from "vitest";
import { findLanguage } from "@/core/source/languages/index";
import type { Import } from "@/core/source/section";
import { FileIndex, isManifest, readManifests } from "@/core/survey/file-index";

const written = (specifier: string, names: readonly string[] = []): Import => ({
  specifier,
  names,
  line: 1,
  text: "",
  bindings: [],
});

function resolve(
  language: string,
  files: readonly string[],
  from: string,
  of: Import,
  manifests: Record<string, unknown> = {},
) {
  const texts = new Map(
    Object.entries(manifests).map(([name, text]) => [name, typeof text === "string" ? text : JSON.stringify(text)]),
  );
  const reader = findLanguage(language);
  if (!reader) throw new Error(`no ${language}`);
  return new FileIndex(files, { manifests: readManifests(texts) }).resolve(reader, of, from);
}

describe("imports resolved to files", () => {
  it("of Python: relative, absolute, in a source folder that nothing names, and none of two that could be meant", () => {
    const files = ["src/quay/__init__.py", "src/quay/tides.py", "src/quay/deep/level.py", "a/twice.py", "b/twice.py"];
    expect(resolve("python", files, "src/quay/deep/level.py", written("..tides", ["x"]))).toEqual([
      "src/quay/tides.py",
    ]);
    expect(resolve("python", files, "tests/all.py", written("quay.tides", ["x"]))).toEqual(["src/quay/tides.py"]);
    expect(resolve("python", files, "tests/all.py", written("twice"))).toEqual([]);
    expect(resolve("python", files, "tests/all.py", written("json"))).toEqual([]);
  });

  it("of a Python tree that is a package itself: by its own name, whole or a module of it", () => {
    const files = ["__init__.py", "errors.py", "mime/__init__.py", "mime/text.py", "mime/errors.py"];
    const reader = findLanguage("python");
    if (!reader) throw new Error("no python");
    const own = (specifier: string, names: readonly string[], from: string, listed = files) =>
      new FileIndex(listed, { rootName: "post" }).resolve(reader, written(specifier, names), from);
    expect(own("post", ["errors"], "mime/text.py")).toEqual(["errors.py"]);
    expect(own("post", ["errors"], "mime/errors.py")).toEqual(["errors.py"]);
    expect(own("post", [], "mime/text.py")).toEqual(["__init__.py"]);
    expect(own("post", ["VERSION"], "errors.py")).toEqual(["__init__.py"]);
    expect(own("post.mime", ["text"], "errors.py")).toContain("mime/text.py");
    expect(own("post", ["errors"], "mime/text.py", files.slice(1))).toEqual([]);
    expect(own("poster", ["errors"], "mime/text.py")).toEqual([]);
  });

  it("of TypeScript: endings, index files, JavaScript's endings for sources, and aliases with comments around", () => {
    const files = ["src/a.ts", "src/b/index.tsx", "src/c.mts", "lib/deep/d.ts"];
    const manifests = {
      "tsconfig.json":
        '{ /* aliases */ "compilerOptions": { "paths": { "~/*": ["./src/*"], "deep": ["lib/deep/d.ts"] }, } }',
    };
    const of = (specifier: string) => resolve("typescript", files, "src/x.ts", written(specifier), manifests);
    expect([
      of("./a"),
      of("./a.js"),
      of("./b"),
      of("./c.mjs"),
      of("~/a"),
      of("deep"),
      of("~/gone"),
      of("left-pad"),
    ]).toEqual([
      ["src/a.ts"],
      ["src/a.ts"],
      ["src/b/index.tsx"],
      ["src/c.mts"],
      ["src/a.ts"],
      ["lib/deep/d.ts"],
      [],
      [],
    ]);
  });

  it("of JavaScript: through what a package maps for itself and for others", () => {
    const files = ["src/ropes/knot.ts", "src/quay.js", "lib/index.js", "lib/tides/low.js"];
    const manifest = {
      "package.json": {
        name: "@salt/sea",
        imports: {
          "#ropes/*": { types: "./src/ropes/*.d.ts", default: "./src/ropes/*.ts" },
          "#quay": "./src/quay.js",
          "#x": null,
        },
        exports: {
          ".": "./lib/index.js",
          "./tides/*": [{ import: "./lib/tides/*.js" }],
          "./gone": "./dist/gone.js",
          bad: "./lib",
        },
      },
    };
    const of = (specifier: string) => resolve("typescript", files, "src/a.ts", written(specifier), manifest);
    expect(
      ["#ropes/knot", "#quay", "@salt/sea", "@salt/sea/tides/low", "@salt/sea/gone", "#x", "#none"].map(of),
    ).toEqual([["src/ropes/knot.ts"], ["src/quay.js"], ["lib/index.js"], ["lib/tides/low.js"], [], [], []]);
  });

  it("of Go, Rust and PHP: through what their manifests say", () => {
    const goFiles = ["cmd/main.go", "tides/b.go", "tides/a.go", "tides/a_test.go"];
    expect(
      resolve("go", goFiles, "cmd/main.go", written("salt.example/x/tides"), { "go.mod": "module salt.example/x\n" }),
    ).toEqual(["tides/a.go", "tides/b.go"]);
    const crate = { "Cargo.toml": '[workspace]\n[package]\nversion = "1"\nname = "salt-sea"\n' };
    expect(
      resolve("rust", ["src/lib.rs", "src/tides.rs"], "tests/t.rs", written("salt_sea::tides", ["Tide"]), crate),
    ).toEqual(["src/tides.rs"]);
    const composer = { "composer.json": { autoload: { "psr-4": { "Salt\\Sea\\": "lib/" } } } };
    expect(resolve("php", ["lib/Tides/Tide.php"], "x.php", written("Salt\\Sea\\Tides", ["Tide"]), composer)).toEqual([
      "lib/Tides/Tide.php",
    ]);
  });

  it("of C: beside the file, in include folders, and by the end of a path", () => {
    const files = ["src/a.c", "src/a.h", "include/b.h", "vendor/deep/c.h"];
    const of = (specifier: string) => resolve("c", files, "src/a.c", written(specifier));
    expect([of("a.h"), of("b.h"), of("deep/c.h"), of("c.h"), of("stdio.h")]).toEqual([
      ["src/a.h"],
      ["include/b.h"],
      ["vendor/deep/c.h"],
      ["vendor/deep/c.h"],
      [],
    ]);
  });

  it("are not thrown off by manifests that cannot be read", () => {
    const broken = {
      "tsconfig.json": "{ not json",
      "composer.json": "[]",
      "package.json": "{}",
      "go.mod": "",
      "Cargo.toml": "[",
    };
    expect(Object.keys(broken).every(isManifest)).toBe(true);
    expect(resolve("typescript", ["src/a.ts"], "src/x.ts", written("./a"), broken)).toEqual(["src/a.ts"]);
  });
});
