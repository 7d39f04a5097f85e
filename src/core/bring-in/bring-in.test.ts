import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Draft, formatCommand, namingBetween, plainDraft, toPortFile } from "@/core/bring-in/draft";
import { guessEntryPoint, isTelling } from "@/core/bring-in/entry-points";
import { SideTwinError } from "@/core/errors";

const draft = (extra: Partial<Draft> = {}): Draft => ({
  name: "Vents",
  folder: "/somewhere/vents-port",
  language: "c",
  twin: { name: "ts", root: "twin", language: "typescript" },
  ...plainDraft(),
  prepare: "make",
  run: "./vents --dry run",
  ...extra,
});

describe("a draft", () => {
  it("becomes a port file that is read again, with nothing in it that says nothing", () => {
    const { port, text } = toPortFile(draft(), "../vents");
    expect(port.original).toMatchObject({ root: "../vents", run: ["./vents", "--dry", "run"], prepare: [["make"]] });
    expect(JSON.parse(text)).not.toHaveProperty("modules");
    expect(text).toContain('"run": ["./vents", "--dry", "run"]');
  });

  it("keeps modules by pattern, the moduleMap and names", () => {
    const { port } = toPortFile(
      draft({
        modules: [{ name: "io", files: ["io/**"] }],
        modulesBy: "folder",
        moduleMap: [{ original: "*.c", twin: "src/*.ts" }],
        functions: "snake-to-camel",
      }),
      ".",
    );
    expect(port.modules[0]).toMatchObject({ name: "io", original: ["io/**"] });
    expect(port).toMatchObject({ modulesBy: "folder", moduleMap: [{ original: "*.c", twin: "src/*.ts" }] });
    expect(port.names).toMatchObject({ functions: "snake-to-camel", keys: "same" });
  });

  it("is refused with what is wrong: a shell's operators, no name, two modules of one name", () => {
    expect(() => toPortFile(draft({ run: "a | b" }), ".")).toThrow(/Shell operators/);
    expect(() => toPortFile(draft({ run: 'sh -c "a | b"' }), ".")).not.toThrow();
    expect(() => toPortFile(draft({ name: " " }), ".")).toThrow(SideTwinError);
    const twice = { name: "io", files: ["io/**"] };
    expect(() => toPortFile(draft({ modules: [twice, twice] }), ".")).toThrow(/Two modules are named "io"/);
  });

  it("reads back the commands that it writes", () => {
    const word = fc.stringMatching(/^[A-Za-z0-9 ./_=-]{1,12}$/);
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 5 }), (command) => {
        const { port } = toPortFile(draft({ run: formatCommand(command) }), ".");
        expect(port.original.run).toEqual(command);
      }),
    );
  });

  it("knows how names go between languages", () => {
    expect(namingBetween("python", "typescript")).toBe("snake-to-camel");
    expect(namingBetween("java", "rust")).toBe("camel-to-snake");
    expect(namingBetween("c", "go")).toBe("snake-to-pascal");
    expect(namingBetween("java", "typescript")).toBe("same");
  });
});

