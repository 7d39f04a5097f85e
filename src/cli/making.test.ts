/** The commands that help to make a port, through the real program: phrases, apply, undo, ladder, journal. */
import { execFile } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const PROGRAM = path.join(packageRoot(), "bin/side-twin.mjs");
const env = { ...process.env, HOME: temporaryFolder() };

const cli = (...args: string[]): Promise<{ code: number; stdout: string; stderr: string }> =>
  new Promise((resolve) => {
    execFile(process.execPath, [PROGRAM, ...args], { maxBuffer: 1 << 26, env }, (error, stdout, stderr) => {
      resolve({ code: typeof error?.code === "number" ? error.code : 0, stdout, stderr });
    });
  });
const json = async (...args: string[]) => JSON.parse((await cli(...args, "--json")).stdout);

const COMPLAINT = "pier.ts(1,38): error TS2304: Cannot find name 'wide'.";
const TWIN = "export const deep = (n: number) => low(wide(n));\n";

/** A made-up compiler complains of every line that has the old name. */
const makingPort = (phrase: object = {}) =>
  temporaryFolder({
    "side-twin.json": portFile({
      phrasebook: ["phrases.json"],
      ladder: [
        {
          name: "typed",
          gain: "calls are known",
          check: {
            command: [
              "node",
              "-e",
              `if (/wide/.test(require("fs").readFileSync("pier.ts", "utf8"))) { console.log(${JSON.stringify(COMPLAINT)}); process.exit(2); }`,
            ],
            reads: "tsc",
          },
        },
        { name: "clean", gain: "the old name is gone", leftovers: "none" },
      ],
      stopAt: "typed",
    }),
    "original/pier.py": "def deep(n):\n    return n\n",
    "twin/pier.ts": TWIN,
    "phrases.json": {
      format: "side-twin/phrasebook",
      version: 1,
      phrases: [{ id: "w", kind: "code", language: "typescript", from: "wide((:x:))", to: "broad((:x:))", ...phrase }],
    },
  });
const twinOf = (folder: string) => readFileSync(path.join(folder, "twin/pier.ts"), "utf8");

describe("phrases on the command line", () => {
  it("are shown, applied once, and undone to the byte", async () => {
    const folder = makingPort();
    expect(await cli("phrases", folder)).toMatchObject({ code: 1, stdout: expect.stringContaining("pier.ts:1:40") });
    const applied = await json("apply", folder);
    expect(applied).toMatchObject({ changed: [{ file: "pier.ts", places: 1 }] });
    expect(twinOf(folder)).toBe(TWIN.replace("wide", "broad"));
    expect(await json("apply", folder)).toMatchObject({ snapshot: null, changed: [] });
    expect((await cli("phrases", folder)).code).toBe(0);
    expect(await json("snapshots", folder)).toMatchObject({ snapshots: [{ id: applied.snapshot }] });
    expect((await cli("undo", folder)).code).toBe(0);
    expect(twinOf(folder)).toBe(TWIN);
  });

  it("are not undone over a later change", async () => {
    const folder = makingPort();
    await cli("apply", folder);
    writeFileSync(path.join(folder, "twin/pier.ts"), "// by hand\n");
    expect(await cli("undo", folder)).toMatchObject({ code: 2, stderr: expect.stringContaining("pier.ts") });
    expect(twinOf(folder)).toBe("// by hand\n");
  });

  it("leave out the places that are named", async () => {
    const folder = makingPort();
    expect(await json("apply", folder, "--not", "pier.ts:1")).toMatchObject({ snapshot: null });
    expect(twinOf(folder)).toBe(TWIN);
  });

  it.each([
    [{ to: "broad((:y:))" }, /y/],
    [{ from: "wide((:x:)" }, /wide/],
    [{ kind: "spell" }, /kind/],
    [{ blanks: { x: { matches: "(" } } }, /matches/],
    [{ blanks: { x: { scale: "none" } } }, /scale|none/],
  ])("that are wrong are refused by file and phrase: %j", async (phrase, words) => {
    const found = await cli("phrases", makingPort(phrase));
    expect(found.code).toBe(2);
    expect(found.stderr).toContain("phrases.json");
    expect(found.stderr).toMatch(words);
    expect(found.stderr).not.toContain("    at ");
  });
});

