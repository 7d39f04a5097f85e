import { execFile } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { reportSchema } from "@/core/formats/report";
import { packageRoot } from "@/engine/package-root";
import { compareFiles } from "@/service/check/compare-files";
import { runCheckOfFile } from "@/service/check/run-check";
import { pairPort } from "@/service/reading/pair-port";
import { surveyFolder } from "@/service/reading/survey-folder";
import { portFile, temporaryFolder, temporaryPort, writeFiles } from "@/testing/temporary-port";

const ORIGINAL = `
import random, time
def double(n):
    return n * 2
def half(n):
    if n < 0:
        raise ValueError("negative")
    return n / 2
def dice():
    return random.random()
def only_here():
    return 1
def low_high(items):
    return {"low_point": min(items), "high": max(items)}
`;
const TWIN = `
export const double = (n: number) => n * 2;
export function half(n: number) { if (n < 0) throw new RangeError("negative"); return Math.floor(n / 2); }
export const dice = () => Math.random();
export const lowHigh = (items: number[]) => ({ lowPoint: Math.min(...items), high: Math.max(...items) });
`;
const call = (id: string, name: string, ...args: unknown[]) => ({ id, module: "m", call: name, args });

describe("a check", () => {
  const cases = [
    call("d1", "double", 2),
    call("h1", "half", 4),
    call("h2", "half", 3),
    call("h3", "half", -1),
    call("r1", "dice"),
    call("o1", "only_here"),
    call("k1", "low_high", [3, 1]),
    call("gone", "nowhere"),
  ];
  const port = {
    names: { functions: "snake-to-camel", keys: "snake-to-camel" },
    allowances: [
      { id: "errors", where: {}, allow: { errorKind: { ValueError: "RangeError" } }, reason: "the usual one here" },
    ],
  };

  it("gives every outcome its name, with proven lines, allowances and a valid report", async () => {
    const { report } = await runCheckOfFile(temporaryPort({ original: ORIGINAL, twin: TWIN, cases, port }), {});
    const outcomes = Object.fromEntries(report.cases.map((item) => [item.id, item.outcome]));
    expect(outcomes).toEqual({
      d1: "agree",
      h1: "agree",
      h2: "differ",
      h3: "allowed",
      r1: "unsteady",
      o1: "skipped",
      k1: "agree",
      gone: "broken",
    });
    expect(report.cases.find((item) => item.id === "o1")?.why).toBe("there is no only_here");
    expect(report.allowances).toEqual([{ id: "errors", reason: "the usual one here", used: 1 }]);
    expect(report.families).toMatchObject([{ call: "half", at: "value", cases: ["h2"] }]);
    // Proven: what loads, and the bodies that agreeing cases ran: double, half with its raise, low_high.
    expect(report.modules[0]).toMatchObject({ name: "m", lines: 13, provenLines: 11 });
    expect(reportSchema.parse(report)).toEqual(report);
  });

  it("takes one module, one case, and names what is not there", async () => {
    const folder = temporaryPort({ original: ORIGINAL, twin: TWIN, cases, port });
    expect((await runCheckOfFile(folder, { caseId: "d1" })).report.totals.cases).toBe(1);
    await expect(runCheckOfFile(folder, { caseId: "zz" })).rejects.toMatchObject({
      code: "bad-input",
      next: expect.stringContaining("d1"),
    });
    await expect(runCheckOfFile(folder, { module: "zz" })).rejects.toMatchObject({ next: "Known: m." });
    await expect(runCheckOfFile(folder, { twin: "zz" })).rejects.toMatchObject({ next: "Known: ts." });
  });

  it("skips everything when the twin has no file, or no folder at all", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile(),
      "original/m.py": ORIGINAL,
      "cases/m.jsonl": [call("d1", "double", 2)],
    });
    const { report } = await runCheckOfFile(folder, {});
    expect(report.cases[0]).toMatchObject({ outcome: "skipped", why: "no twin module" });
    expect(report.modules[0]?.provenLines).toBe(0);
  });

  it("can be stopped, and says so", async () => {
    const stop = new AbortController();
    const many = Array.from({ length: 500 }, (_, index) => call(`s${index}`, "slow", index));
    const original = "import time\ndef slow(n):\n  time.sleep(0.02)\n  return n\n";
    const folder = temporaryPort({ original, twin: "export const slow = (n: number) => n;", cases: many });
    let seen = 0;
    const { report } = await runCheckOfFile(folder, {
      signal: stop.signal,
      onVerdict: () => {
        if (++seen === 3) stop.abort();
      },
    });
    expect(report.state).toBe("stopped");
    expect(report.totals.cases).toBeLessThan(500);
  });

  it("keeps the state of a module from case to case when asked, and only then", async () => {
    const original = "N = 0\ndef bump():\n  global N\n  N += 1\n  return N\n";
    const twin = "let n = 0;\nexport const bump = () => ++n;";
    const bumps = [1, 2, 3].map((index) => call(`b${index}`, "bump"));
    const values: unknown[] = [];
    const run = async (state: string) => {
      const { report } = await runCheckOfFile(temporaryPort({ original, twin, cases: bumps, port: { state } }), {
        onVerdict: (_verdict, answers) =>
          values.push(answers.original?.kind === "call" ? answers.original.value : null),
      });
      return report.totals.agree;
    };
    expect([await run("fresh"), await run("kept")]).toEqual([3, 3]);
    expect(values).toEqual([1, 1, 1, 1, 2, 3]);
  });

  it("fixes the clock and the random numbers alike on both sides when asked", async () => {
    const original =
      "import random\nfrom datetime import datetime, timezone\nimport time\ndef now(): return [datetime.now(timezone.utc), time.time()]\ndef dice(): return [random.random(), random.random()]\n";
    const twin =
      "export const now = () => [new Date(), Date.now() / 1000];\nexport const dice = () => [Math.random(), Math.random()];";
    const { report } = await runCheckOfFile(
      temporaryPort({
        original,
        twin,
        cases: [call("n", "now"), call("d", "dice"), call("n2", "now")],
        port: { now: "2031-04-02T08:00:00Z", seed: 7 },
      }),
      {},
    );
    expect(report.cases.map(({ id, outcome }) => [id, outcome])).toEqual([
      ["n", "agree"],
      ["d", "agree"],
      ["n2", "agree"],
    ]);
  });
});

