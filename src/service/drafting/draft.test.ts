/** Drafts of one language: whole files, single sections, into files that are there, with phrases, undone. */
import { execFileSync } from "node:child_process";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { draftModule } from "@/service/drafting/draft";
import { undoSnapshot } from "@/service/snapshots/snapshots";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const ORIGINAL = `"""Locks of a canal."""
import math
import gauge

STEP = 7


def level(n):
    return gauge.read_level(n) * STEP


@staticmethod
def wet(n):
    return math.floor(n)


class Lock:
    def __init__(self, n):
        self.n = n

    def fill(self, by):
        self.n += by
        return legacy_log(self.n)

    def drain(self):
        # legacy_log is told
        return legacy_log(0)
`;
const BOOK = {
  format: "side-twin/phrasebook",
  version: 1,
  phrases: [
    {
      id: "gauge",
      kind: "name",
      from: "gauge.read_level",
      to: "meters.level_of",
      imports: { add: ["import meters"], drop: ["import gauge"] },
      drafts: true,
    },
    { id: "log", kind: "code", language: "python", from: "legacy_log((:x:))", to: "log.note((:x:))", drafts: true },
    { id: "twin-only", kind: "code", language: "python", from: "math.floor((:x:))", to: "int((:x:))" },
  ],
};
const port = (twin: Record<string, unknown> = {}, more: Record<string, unknown> = {}) =>
  temporaryFolder({
    "side-twin.json": portFile({
      twins: [{ name: "py", root: "twin", language: "python" }],
      phrasebook: ["phrases.json"],
      ...more,
    }),
    "phrases.json": BOOK,
    "original/canal/lock.py": ORIGINAL,
    ...twin,
  });
const twinText = (folder: string, file = "canal/lock.py") => readFileSync(path.join(folder, "twin", file), "utf8");
const draft = (folder: string, options = {}) =>
  draftModule(folder, { module: "lock", data: path.join(folder, ".data"), ...options });
const compiles = (text: string) =>
  execFileSync("python3", ["-c", "import ast,sys; ast.parse(sys.stdin.read())"], { input: text });

