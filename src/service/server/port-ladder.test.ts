/** The ladder of a running server: its complaints from one run to the next, and the counts for the strip. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { Workbench } from "@/service/server/workbench";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

let bench: Workbench;
let id: string;
const folder = temporaryFolder({
  "side-twin.json": portFile({
    original: { root: "original", language: "javascript" },
    twins: [{ name: "ts", root: "twin", language: "typescript", ignore: ["complain.cjs", "complaints.txt"] }],
    phrasebook: ["phrases.json"],
    ladder: [
      { name: "typed", check: { command: ["node", "complain.cjs"], reads: "tsc" } },
      { name: "strict", check: { command: ["node", "complain.cjs", "strict"], reads: "tsc" } },
      { name: "exact", leftovers: "none" },
    ],
    stopAt: "typed",
  }),
  "phrases.json": {
    format: "side-twin/phrasebook",
    version: 1,
    phrases: [{ id: "old", kind: "code", language: "typescript", from: "oldBerth((:x:))", to: "berth((:x:))" }],
  },
  "original/quay.js": "export function berth(n) {\n  return tide(n, 1, 2);\n}\nexport const tide = (n) => n;\n",
  "twin/quay.ts":
    "export function berth(n: number) {\n  return tide(n, 1, 2);\n}\nexport const tide = (n: number) => oldBerth(n) + berth(n);\n",
  "twin/complain.cjs":
    'const fs = require("fs");\nif (process.argv[2]) console.log("quay.ts(4,1): error TS9999: Beyond.");\nconsole.log(fs.readFileSync("complaints.txt", "utf8"));\n',
  "twin/complaints.txt": "",
  "cases/m.jsonl": [{ id: "a", module: "quay", call: "tide", args: [1] }],
});
const complain = (...lines: readonly string[]) =>
  writeFileSync(path.join(folder, "twin/complaints.txt"), `${lines.join("\n")}\n`);
const COUNT = "quay.ts(2,10): error TS2554: Expected 1 arguments, but got 3.";
const TYPE = "quay.ts(4,23): error TS7006: Parameter 'n' implicitly has an 'any' type.";

beforeAll(async () => {
  bench = await Workbench.open({ data: temporaryFolder(), browse: temporaryFolder() });
  id = (await bench.addPort(folder)).id;
});
afterAll(() => bench.close());

describe("the ladder of a server", () => {
  it("has no complaints counted before its checks ran, but leftovers and mixed modules", async () => {
    expect((await bench.ladder.ladder(id)).diagnosed).toBeNull();
    expect(await bench.ladder.counts(id)).toEqual({ complaints: null, leftovers: 1, mixed: ["quay"] });
  });

  it("tells faults that the original has from complaints about the twin", async () => {
    complain(COUNT, TYPE);
    const { diagnostics, diagnosed } = await bench.ladder.diagnose(id, "ts");
    expect(diagnosed).toMatchObject({ isStale: false });
    const typed = diagnostics.filter(({ rung }) => rung === "typed");
    expect(typed.map(({ code, section, isLatent, isNew }) => [code, section, isLatent, isNew])).toEqual([
      ["TS2554", "berth", true, false],
      ["TS7006", "tide", false, false],
    ]);
  });

  it("counts up to the rung where the port stops", async () => {
    expect((await bench.ladder.counts(id)).complaints).toBe(2);
    expect((await bench.ladder.ladder(id)).history).toMatchObject([{ errors: 2, warnings: 0 }]);
  });

  it("names what is new and what is gone since the run before, and counts down", async () => {
    complain(TYPE, "quay.ts(1,1): error TS1: New.");
    const view = await bench.ladder.diagnose(id, "ts");
    const own = view.diagnostics.filter(({ rung }) => rung === "typed");
    expect(own.map(({ code, isNew }) => [code, isNew])).toEqual([
      ["TS7006", false],
      ["TS1", true],
    ]);
    expect(view).toMatchObject({ fresh: 1, gone: [{ code: "TS2554" }] });
    complain();
    await bench.ladder.diagnose(id, "ts");
    expect((await bench.ladder.counts(id)).complaints).toBe(0);
    expect((await bench.ladder.ladder(id)).history.map(({ errors }) => errors)).toEqual([2, 2, 0]);
  });

  it("enters rungs into the journal when they are reached, and when they are lost", async () => {
    const rungs = async () =>
      (await bench.making.journal(id)).entries.filter(({ kind }) => kind === "rung").map(({ text }) => text);
    expect(await rungs()).toEqual(["The rung typed is reached on ts."]);
    await bench.ladder.diagnose(id, "ts");
    expect(await rungs()).toHaveLength(1);
    complain(COUNT);
    await bench.ladder.diagnose(id, "ts");
    expect((await rungs()).at(-1)).toBe("The rung typed is not reached any more on ts.");
    complain();
    await bench.ladder.diagnose(id, "ts");
  });

  it("has a point of progress for each whole check, with the complaints and rungs of then", async () => {
    await new Promise<void>((resolve, reject) => {
      const stop = bench.news.subscribe(id, (event) => {
        if (event.type !== "ended") return;
        stop();
        setTimeout(resolve, 20);
      });
      bench.runs.startCheck(id, {}).catch(reject);
    });
    const { progress } = await bench.making.journal(id);
    expect(progress).toMatchObject([{ complaints: 0, rungs: 1, differing: expect.any(Number) }]);
  });

  it("runs once at a time, keeps what was known when it is stopped, and is stale after a save", async () => {
    const stopper = new AbortController();
    const first = bench.ladder.diagnose(id, "ts", stopper.signal);
    await expect(bench.ladder.diagnose(id, "ts")).rejects.toMatchObject({ code: "already-running" });
    stopper.abort();
    await first;
    expect((await bench.ladder.counts(id)).complaints).toBe(0);
    writeFileSync(path.join(folder, "twin/quay.ts"), "export const tide = (n: number) => n;\n");
    expect((await bench.ladder.ladder(id)).diagnosed).toMatchObject({ isStale: true });
    expect(await bench.ladder.counts(id)).toMatchObject({ leftovers: 0, mixed: [] });
  });
});