describe("program runs", () => {
  const original = `
import sys, os
name = sys.argv[1] if len(sys.argv) > 1 else sys.stdin.read().strip()
os.makedirs("out", exist_ok=True)
open("out/" + name + ".txt", "w").write(open("in.txt").read().upper() if os.path.exists("in.txt") else "none")
print("hello " + name, os.environ.get("TZ"), os.path.exists("out/before.txt"))
sys.exit(len(name) % 3)
`;
  const twin = `
import fs from "node:fs";
const name = process.argv[2] ?? fs.readFileSync(0, "utf8").trim();
fs.mkdirSync("out", { recursive: true });
fs.writeFileSync("out/" + name + ".txt", fs.existsSync("in.txt") ? fs.readFileSync("in.txt", "utf8").toUpperCase() : "nothing");
console.log("hello " + name, process.env.TZ, fs.existsSync("out/before.txt") ? "True" : "False");
process.exitCode = name.length % 3;
`;
  const port = {
    original: { root: "original", language: "python", run: ["python3", "m.py"] },
    twins: [
      {
        name: "ts",
        root: "twin",
        language: "typescript",
        prepare: [["node", "-e", "require('fs').copyFileSync('m.ts','m.mjs')"]],
        run: ["node", "m.mjs"],
      },
    ],
  };

  it("are observed in their output, status and files, and write nothing into the person's folders", async () => {
    const observe = ["exit", "stdout", "files:out/**"];
    const cases = [
      { id: "a", run: { argv: ["before"], files: { "in.txt": "x\n" } }, observe },
      { id: "b", run: { stdin: "Otto\n" }, observe },
      { id: "c", run: { argv: ["z"], files: { "../climb.txt": "x" } }, observe },
    ];
    const folder = temporaryPort({ original, twin, cases, port });
    const { report } = await runCheckOfFile(folder, { jobs: 1 });
    const byId = new Map(report.cases.map((item) => [item.id, item]));
    expect(byId.get("a")?.outcome).toBe("agree");
    expect(byId.get("b")).toMatchObject({
      outcome: "differ",
      divergences: [{ at: "files.out/Otto.txt.1", original: "none", twin: "nothing" }],
    });
    expect(byId.get("c")).toMatchObject({
      outcome: "broken",
      why: expect.stringContaining("outside the program's folder"),
    });
    expect(existsSync(path.join(folder, "original/out"))).toBe(false);
  });

  it("end at their time limit", async () => {
    const slow = { ...port, limits: { timeMs: 4000 } };
    const folder = temporaryPort({
      original: "import time\ntime.sleep(30)\n",
      twin,
      cases: [{ id: "a", run: {} }],
      port: slow,
    });
    const { report } = await runCheckOfFile(folder, {});
    expect(report.cases[0]).toMatchObject({
      outcome: "broken",
      side: "original",
      why: expect.stringContaining("time limit"),
    });
  });

  it("say what a failing prepare printed, and which program is missing", async () => {
    const failing = {
      ...port,
      twins: [{ ...port.twins[0], prepare: [["node", "-e", "console.error('no luck'); process.exit(5)"]] }],
    };
    const { report } = await runCheckOfFile(
      temporaryPort({ original, twin, cases: [{ id: "a", run: {} }], port: failing }),
      {},
    );
    expect(report.cases).toMatchObject([{ outcome: "broken", side: "twin", why: expect.stringContaining("no luck") }]);
    const bothFail = { ...failing, original: { ...port.original, prepare: failing.twins[0]?.prepare } };
    await expect(
      runCheckOfFile(temporaryPort({ original, twin, cases: [{ id: "a", run: {} }], port: bothFail }), {}),
    ).rejects.toMatchObject({ code: "prepare-failed", what: expect.stringContaining("no luck") });
    const missing = { ...port, original: { ...port.original, run: ["python9"] } };
    await expect(
      runCheckOfFile(temporaryPort({ original, twin, cases: [{ id: "a", run: {} }], port: missing }), {}),
    ).rejects.toMatchObject({ code: "toolchain-missing" });
  });
});