describe("drafting", () => {
  it("writes a module that is not there, with the phrases for drafts alone, and takes it back", async () => {
    const folder = port();
    const { files, snapshot } = await draft(folder);
    expect(files.map(({ file }) => file)).toEqual(["canal/lock.py"]);
    expect(files[0]?.sections.map(({ original, state }) => `${original} ${state}`)).toEqual([
      "STEP drafted",
      "level drafted",
      "wet drafted",
      "Lock drafted",
      "Lock.__init__ drafted",
      "Lock.fill drafted",
      "Lock.drain drafted",
    ]);
    const text = twinText(folder);
    expect(text).toContain("import meters");
    expect(text).toContain("return meters.level_of(n) * STEP");
    expect(text).toContain("return log.note(self.n)");
    expect(text).toContain("return math.floor(n)");
    expect(readFileSync(path.join(folder, "journal.jsonl"), "utf8")).toContain('"kind":"drafted"');
    await undoSnapshot(folder, path.join(folder, ".data"), snapshot ?? undefined);
    expect(existsSync(path.join(folder, "twin/canal/lock.py"))).toBe(false);
  });

  it("writes what is asked for, with what stands at its top", async () => {
    const folder = port();
    const { files } = await draft(folder, { sections: ["lock.wet"] });
    expect(files[0]?.sections.map(({ original }) => original)).toEqual(["STEP", "wet"]);
    const text = twinText(folder);
    expect(text).toContain("@staticmethod\ndef wet(n):");
    expect(text).toContain("import math");
    expect(text).not.toContain("class Lock");
    expect(text).not.toContain("def level");
    expect(text).not.toMatch(/\n\n\n\n/);
    compiles(text);
  });

  it("puts what is missing into a file that is there, and leaves the rest to the letter", async () => {
    const there = `STEP = 70\n\n\ndef level(n):\n    return n * STEP  # mine\n\n\nclass Lock:\n    def fill(self, by):\n        return by\n\n\ndef last():\n    return 1\n`;
    const folder = port({ "twin/canal/lock.py": there });
    const { files } = await draft(folder);
    expect(files[0]?.sections.map(({ original }) => original)).toEqual(["wet", "Lock.__init__", "Lock.drain"]);
    const text = twinText(folder);
    compiles(text);
    for (const line of there.split("\n")) expect(text).toContain(line);
    expect(text).toMatch(/^import math\n/);
    expect(text).not.toContain("level_of");
    expect(text.indexOf("def drain")).toBeLessThan(text.indexOf("def last"));
    expect((await draft(folder)).files).toEqual([]);
    expect(twinText(folder)).toBe(text);
  });

  it("touches what is ported only where it is asked to", async () => {
    const there = "def level(n):\n    return n  # mine\n";
    const folder = port({ "twin/canal/lock.py": there });
    expect((await draft(folder, { sections: ["level"] })).files).toEqual([]);
    expect(twinText(folder)).toBe(there);
    const { files } = await draft(folder, { sections: ["level"], over: true });
    // What it needs of the module comes with it.
    const [step, level] = ["STEP", "level"].map((name) => ({
      original: name,
      twin: name,
      state: "drafted",
      unsaid: [],
    }));
    expect(files[0]?.sections).toEqual([step, level]);
    expect(twinText(folder)).toBe("import meters\nSTEP = 7\ndef level(n):\n    return meters.level_of(n) * STEP\n");
  });

  it("spells names as the port does, and names what a phrase leaves to a person", async () => {
    const book = {
      ...BOOK,
      phrases: [
        {
          id: "log",
          kind: "code",
          language: "python",
          from: "legacy_log((:x:))",
          to: "log.note((:x:))",
          blanks: { x: { is: ["name"] } },
          drafts: true,
        },
      ],
    };
    const folder = port({}, { names: { functions: "snake-to-camel" } });
    writeFileSync(path.join(folder, "phrases.json"), JSON.stringify(book));
    writeFileSync(
      path.join(folder, "original/canal/lock.py"),
      `def fill_up(n):\n    return legacy_log(n + 1)\n\n\ndef run_it(n):\n    return fill_up(n), "fill_up"\n`,
    );
    const { files } = await draft(folder);
    expect(twinText(folder)).toContain('return fillUp(n), "fill_up"');
    expect(files[0]?.sections).toMatchObject([
      { original: "fill_up", twin: "fillUp", state: "partly", unsaid: [{ line: 2, text: "return legacy_log(n + 1)" }] },
      { original: "run_it", twin: "runIt", state: "drafted", unsaid: [] },
    ]);
  });

  it("puts two files of the original into one of the twin", async () => {
    const folder = port(
      {
        "original/canal/gate.py":
          "import os\n\n\ndef gate_of(n):\n    return os.sep * n\n\n\ndef level(n):\n    return n\n",
      },
      { modules: [{ name: "lock", original: ["canal/lock.py", "canal/gate.py"], twins: { py: ["all.py"] } }] },
    );
    const { files, snapshot } = await draft(folder, { sections: ["wet", "gate_of"] });
    expect(files.map(({ file, sections }) => [file, sections.map(({ original }) => original)])).toEqual([
      ["all.py", ["STEP", "wet", "gate_of"]],
    ]);
    const text = twinText(folder, "all.py");
    compiles(text);
    expect(text).toMatch(/import os\n[\s\S]*def wet\(n\)[\s\S]*def gate_of\(n\)/);
    await undoSnapshot(folder, path.join(folder, ".data"), snapshot ?? undefined);
    expect(existsSync(path.join(folder, "twin/all.py"))).toBe(false);
  });

  it("refuses an unknown module or section, and two languages", async () => {
    await expect(draft(port(), { module: "weir" })).rejects.toThrow(/no module "weir"/);
    await expect(draft(port(), { sections: ["nope"] })).rejects.toThrow(/no section "nope"/);
    const other = port({}, { twins: [{ name: "ts", root: "twin", language: "go" }] });
    await expect(draft(other)).rejects.toThrow(/no drafts from python into go/);
  });

  it("puts methods into a class of a language with braces", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: "java" },
        twins: [{ name: "j", root: "twin", language: "java" }],
      }),
      "original/Weir.java":
        "import java.util.List;\n\nclass Weir {\n    int a() {\n        return 1;\n    }\n\n    int b(List<Integer> x) {\n        return x.size();\n    }\n}\n",
      "twin/Weir.java": "class Weir {\n    int a() {\n        return 1;\n    }\n}\n",
    });
    await draftModule(folder, { module: "Weir", data: path.join(folder, ".data") });
    expect(twinText(folder, "Weir.java")).toBe(
      "import java.util.List;\nclass Weir {\n    int a() {\n        return 1;\n    }\n\n    int b(List<Integer> x) {\n        return x.size();\n    }\n}\n",
    );
  });
});

describe("drafting into a language that takes the text as it is", () => {
  it("gives TypeScript the text of JavaScript, and C++ that of C", async () => {
    const script = "/** Locks. */\nconst STEP = 7;\nexport function level(n) {\n  return n * STEP;\n}\n";
    const code = "static int step(void) { return 7; }\nint level(int n) { return n * step(); }\n";
    const cases = [
      { from: "javascript", to: "typescript", file: "lock.mjs", twin: "lock.mts", text: script },
      { from: "c", to: "cpp", file: "lock.c", twin: "lock.cpp", text: code },
    ];
    for (const { from, to, file, twin, text } of cases) {
      const folder = temporaryFolder({
        "side-twin.json": portFile({
          original: { root: "original", language: from },
          twins: [{ name: "t", root: "twin", language: to }],
          moduleMap: [{ original: file, twin }],
        }),
        [`original/${file}`]: text,
      });
      const { files } = await draft(folder);
      expect(files.map((made) => [made.file, new Set(made.sections.map(({ state }) => state))])).toEqual([
        [twin, new Set(["drafted"])],
      ]);
      expect(twinText(folder, twin)).toBe(text);
    }
  });

  it("names the pairs that there are for one that there is not", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({ twins: [{ name: "t", root: "twin", language: "ruby" }] }),
      "original/lock.py": "def level(n):\n    return n\n",
    });
    await expect(draft(folder)).rejects.toThrow(/no drafts from python into ruby/);
  });
});
