/** What a check reuses, runs again, fixes and measures: on small ports, through whole checks. */
import { execFileSync } from "node:child_process";
import { existsSync, readFileSync, utimesSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it, vi } from "vitest";
import type { Report } from "@/core/formats/report";
import { formatLcov } from "@/core/report/writers/lcov";
import { type RunCheckOptions, runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder, temporaryPort, writeFiles } from "@/testing/temporary-port";

const call = (id: string, name: string, ...args: unknown[]) => ({ id, module: "m", call: name, args });
const outcomesOf = (report: Report) => Object.fromEntries(report.cases.map((item) => [item.id, item.outcome]));
const reusedOf = (report: Report) =>
  report.cases.flatMap(({ id, reused = [] }) => reused.map((side) => `${id} ${side}`)).sort();

describe("answers that are used again", () => {
  const files = {
    "side-twin.json": portFile(),
    "original/m.py": "from low import twice\ndef f(n):\n    if n > 1:\n        return twice(n)\n    return n\n",
    "original/low.py": "def twice(n):\n    return n * 2\n",
    "original/clock.py": "import time\ndef now(): return time.time() > 0\n",
    "twin/m.ts": "import { twice } from './low';\nexport const f = (n: number) => (n > 1 ? twice(n) : n);\n",
    "twin/low.ts": "export const twice = (n: number) => n * 2;\n",
    "twin/clock.ts": "export const now = () => Date.now() > 0;\n",
    "cases/m.jsonl": [
      call("f1", "f", 1),
      call("f2", "f", 2),
      { id: "low1", module: "low", call: "twice", args: [4] },
      { id: "now", module: "clock", call: "now", args: [] },
    ],
  };
  const answersFolder = temporaryFolder();
  const folder = temporaryFolder(files);
  const check = async (options: RunCheckOptions = {}) =>
    (await runCheckOfFile(folder, { answersFolder, ...options })).report;

  it("are those whose code, needed code and input are the same, and the report says so", async () => {
    const first = await check();
    expect([reusedOf(first), first.totals.agree]).toEqual([[], 4]);
    const second = await check();
    const all = ["f1", "f2", "low1"].flatMap((id) => [`${id} original`, `${id} twin`]);
    expect(reusedOf(second)).toEqual(all);
    expect(second.reused).toEqual({ original: 3, twin: 3 });
    // The proven lines are those of the kept answers, the toolchains those that gave them.
    expect(second.modules.map(({ name, provenLines }) => [name, provenLines])).toEqual(
      first.modules.map(({ name, provenLines }) => [name, provenLines]),
    );
    expect(second.toolchains).toHaveLength(2);
    expect(reusedOf(await check({ fresh: true }))).toEqual([]);
  });

  it("are not those of a module that imports what changed, on the side where it changed", async () => {
    writeFiles(folder, { "twin/low.ts": "export const twice = (n: number) => n * 2 + (n === 4 ? 1 : 0);\n" });
    const report = await check();
    expect(reusedOf(report)).toEqual(["f1 original", "f2 original", "low1 original"]);
    expect(outcomesOf(report)).toMatchObject({ f2: "agree", low1: "differ" });
    writeFiles(folder, { "twin/low.ts": files["twin/low.ts"] });
    // Taking a change back finds the answers of before again.
    expect(reusedOf(await check())).toHaveLength(6);
  });

  it("are not those of another input under the same name", async () => {
    writeFiles(folder, { "cases/m.jsonl": [call("f1", "f", 3), call("f2", "f", 2)] });
    expect(reusedOf(await check())).toEqual(["f2 original", "f2 twin"]);
  });

  it("are done without where they cannot be kept", async () => {
    const blocked = path.join(temporaryFolder({ file: "" }), "file");
    const { report } = await runCheckOfFile(folder, { answersFolder: blocked });
    expect(report.totals.agree).toBe(2);
  });

  it("of programs rest on every file of their side", async () => {
    const program = temporaryPort({
      original: "import sys\nprint(open('rate.txt').read().strip(), sys.argv[1])\n",
      twin: "",
      cases: [{ id: "r", run: { argv: ["x"] } }],
      port: {
        original: { root: "original", language: "python", run: ["python3", "m.py"] },
        twins: [{ name: "ts", root: "twin", language: "javascript", run: ["node", "m.js"] }],
      },
    });
    writeFiles(program, {
      "original/rate.txt": "2",
      "twin/m.js": "console.log('2', process.argv[2]);\n",
      "twin/m.ts": "export {};\n",
    });
    const run = async () => (await runCheckOfFile(program, { answersFolder })).report;
    expect((await run()).totals.agree).toBe(1);
    expect(reusedOf(await run())).toEqual(["r original", "r twin"]);
    writeFileSync(path.join(program, "original/rate.txt"), "3");
    utimesSync(path.join(program, "original/rate.txt"), new Date(), new Date(Date.now() + 5000));
    const changed = await run();
    expect([reusedOf(changed), changed.totals.differ]).toEqual([["r twin"], 1]);
  });

  it("and a side that is prepared is prepared again only when a file of it is another", async () => {
    const prepared = temporaryPort({
      original: "def f(): return 1\n",
      twin: "export const f = () => 1;\n",
      cases: [call("a", "f")],
      port: {
        original: {
          root: "original",
          language: "python",
          prepare: [["node", "-e", "require('fs').appendFileSync('times.txt', 'x')"]],
        },
      },
    });
    const times = () => readFileSync(path.join(prepared, "original/times.txt"), "utf8");
    await runCheckOfFile(prepared, { answersFolder });
    await runCheckOfFile(prepared, { answersFolder });
    expect(times()).toBe("x");
    writeFiles(prepared, { "original/m.py": "def f(): return 1 + 0\n" });
    await runCheckOfFile(prepared, { answersFolder });
    expect(times()).toBe("xx");
  });
});