const home = temporaryFolder();

const cli = (...args: string[]): Promise<{ code: number; stdout: string; stderr: string }> =>
  new Promise((resolve) => {
    execFile(
      process.execPath,
      [path.join(packageRoot(), "bin/side-twin.mjs"), ...args],
      { maxBuffer: 1 << 26, env: { ...process.env, HOME: home } },
      (error, stdout, stderr) => {
        resolve({ code: typeof error?.code === "number" ? error.code : 0, stdout, stderr });
      },
    );
  });

describe("the command line", () => {
  const folder = () =>
    temporaryPort({ original: ORIGINAL, twin: TWIN, cases: [call("d1", "double", 2), call("h2", "half", 3)] });

  it("ends with 0 when all agree, 1 when something differs, 2 when it could not run", async () => {
    const port = folder();
    expect((await cli("check", port, "--case", "d1")).code).toBe(0);
    const differing = await cli("check", port);
    expect(differing.code).toBe(1);
    expect(differing.stdout).toContain("h2: value: 1.5 against 1");
    const failed = await cli("check", path.join(port, "nowhere"));
    expect([failed.code, failed.stdout]).toEqual([2, ""]);
    expect(failed.stderr).toMatch(/There is no file .*nowhere/);
    expect((await cli("fly")).code).toBe(2);
  });

  it("prints one JSON document and nothing else, and writes JUnit and SARIF", async () => {
    const port = folder();
    const files = ["--junit", path.join(port, "j.xml"), "--sarif", path.join(port, "s.json")];
    const { stdout, code } = await cli("check", port, "--json", ...files);
    expect(code).toBe(1);
    expect(reportSchema.parse(JSON.parse(stdout)).totals).toMatchObject({ cases: 2, agree: 1, differ: 1 });
    expect(readFileSync(path.join(port, "j.xml"), "utf8")).toContain('failures="1"');
    expect(readFileSync(path.join(port, "s.json"), "utf8")).toContain('"uri": "twin/m.ts"');
  });

  it("compares two files", async () => {
    const files = temporaryFolder({ "a.json": '{"x": 1.0}', "b.json": '{"x":1}', "c.txt": "one\n", "d.txt": "two\n" });
    const at = (name: string) => path.join(files, name);
    expect((await cli("compare", at("a.json"), at("b.json"))).code).toBe(0);
    expect((await cli("compare", at("a.json"), at("b.json"), "--as", "text")).code).toBe(1);
    const { code, stdout } = await cli("compare", at("c.txt"), at("d.txt"), "--json");
    expect([code, JSON.parse(stdout)]).toEqual([
      1,
      {
        same: false,
        as: "text",
        divergences: [{ at: "value.1", original: "one", twin: "two", kind: "text" }],
        more: 0,
      },
    ]);
    expect((await cli("compare", at("c.txt"), at("gone"))).code).toBe(2);
    const notTable = await cli("compare", at("c.txt"), at("d.txt"), "--as", "image");
    expect([notTable.code, notTable.stderr]).toEqual([2, expect.stringMatching(/cannot be read as image in c\.txt/)]);
    await expect(compareFiles(at("c.txt"), at("d.txt"), "json")).rejects.toMatchObject({ code: "bad-input" });
  });
});

