/** Drift as a running server tells it, with real checks, a real store and a real repository. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { Workbench } from "@/service/server/workbench";
import { gitIn } from "@/testing/git";
import { portFile, temporaryFolder, temporaryPort, writeFiles } from "@/testing/temporary-port";

let bench: Workbench | null = null;
afterEach(async () => {
  await bench?.close();
  bench = null;
});

const ORIGINAL = "def fare(n):\n    return n + 1\n\ndef tax(n):\n    return n * 2\n";
const TWIN = "export const fare = (n: number) => n + 1;\nexport const tax = (n: number) => n * 2;\n";

const setUp = (port: Readonly<Record<string, unknown>> = {}) =>
  temporaryPort({
    original: ORIGINAL,
    twin: TWIN,
    cases: [{ id: "f1", module: "m", call: "fare", args: [1] }],
    port,
  });

const open = async () => {
  bench = await Workbench.open({ data: temporaryFolder(), browse: "/" });
  return bench;
};

async function check(running: Workbench, id: string): Promise<void> {
  // What is remembered at the end of a check is told as changed files, and nothing is when all stays.
  const ended = new Promise<void>((resolve) => {
    const off = running.news.subscribe(id, (event) => {
      if (event.type !== "ended") return;
      off();
      resolve();
    });
  });
  await running.runs.startCheck(id, {});
  await ended;
  await expect.poll(() => running.runs.isRunning(id)).toBe(false);
}

const driftedRows = async (running: Workbench, id: string) =>
  (await running.bench(id, "m")).rows.flatMap((row) => (row.drift ? [[row.name, row.drift.basis]] : []));

describe("a section of the original that changes after it was ported", () => {
  it("is drifted with its module and what rests on it, until agreeing cases run through the change", async () => {
    const folder = setUp();
    writeFiles(folder, {
      "original/n.py": "import m\ndef half(n):\n    return m.fare(n) // 2\n",
      "twin/n.ts": 'import { fare } from "./m.ts";\nexport const half = (n: number) => Math.floor(fare(n) / 2);\n',
    });
    const running = await open();
    const { id } = await running.addPort(folder);
    expect(await driftedRows(running, id)).toEqual([]);
    writeFiles(folder, { "original/m.py": ORIGINAL.replace("n + 1", "n + 3").replace("n * 2", "n * 2  # doubled") });
    expect(await driftedRows(running, id)).toEqual([["fare", "paired"]]);
    const { modules } = await running.order(id);
    expect(modules.map(({ name, drift }) => [name, drift])).toEqual([
      ["m", { sections: ["fare"], through: [] }],
      ["n", { sections: [], through: ["m"] }],
    ]);
    await check(running, id);
    expect(await driftedRows(running, id)).toEqual([["fare", "paired"]]);
    writeFiles(folder, { "twin/m.ts": TWIN.replace("n + 1", "n + 3") });
    await check(running, id);
    await expect.poll(() => driftedRows(running, id), { timeout: 60_000 }).toEqual([]);
  });

  it("shows what changed and the commits that did it, and is settled by a person's word", async () => {
    const folder = setUp();
    const original = path.join(folder, "original");
    const git = gitIn(original);
    git("init", "-q");
    git("add", "-A");
    git("commit", "-qm", "as it was ported");
    const running = await open();
    const { id } = await running.addPort(folder);
    writeFiles(folder, { "original/m.py": ORIGINAL.replace("n * 2", "n * 4") });
    git("commit", "-qam", "other lines");
    writeFiles(folder, { "original/m.py": ORIGINAL.replace("n * 2", "n * 4").replace("n + 1", "n + 9") });
    const wanted = { module: "m", section: "fare", twin: "ts" };
    expect(await running.changes(id, wanted)).toMatchObject({ isOpen: true });
    git("commit", "-qam", "dearer by eight");
    expect(await running.changes(id, wanted)).toMatchObject({
      isOpen: false,
      commits: [{ subject: "dearer by eight", author: "Mara Quill" }],
    });
    const row = (await running.bench(id, "m")).rows.find(({ name }) => name === "fare");
    expect(row?.drift?.lines.map(({ kind, parts }) => [kind, parts.map(({ text }) => text).join("")])).toEqual([
      ["same", "def fare(n):"],
      ["gone", "    return n + 1"],
      ["new", "    return n + 9"],
    ]);
    await running.edit.follow(id, wanted);
    expect(await driftedRows(running, id)).toEqual([["tax", "paired"]]);
    await expect(running.edit.follow(id, wanted)).rejects.toThrow(/has not drifted/);
    // A screen may ask once more before it is drawn again.
    expect(await running.changes(id, wanted)).toEqual({ commits: [], isOpen: false, isRepository: false });
  });

  it("is told as gone when its twin is still there", async () => {
    const folder = setUp();
    const running = await open();
    const { id } = await running.addPort(folder);
    writeFiles(folder, { "original/m.py": ORIGINAL.slice(0, ORIGINAL.indexOf("def tax")) });
    expect((await running.bench(id, "m")).gone).toMatchObject([{ section: "tax", twinSection: "tax" }]);
    await running.edit.follow(id, { module: "m", section: "tax", twin: "ts" });
    expect((await running.bench(id, "m")).gone).toEqual([]);
  });

  it("is shared beside the port file where it says so, so that another machine knows it", async () => {
    const folder = setUp({ memory: "memory.jsonl" });
    const first = await open();
    await first.addPort(folder);
    const lines = readFileSync(path.join(folder, "memory.jsonl"), "utf8").trim().split("\n");
    expect(lines.map((line) => JSON.parse(line)).map(({ section, text }) => [section, text])).toEqual([
      ["fare", "def fare(n):\n    return n + 1"],
      ["tax", "def tax(n):\n    return n * 2"],
    ]);
    await first.close();
    writeFiles(folder, { "original/m.py": ORIGINAL.replace("n + 1", "n + 2") });
    const second = await open();
    const { id } = await second.addPort(folder);
    expect(await driftedRows(second, id)).toEqual([["fare", "paired"]]);
    writeFiles(folder, { "memory.jsonl": "{" });
    for (let time = 0; time < 2; time++)
      await expect(second.bench(id, "m")).rejects.toThrow(/Not JSON in memory.jsonl, line 1/);
    expect(readFileSync(path.join(folder, "memory.jsonl"), "utf8")).toBe("{");
  });
});

describe("a section that is dropped with a reason", () => {
  it("has no lines that are left to prove", async () => {
    const folder = setUp();
    const running = await open();
    const { id } = await running.addPort(folder);
    await check(running, id);
    const module = async () => (await running.order(id)).modules[0];
    const before = await module();
    expect(before).toMatchObject({ state: "agrees" });
    expect((before?.lines ?? 0) - (before?.provenLines ?? 0)).toBe(1);
    const said = { module: "m", on: "ts", original: "tax", twin: null, note: "" };
    await running.edit.pairByHand(id, said);
    expect(await module()).toMatchObject({ lines: before?.lines });
    await running.edit.pairByHand(id, { ...said, note: "no tax on islands" });
    expect(await module()).toMatchObject({ state: "proven" });
    expect((await running.module(id, "m")).unproven).toEqual([]);
    const row = (await running.bench(id, "m")).rows.find(({ name }) => name === "tax");
    expect(row).toMatchObject({ relation: "dropped", reasons: ["no tax on islands"] });
  });
});

describe("a memory file", () => {
  it("that would lie outside the port's folder is refused", async () => {
    const running = await open();
    for (const memory of ["../m.jsonl", "/tmp/m.jsonl", "m.txt"]) {
      const folder = temporaryFolder({ "side-twin.json": portFile({ memory }), "original/m.py": "" });
      await expect(running.addPort(folder)).rejects.toThrow(/key memory/);
    }
  });
});