describe("an original that does not agree with itself", () => {
  const original = `
import random, datetime
def zone(): return datetime.datetime.now().astimezone().utcoffset().total_seconds()
def day(): return datetime.date.today().year
def steady(n): return n
COUNT = [0]
def third():
    COUNT[0] += 1
    return 1
def rare(): return 1 if random.random() < 0.5 else 0
`;
  const twin = `
export const zone = () => 0;
export const day = () => new Date().getUTCFullYear();
export const steady = (n: number) => n;
export const rare = () => 1;
`;

  it("is found out by what differs, by a sample, and by running all in another place and time", async () => {
    const cases = [call("z", "zone"), call("d", "day"), call("s", "steady", 1)];
    const port = temporaryPort({ original, twin, cases });
    expect(outcomesOf((await runCheckOfFile(port, {})).report)).toEqual({ z: "agree", d: "agree", s: "agree" });
    expect(outcomesOf((await runCheckOfFile(port, { steady: true })).report)).toEqual({
      z: "unsteady",
      d: "unsteady",
      s: "agree",
    });
  });

  it("is found out by a case that asks to be repeated", async () => {
    const cases = [{ ...call("r", "rare"), repeat: 40 }];
    const { report } = await runCheckOfFile(temporaryPort({ original, twin, cases }), {});
    expect(outcomesOf(report)).toEqual({ r: "unsteady" });
  });
});