describe("how a program is started", () => {
  const guess = (language: string, texts: Readonly<Record<string, string>>) =>
    guessEntryPoint(language, { files: Object.keys(texts), texts: new Map(Object.entries(texts)) });

  const EXAMPLES: readonly (readonly [
    string,
    Readonly<Record<string, string>>,
    readonly string[] | null,
    readonly string[][],
  ])[] = [
    ["python", { "ferry/__main__.py": "", "ferry/a.py": "" }, ["python3", "-m", "ferry"], []],
    ["python", { "tool.py": 'if __name__ == "__main__":\n    go()\n', "a.py": "" }, ["python3", "tool.py"], []],
    [
      "javascript",
      { "package.json": '{"bin": {"seeds": "./bin/seeds.js"}, "scripts": {"build": "x"}}' },
      ["node", "bin/seeds.js"],
      [["npm", "run", "build"]],
    ],
    ["javascript", { "package.json": '{"scripts": {"start": "node server.js"}}' }, ["node", "server.js"], []],
    ["javascript", { "package.json": "not json", "index.js": "" }, ["node", "index.js"], []],
    ["javascript", { "package.json": '{"main": "./tide.js"}', "tide.js": "start()" }, ["node", "tide.js"], []],
    ["javascript", { "package.json": '{"main": "tide.js"}', "tide.js": "exports.tide = 1" }, null, []],
    ["javascript", { "index.js": "export default 1", "main.js": "start()" }, ["node", "main.js"], []],
    ["c", { Makefile: "PROG = vents\nall: $(PROG)\n$(PROG): a.o\n\tcc -o $@ a.o\n" }, ["./vents"], [["make"]]],
    ["c", { "a.c": "int main(void) { }", "b.c": "" }, ["./program"], [["cc", "-o", "program", "a.c", "b.c"]]],
    [
      "java",
      { "src/a/Main.java": "package a.b;\nclass Main { public static void main(String[] x) {} }" },
      ["java", "-cp", "build", "a.b.Main"],
      [["javac", "-d", "build", "src/a/Main.java"]],
    ],
    [
      "go",
      { "go.mod": "module x", "main.go": "package main\nfunc main() {}\n" },
      ["build/program"],
      [["go", "build", "-o", "build/program", "."]],
    ],
    [
      "go",
      { "go.mod": "module x", "cmd/vents/start.go": "package main\nfunc main() {}\n", "vents.go": "package vents\n" },
      ["build/program"],
      [["go", "build", "-o", "build/program", "./cmd/vents"]],
    ],
    ["go", { "one.go": "package main\n\nfunc main() {\n}\n" }, ["go", "run", "one.go"], []],
    [
      "rust",
      { "Cargo.toml": '[package]\nname = "vents"\n[[bin]]\nname = "blow"\n' },
      ["target/debug/blow"],
      [["cargo", "build", "--offline"]],
    ],
    [
      "rust",
      { "Cargo.toml": '[package]\nname = "vents"\n', "src/bin/blow.rs": "", "src/lib.rs": "" },
      ["target/debug/blow"],
      [["cargo", "build", "--offline"]],
    ],
    [
      "rust",
      { "Cargo.toml": '[package]\nname = "vents"\n', "src/main.rs": "" },
      ["target/debug/vents"],
      [["cargo", "build", "--offline"]],
    ],
    ["ruby", { "only.rb": "" }, ["ruby", "only.rb"], []],
    ["php", { "index.php": "", "a.php": "" }, ["php", "index.php"], []],
  ];

  it.each(EXAMPLES)("is concluded for %s from %o", (language, texts, run, prepare) => {
    expect(guess(language, texts)).toMatchObject({ run, prepare });
    // What it is concluded from is what is read.
    expect(Object.keys(texts).some(isTelling)).toBe(true);
  });

  it("builds a library and starts nothing, and takes no test for a program", () => {
    expect(guess("go", { "go.mod": "module x", "a.go": "package a\n" })).toMatchObject({
      prepare: [["go", "build", "./..."]],
      run: null,
    });
    expect(guess("rust", { "Cargo.toml": '[package]\nname = "vents"\n', "src/lib.rs": "" })).toMatchObject({
      prepare: [["cargo", "build", "--offline"]],
      run: null,
    });
    expect(guess("go", { "a_test.go": "package main\nfunc main() {}\n", "a.go": "package a\n" }).run).toBeNull();
    expect(guess("python", { "tests/run.py": 'if __name__ == "__main__":\n    go()\n' }).run).toBeNull();
    expect(guess("c", { "tests/all.c": "int main(void) {}", "a.c": "" }).run).toBeNull();
  });

  it("is left open where nothing says it", () => {
    for (const language of ["python", "ruby", "c", "java", "rust", "csharp", "klingon"])
      expect(guess(language, { "a.py": "x", "a.rb": "", "b.rb": "", "a.c": "", "A.java": "" }).run).toBeNull();
  });
});
