import { mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { PortEvent } from "@/api/port-event";
import type { PortCard } from "@/api/views";
import { Workbench } from "@/service/server/workbench";
import { portFile, temporaryFolder, temporaryPort, writeFiles } from "@/testing/temporary-port";

const ORIGINAL =
  "from helper import twice\n\ndef f(n):\n    if n > 5:\n        return twice(n)\n    return n\n\ndef g(n):\n    return n\n";
const TWIN = "import { twice } from './helper';\nexport const f = (n: number) => (n > 5 ? twice(n) : n);\n";

let bench: Workbench;
let folder: string;
let id: string;
const data = temporaryFolder();
const browse = temporaryFolder({ "inside/deep/x.txt": "x" });

beforeAll(async () => {
  bench = await Workbench.open({ data, browse });
  folder = temporaryPort({
    original: ORIGINAL,
    twin: TWIN,
    cases: [1, 7, 9]
      .map((n) => ({ id: `f${n}`, module: "m", call: "f", args: [n] }))
      .concat([{ id: "g1", module: "m", call: "g", args: [1] }]),
  });
  writeFiles(folder, {
    "original/helper.py": "def twice(n):\n    return n * 2\n",
    "twin/helper.ts": "export const twice = (n: number) => n * 2;\n",
  });
  id = (await bench.addPort(folder)).id;
});
afterAll(() => bench.close());

/** Runs a check and gives its events up to the end. */
async function check(scope: { module?: string; caseId?: string } = {}, port = id): Promise<PortEvent[]> {
  const events: PortEvent[] = [];
  await new Promise<void>((resolve, reject) => {
    const stop = bench.news.subscribe(port, (event) => {
      events.push(event);
      if (event.type !== "ended") return;
      stop();
      setTimeout(resolve, 20);
    });
    bench.runs.startCheck(port, scope).catch(reject);
  });
  return events;
}

const card = async (): Promise<PortCard> => {
  const found = (await bench.listPorts()).find((port) => port.id === id);
  if (!found || "problem" in found) throw new Error("the port is broken");
  return found;
};

describe("a port on the workbench", () => {
  it("is there once, however often it is brought in, and was never checked", async () => {
    expect((await bench.addPort(path.join(folder, "side-twin.json"))).id).toBe(id);
    expect(await bench.listPorts()).toHaveLength(1);
    expect(await card()).toMatchObject({
      name: "A port",
      modules: 2,
      totals: { cases: 4, agree: 0 },
      lastCheck: null,
      provenLines: null,
    });
  });

  it("shows what needs what, in layers", async () => {
    const { modules, knots } = await bench.order(id);
    expect(modules.map(({ name, layer, needs, neededBy }) => [name, layer, needs, neededBy])).toEqual([
      ["helper", 0, [], ["m"]],
      ["m", 1, ["helper"], []],
    ]);
    expect(knots).toEqual([]);
  });

  it("tells a check as it goes: started, verdicts once saved, ended", async () => {
    const events = await check();
    expect(events[0]).toMatchObject({ type: "started", total: 4 });
    const verdicts = events.flatMap((event) => (event.type === "verdicts" ? event.list : []));
    expect(Object.fromEntries(verdicts.map(({ id: name, outcome }) => [name, outcome]))).toEqual({
      f1: "agree",
      f7: "agree",
      f9: "agree",
      g1: "skipped",
    });
    expect(events.at(-1)).toMatchObject({ type: "ended", state: "complete", problem: null });
    expect(await card()).toMatchObject({ totals: { agree: 3, skipped: 1 }, lastCheck: { state: "complete" } });
  });

  it("lays the module level on the Bench, with its proven lines and cases", async () => {
    const view = await bench.bench(id, "m");
    expect(view.rows.map(({ name, relation, mark }) => [name, relation, mark])).toEqual([
      ["", "between", "idle"],
      ["f", "same", "agree"],
      ["g", "missing", "skipped"],
    ]);
    expect(view.files.original[0]?.edge).toBe("p-pppp-pu");
    expect(view.cases.map(({ id: name, mark, stale }) => [name, mark, stale])).toEqual([
      ["f1", "agree", false],
      ["f7", "agree", false],
      ["f9", "agree", false],
      ["g1", "skipped", false],
    ]);
    await expect(bench.bench(id, "nope")).rejects.toMatchObject({ code: "not-found" });
  });

  it("reads a case with both answers", async () => {
    expect(await bench.case(id, "f7")).toMatchObject({
      mark: "agree",
      section: "f",
      rows: [{ at: "value", original: "14", twin: "14", differs: false }],
    });
    await expect(bench.case(id, "nope")).rejects.toMatchObject({ code: "not-found" });
  });

  it("shows verdicts as stale when the code they rest on changed, in a needed module too", async () => {
    writeFileSync(path.join(folder, "twin/helper.ts"), "export const twice = (n: number) => n * 3;\n");
    const { modules } = await bench.order(id);
    expect(modules.map(({ name, stale, state }) => [name, stale, state])).toEqual([
      ["helper", false, "under-way"],
      ["m", true, "under-way"],
    ]);
    await check({ caseId: "f7" });
    const view = await bench.bench(id, "m");
    expect(view.cases.map(({ mark, stale }) => [mark, stale])).toEqual([
      ["agree", true],
      ["differ", false],
      ["agree", true],
      ["skipped", true],
    ]);
    expect(await bench.case(id, "f7")).toMatchObject({
      divergences: [{ at: "value", original: 14, twin: 21, kind: "number" }],
    });
  });

  it("refuses a second check while another runs, and a check of what is not there", async () => {
    const first = check();
    await expect(bench.runs.startCheck(id, { module: "m" })).rejects.toMatchObject({ code: "already-running" });
    // The same one, asked for twice at a time, is one.
    await bench.runs.startCheck(id, {});
    const before = readFileSync(path.join(folder, "side-twin.json"), "utf8");
    // Waits for the check, and then sees that there is nothing to agree to.
    const agreed = bench.edit.agree(id, { cases: ["nobody"], twin: "ts", reason: "so it is" });
    await expect(agreed).rejects.toThrow(/"nobody" does not differ/);
    expect(readFileSync(path.join(folder, "side-twin.json"), "utf8")).toBe(before);
    await first;
    await expect(bench.runs.startCheck(id, { module: "nope" })).rejects.toMatchObject({ code: "bad-input" });
    await expect(bench.runs.startCheck("nope", {})).rejects.toMatchObject({ code: "not-found" });
  });

  it("says why a check could not run", async () => {
    writeFiles(folder, {
      "side-twin.json": portFile({ original: { root: "original", language: "python", prepare: [["false"]] } }),
    });
    const events = await check();
    expect(events.at(-1)).toMatchObject({ type: "ended", state: "failed", problem: { code: "prepare-failed" } });
    expect((await card()).lastCheck).toMatchObject({
      state: "failed",
      problem: { what: expect.stringContaining("Preparing original") },
    });
    writeFiles(folder, { "side-twin.json": portFile() });
  });

  it("notices a save in either folder", async () => {
    // The watcher tells nothing of what it finds at its start: saves go on until one is told.
    const save = setInterval(
      () => writeFileSync(path.join(folder, "twin/m.ts"), `${TWIN}// ${performance.now()}\n`),
      200,
    );
    await new Promise<void>((resolve) => {
      const stop = bench.news.subscribe(id, (event) => {
        if (event.type !== "files" || !event.paths.some((file) => file.endsWith("twin/m.ts"))) return;
        stop();
        resolve();
      });
    });
    clearInterval(save);
  });

  it("stays listed with the reason when its file is broken, and can be taken off the list", async () => {
    writeFileSync(path.join(folder, "side-twin.json"), "{");
    expect(await bench.listPorts()).toMatchObject([{ id, name: "A port", problem: { code: "bad-input" } }]);
    await bench.removePort(id);
    expect(await bench.listPorts()).toEqual([]);
  });
});

describe("browsing for a port", () => {
  it("shows the folders inside, and which hold a port", async () => {
    mkdirSync(path.join(browse, ".hidden"));
    writeFiles(browse, { "mine/side-twin.json": portFile() });
    expect(await bench.browseFolder(null)).toEqual({
      folder: browse,
      top: browse,
      parent: null,
      isRepository: false,
      hasPort: false,
      entries: [
        { name: "inside", hasPort: false },
        { name: "mine", hasPort: true },
      ],
    });
    expect((await bench.browseFolder(path.join(browse, "inside"))).parent).toBe(browse);
  });

  it("does not leave its folder, by dots or by links", async () => {
    symlinkSync("/", path.join(browse, "way-out"));
    for (const folderOutside of [path.join(browse, ".."), "/", path.join(browse, "way-out")]) {
      await expect(bench.browseFolder(folderOutside)).rejects.toMatchObject({ code: "outside-folder" });
    }
    await expect(bench.browseFolder(path.join(browse, "gone"))).rejects.toMatchObject({ code: "not-found" });
    rmSync(path.join(browse, "way-out"));
  });
});

describe("a port with several twins", () => {
  it("is listed with each twin's state at a glance", async () => {
    const two = temporaryFolder({
      "side-twin.json": portFile({
        name: "Two ways",
        twins: [
          { name: "ts", root: "twin", language: "typescript" },
          { name: "half", root: "half", language: "javascript" },
        ],
      }),
      "original/m.py": "def f(n):\n    return n\n",
      "twin/m.ts": "export const f = (n: number) => n;\n",
      "cases/m.jsonl": [{ id: "f1", module: "m", call: "f", args: [1] }],
    });
    const { id: other } = await bench.addPort(two);
    await bench.runs.startCheck(other, {});
    await expect.poll(() => bench.runs.isRunning(other), { timeout: 60_000 }).toBe(false);
    const found = (await bench.listPorts()).find((port) => port.id === other);
    if (!found || "problem" in found) throw new Error("the port is broken");
    expect([found.twin, found.totals.agree, found.modulesDone]).toEqual(["ts", 1, 1]);
    // What agrees on one twin proves nothing of the other.
    expect(found.provenLines).toBe(2);
    expect(
      found.others.map(({ twin, totals, modulesDone, provenLines }) => [
        twin,
        totals.skipped,
        modulesDone,
        provenLines,
      ]),
    ).toEqual([["half", 1, 0, 0]]);
    expect(found.baseline).toBeNull();
    await bench.runs.startBaseline(other);
    await expect.poll(() => bench.runs.isRunning(other), { timeout: 60_000 }).toBe(false);
    expect(await bench.baseline(other)).toMatchObject({ cases: 1, last: { state: "complete", isStale: false } });
    writeFiles(two, { "original/m.py": "def f(n):\n    return n + 0\n" });
    expect(await bench.baseline(other)).toMatchObject({ last: { isStale: true } });
    await bench.removePort(other);
    expect((await bench.listPorts()).map((port) => port.id)).not.toContain(other);
  });
});

describe("a port from a language whose functions are methods", () => {
  it("has the cases that name a method without its class at its section", async () => {
    const own = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: "java" },
        twins: [{ name: "py", root: "twin", language: "python" }],
      }),
      "original/Fares.java":
        "public class Fares {\n    public static int fare(int zone) {\n        return zone * 3;\n    }\n    public static int other(int zone) {\n        return zone;\n    }\n}\n",
      "twin/Fares.py": "def fare(zone):\n    return zone * 3\n",
      "cases/c.jsonl": [{ id: "f", module: "Fares", call: "fare", args: [2] }],
    });
    const port = (await bench.addPort(own)).id;
    await check({}, port);
    const { rows, cases } = await bench.bench(port, "Fares");
    expect(cases).toMatchObject([{ id: "f", section: "Fares.fare", mark: "agree" }]);
    const row = (name: string) => rows.find((entry) => entry.name === name);
    expect(row("Fares.fare")).toMatchObject({ cases: 1, mark: "agree", totals: { agree: 1 } });
    expect(row("Fares.other")).toMatchObject({ cases: 0, totals: { agree: 0 } });
  });
});