describe("program runs", () => {
  it("have their clock and their random numbers fixed alike when asked", async () => {
    const original = "import random, datetime\nprint(datetime.datetime.now().isoformat()[:19], random.random())\n";
    const twin = "console.log(new Date().toISOString().slice(0, 19), Math.random());\n";
    const port = {
      original: { root: "original", language: "python", run: ["python3", "m.py"] },
      twins: [{ name: "ts", root: "twin", language: "typescript", run: ["npx", "tsx", "m.ts"] }],
      now: "2031-04-02T08:00:00Z",
    };
    const cases = [{ id: "a", run: {}, seed: 7 }];
    const { report } = await runCheckOfFile(temporaryPort({ original, twin, cases, port }), {});
    expect(report.cases[0]).toMatchObject({ outcome: "agree" });
    expect(report.modules[0]).toMatchObject({ lines: 2, provenLines: 2 });
  });

  it("tell the lines that they ran, on Node.js through source maps too", async () => {
    const source =
      'type Word = string;\nconst word: Word = process.argv[2] ?? "none";\nif (word === "a") {\n  console.log("yes");\n} else {\n  console.log("no");\n}\n';
    const side = { language: "typescript", run: ["npx", "tsx", "m.ts"] };
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", ...side },
        twins: [{ name: "ts", root: "twin", ...side }],
      }),
      "original/m.ts": source,
      "twin/m.ts": source,
      "cases/m.jsonl": [{ id: "a", run: { argv: ["a"] } }],
    });
    const { end } = await runCheckOfFile(folder, {});
    const modules = end.proven.get("ts");
    const lines = modules?.get("m");
    expect(lines?.executable["m.ts"]).toEqual([2, 3, 4, 6]);
    expect(lines?.proven["m.ts"]).toEqual([2, 3, 4]);
    expect(formatLcov("/r", modules?.values() ?? [])).toBe(
      "TN:\nSF:/r/m.ts\nDA:2,1\nDA:3,1\nDA:4,1\nDA:6,0\nLF:4\nLH:3\nend_of_record\n",
    );
  });

  it("are unsteady where two of them alike answer otherwise, whatever the traced one said", async () => {
    const original = 'import random\nprint(random.choice("ab"))\n';
    const port = {
      original: { root: "original", language: "python", run: ["python3", "m.py"] },
      twins: [{ name: "ts", root: "twin", language: "typescript", run: ["npx", "tsx", "m.ts"] }],
    };
    const cases = ["r1", "r2", "r3", "r4"].map((id) => ({ id, run: {}, repeat: 20 }));
    const folder = temporaryPort({ original, twin: 'console.log("a");\n', cases, port });
    const { report } = await runCheckOfFile(folder, {});
    expect(outcomesOf(report)).toEqual({ r1: "unsteady", r2: "unsteady", r3: "unsteady", r4: "unsteady" });
  });

  it("that tracing changes are judged by a run without it", async () => {
    const original = 'def f():\n    return 1\nf()\nprint("plain" if len(f.__code__.co_code) < 12 else "traced")\n';
    const port = {
      original: { root: "original", language: "python", run: ["python3", "m.py"] },
      twins: [{ name: "ts", root: "twin", language: "typescript", run: ["npx", "tsx", "m.ts"] }],
    };
    for (const [said, outcome] of [
      ["plain", "agree"],
      ["other", "differ"],
    ]) {
      const twin = `console.log("${said}");\n`;
      const folder = temporaryPort({ original, twin, cases: [{ id: "a", run: {} }], port });
      const { report } = await runCheckOfFile(folder, {});
      expect(outcomesOf(report)).toEqual({ a: outcome });
    }
  });
});

describe("measures", () => {
  it("tell lines, seconds and memory of both sides, and what holds for ported code", async () => {
    const original = "def f(n):\n    return sum(range(n))\n";
    const twin =
      "export function f(n: number) {\n  let sum = 0;\n  for (let i = 0; i < n; i++) sum += i;\n  return sum;\n}\n";
    const folder = temporaryPort({ original, twin, cases: [call("a", "f", 100_000)] });
    const { report } = await runCheckOfFile(folder, {});
    const [module] = report.modules;
    expect(module?.size).toEqual({ original: 2, twin: 5 });
    for (const both of [module?.seconds, module?.peakMb]) {
      expect(both?.original).toBeGreaterThan(0);
      expect(both?.twin).toBeGreaterThan(0);
    }
    expect(report.protections.join("; ")).toMatch(/64 processes a case/);
    expect(existsSync(path.join(folder, "original/__pycache__"))).toBe(false);
  });
});

describe("without a sandbox", () => {
  it("what one side leaves behind is ended, and the other side's programs are not", async () => {
    vi.stubEnv("SIDE_TWIN_SANDBOX", "off");
    try {
      const original =
        "import subprocess\nsubprocess.Popen(['sleep', '63.5'], start_new_session=True)\nprint('done')\n";
      const port = {
        original: { root: "original", language: "python", run: ["python3", "m.py"] },
        twins: [{ name: "sh", root: "twin", language: "bash", run: ["sh", "-c", "sleep 1.5; echo done"] }],
      };
      const folder = temporaryPort({ original, twin: "", cases: [{ id: "a", run: {} }], port });
      const { report } = await runCheckOfFile(folder, {});
      expect(report.cases[0]).toMatchObject({ outcome: "agree" });
      expect(execFileSync("ps", ["-eo", "args"], { encoding: "utf8" })).not.toContain("sleep 63.5");
      expect(report.protections.join()).toContain("bubblewrap is not installed or does not work here");
    } finally {
      vi.unstubAllEnvs();
    }
  });
});