describe("bad input", () => {
  it("is refused with its file, line and key, and nothing else happens", async () => {
    const folder = folderWithCases('{"id":"a","module":"m","call":"double"}\n{"id":"b","module":"zz","call":"f"}\n');
    await expect(runCheckOfFile(folder, {})).rejects.toMatchObject({
      message: expect.stringMatching(
        /names the module "zz".* in cases\/m\.jsonl, line 2, key module\. Known modules: m/,
      ),
    });
    writeFiles(folder, { "cases/m.jsonl": Buffer.from([0x7b, 0x22, 0x0a, 0xff, 0xfe]) });
    await expect(runCheckOfFile(folder, {})).rejects.toMatchObject({
      message: expect.stringMatching(/not UTF-8 in m\.jsonl, line 2/),
    });
    writeFiles(folder, { "side-twin.json": portFile({ original: { root: "gone", language: "python" } }) });
    await expect(runCheckOfFile(folder, {})).rejects.toMatchObject({
      message: expect.stringMatching(/"gone" is not there in side-twin\.json, key original\.root/),
    });
  });

  const folderWithCases = (cases: string) => {
    const folder = temporaryPort({ original: ORIGINAL, twin: TWIN, cases: [] });
    writeFiles(folder, { "cases/m.jsonl": cases });
    return folder;
  };
});

describe("the demonstration port", () => {
  it("is caught mid-port: some modules agree, some differ, some are not begun", async () => {
    const { report } = await runCheckOfFile(path.join(packageRoot(), "demo/saltmarsh-ferries"), {});
    const state = (totals: (typeof report.modules)[number]["totals"]) =>
      totals.differ > 0
        ? "differs"
        : totals.skipped === totals.cases
          ? "not begun"
          : totals.agree + totals.allowed === totals.cases
            ? "agrees"
            : "waits";
    const states = report.modules.map(({ totals }) => state(totals));
    expect(report.totals.cases).toBeGreaterThanOrEqual(400);
    expect(report.modules.length).toBeGreaterThanOrEqual(12);
    expect(states.filter((name) => name === "agrees").length).toBeGreaterThanOrEqual(5);
    expect(states.filter((name) => name === "differs").length).toBeGreaterThanOrEqual(5);
    expect(states.filter((name) => name === "not begun").length).toBeGreaterThanOrEqual(3);
    expect(report.totals.broken + report.totals.unsteady).toBe(0);
    expect(report.cases.some((item) => item.divergences.some((divergence) => divergence.kind === "thrown"))).toBe(true);
  });

  it("is surveyed and paired", async () => {
    const folder = path.join(packageRoot(), "demo/saltmarsh-ferries");
    const survey = await surveyFolder(path.join(folder, "original"));
    expect(survey.languages.python?.lines).toBeGreaterThanOrEqual(1500);
    expect(survey.problems).toEqual([]);
    const { modules } = await pairPort(folder);
    const fares = modules.find((module) => module.name === "fares");
    expect(fares?.sections).toContainEqual({
      original: "fare_for",
      twin: "fareFor",
      originalFrom: 26,
      twinFrom: expect.any(Number),
      relation: "renamed",
      score: 0.98,
      reasons: expect.arrayContaining(["the same name in another style"]),
    });
  });
});
