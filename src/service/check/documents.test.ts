/** What programs write, through a whole check: tables, pictures, bytes and the times of lines, each as what it is. */
import { encode } from "fast-png";
import { describe, expect, it, vi } from "vitest";
import { workers } from "@/engine/workers/worker-pool";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const picture = (last: number) =>
  Buffer.from(encode({ width: 2, height: 1, data: Uint8Array.from([10, last]), depth: 8, channels: 1 })).toString(
    "base64",
  );

/** Programs that write what their first argument asks for; the twin's files differ a little. */
const PYTHON = `import base64, os, sys, time
os.makedirs("out", exist_ok=True)
if sys.argv[1] == "table": open("out/a.csv", "w").write("no,fare\\nT1,2.5\\nT2,3\\n")
if sys.argv[1] == "picture": open("out/a.png", "wb").write(base64.b64decode("${picture(20)}"))
if sys.argv[1] == "bytes": open("out/a.bin", "wb").write(bytes([255, 1, 2]))
if sys.argv[1] == "times":
    for line in "ab":
        print(line)
        time.sleep(0.02)
`;
const JAVASCRIPT = `import fs from "node:fs";
fs.mkdirSync("out", { recursive: true });
const what = process.argv[2];
if (what === "table") fs.writeFileSync("out/a.csv", "no,fare\\nT2,3\\nT1,2.75\\n");
if (what === "picture") fs.writeFileSync("out/a.png", Buffer.from("${picture(21)}", "base64"));
if (what === "bytes") fs.writeFileSync("out/a.bin", Buffer.from([255, 9, 2]));
if (what === "times") for (const line of "ab") { console.log(line); await new Promise((done) => setTimeout(done, 20)); }
`;

const run = (id: string, observe: readonly string[], extra: object = {}) => ({
  id,
  run: { argv: [id] },
  observe,
  ...extra,
});

const port = (extra: object) =>
  temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: "python", run: ["python3", "p.py"] },
      twins: [{ name: "js", root: "twin", language: "javascript", run: ["node", "p.mjs"] }],
      ...extra,
    }),
    "original/p.py": PYTHON,
    "twin/p.mjs": JAVASCRIPT,
    "cases/a.jsonl": [
      run("table", ["files:out/**"]),
      run("picture", ["files:out/**"]),
      run("bytes", ["files:out/**"]),
      run("times", ["stdout", "times"]),
    ],
  });

describe("what programs write", () => {
  it("is compared as what it is", async () => {
    const timing = { id: "t", where: { at: "times.**" }, allow: { timing: { ms: 5000 } }, reason: "timers" };
    const { report } = await runCheckOfFile(port({ allowances: [timing] }), {});
    const found = Object.fromEntries(
      report.cases.map(({ id, divergences }) => [id, divergences.map(({ at, kind }) => `${kind} at ${at}`)]),
    );
    expect(found).toMatchObject({
      table: ["number at files.out/a.csv.T1.fare", "order at files.out/a.csv"],
      picture: ["image at files.out/a.png.pixels.1,0"],
      bytes: ["bytes at files.out/a.bin.1"],
    });
    expect(report.cases.find(({ id }) => id === "times")?.outcome).toMatch(/agree|allowed/);
  });

  it("is what it is set to be, and allowed as that", async () => {
    const allowances = [
      { id: "cells", where: { at: "files.out/a.csv.**" }, allow: { number: { abs: 1 } }, reason: "prices rose" },
      { id: "rows", where: { at: "files.out/a.csv" }, allow: { unordered: true }, reason: "sorted elsewhere" },
      { id: "grey", where: { at: "files.out/a.png.**" }, allow: { image: { channel: 1 } }, reason: "another palette" },
    ];
    const { report } = await runCheckOfFile(port({ allowances, kinds: { "files.out/a.bin": "text" } }), {});
    expect(Object.fromEntries(report.cases.map(({ id, outcome }) => [id, outcome]))).toMatchObject({
      table: "allowed",
      picture: "allowed",
      bytes: "differ",
    });
    expect(report.allowances.map(({ id, used, needed }) => [id, used, needed])).toEqual([
      ["cells", 1, "0.25"],
      ["rows", 1, undefined],
      ["grey", 1, "0"],
    ]);
  });

  it("fails the check, and nothing else, when the thread that compares it dies", async () => {
    const program =
      'import sys, time\nprint("a" * 150000 + sys.argv[0]) if sys.argv[1] == "long" else time.sleep(0.5)\n';
    const file = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: "python", run: ["python3", "p.py"] },
        twins: [{ name: "again", root: "twin", language: "python", run: ["python3", "q.py"] }],
      }),
      "original/p.py": program,
      "twin/q.py": program,
      "cases/a.jsonl": [run("long", ["stdout"]), run("slow", ["stdout"])],
    });
    const dies = vi.spyOn(workers, "run").mockRejectedValue(new Error("a worker thread ended with 1"));
    await expect(runCheckOfFile(file, {})).rejects.toThrow("a worker thread ended with 1");
    expect(dies).toHaveBeenCalled();
    dies.mockRestore();
  });
});