describe("a pattern that takes exponential time", () => {
  it("is refused with the phrase and its key, or with the rung", async () => {
    const slow = makingPort({ from: "(:f:)((:x:))", to: "(:x:)", blanks: { x: { matches: "^(?:\\w+|\\(|\\))+!$" } } });
    writeFileSync(path.join(slow, "twin/pier.ts"), `low(wide(${"n".repeat(40)}));\n`);
    expect(await cli("phrases", slow)).toMatchObject({
      code: 2,
      stderr: expect.stringMatching(/takes too long.* in phrases\.json, key w\.blanks\.x\.matches/),
    });
    const port = temporaryFolder({
      "side-twin.json": portFile({
        ladder: [
          {
            name: "own",
            check: {
              command: ["node", "-e", `console.log(${JSON.stringify(`${"n".repeat(40)}w`)})`],
              reads: "pattern",
              pattern: "^(?<message>(?:n+)+)$",
            },
          },
        ],
      }),
      "original/pier.py": "x = 1\n",
      "twin/pier.ts": "export const x = 1;\n",
    });
    expect(await cli("diagnose", port)).toMatchObject({ code: 2, stderr: expect.stringContaining("takes too long") });
  });
});

describe("the ladder on the command line", () => {
  it("reads what the compiler prints, and counts down to the rung to stop at", async () => {
    const folder = makingPort();
    expect(await cli("diagnose", folder)).toMatchObject({ code: 1, stdout: expect.stringContaining("TS2304") });
    expect(await json("diagnose", folder)).toMatchObject({
      runs: [{ side: "ts", rung: "typed", exit: 2, diagnostics: [{ file: "pier.ts", line: 1, module: "pier" }] }],
    });
    expect(await json("ladder", folder)).toMatchObject({
      rungs: [
        { name: "typed", reached: false, modules: [{ name: "pier", reached: false, errors: 1 }] },
        { name: "clean", reached: false },
      ],
    });
    await cli("apply", folder);
    expect((await cli("diagnose", folder)).code).toBe(0);
    expect((await cli("ladder", folder)).code).toBe(0);
  });
});

describe("the journal on the command line", () => {
  it("adds, closes and lists; a torn last line is told and kept", async () => {
    const folder = makingPort();
    const { id } = await json("journal", folder, "--add", "assumption", "--text", "No pier is wider than 9");
    expect(await json("journal", folder)).toMatchObject([{ id, kind: "assumption", holds: "open" }]);
    await cli("journal", folder, "--close", id, "--holds", "false");
    expect(await json("journal", folder)).toMatchObject([{ id, holds: "false" }]);
    const file = path.join(folder, "journal.jsonl");
    writeFileSync(file, `${readFileSync(file, "utf8")}{"id":"torn`);
    const told = await cli("journal", folder);
    expect([told.code, told.stderr]).toEqual([0, expect.stringContaining("line 3")]);
    expect(await cli("journal", folder, "--add", "tale", "--text", "x")).toMatchObject({ code: 2 });
  });
});

describe("the report on the command line", () => {
  it("is written in each form; an unknown date or form is refused", async () => {
    const folder = makingPort();
    await cli("journal", folder, "--add", "decision", "--text", "The pier stays where it is");
    expect((await cli("report", folder, "--as", "md")).stdout).toContain("The pier stays where it is");
    expect((await cli("report", folder, "--as", "html", "--out", path.join(folder, "r.html"))).code).toBe(0);
    expect(readFileSync(path.join(folder, "r.html"), "utf8")).toContain("<!doctype html>");
    expect(JSON.parse((await cli("report", folder, "--as", "json")).stdout)).toMatchObject({
      format: "side-twin/handover",
      twins: [{ rungs: [{ name: "typed", reached: false, isGoal: true }, { name: "clean" }], leftovers: 1 }],
    });
    const changes = (since: string) => cli("report", folder, "--as", "changelog", "--since", since);
    expect((await changes("2999-01-01")).stdout).toContain("Nothing was entered");
    expect(await changes("soon")).toMatchObject({ code: 2, stderr: expect.stringContaining("--since") });
    expect((await cli("report", folder, "--as", "song")).code).toBe(2);
  });
});
