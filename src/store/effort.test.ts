import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { findBaseline, saveBaseline } from "@/store/baselines";
import { listEffort, listTouches, saveEffort, saveTouches } from "@/store/effort";
import { Store } from "@/store/open";
import { savePort } from "@/store/ports";
import { deleteMemory, listMemory, saveMemory } from "@/store/section-memory";
import { temporaryFolder } from "@/testing/temporary-port";

let store: Store;
beforeAll(async () => {
  store = await Store.open(temporaryFolder(), path.join(packageRoot(), "src/store/migrations"));
  await savePort(store, { id: "p", file: "/p/side-twin.json", name: "P", addedAt: new Date(0) });
});
afterAll(() => store.close());

describe("what is kept of the work on a port", () => {
  it("is each minute of a module once", async () => {
    const at = (text: string) => new Date(`2031-04-02T${text}Z`);
    const modules = [{ twin: "ts", module: "fares" }];
    for (const moment of ["08:00:05", "08:00:40", "08:07:00"])
      await saveTouches(store, "p", { at: at(moment), modules });
    await saveTouches(store, "p", { at: at("09:00:00"), modules: [{ twin: "rust", module: "fares" }] });
    expect([...(await listTouches(store, "p", "ts"))]).toEqual([
      ["fares", [at("08:00:00").getTime(), at("08:07:00").getTime()]],
    ]);
  });

  it("is what was left after each check, the newest of it, oldest first", async () => {
    for (const hour of [1, 2, 3]) {
      const point = { left: 9 - hour, total: 9, lines: 100, provenLines: hour === 1 ? null : hour };
      await saveEffort(store, "p", "ts", { at: `2031-04-02T0${hour}:00:00.000Z`, ...point });
    }
    const history = await listEffort(store, "p", "ts", 2);
    expect(history.map(({ left, provenLines }) => [left, provenLines])).toEqual([
      [7, 2],
      [6, 3],
    ]);
    expect(await listEffort(store, "p", "other")).toEqual([]);
  });

  it("is the last baseline, whatever the original printed", async () => {
    const run = { id: "r", argv: [], exit: 0, stdout: "a\0b \ud83d\ude00", stderr: "", files: [], ms: 1 };
    const baseline = {
      state: "complete",
      problem: null,
      prepared: [],
      toolchain: null,
      cases: 1,
      answered: 1,
      threw: 0,
      broken: [],
      brokenCount: 0,
      unsteady: [],
      unsteadyCount: 0,
      seconds: { first: 1, second: 1 },
      slowest: [],
      runs: [run],
      printed: [],
      isPlain: true,
    } as const;
    expect(await findBaseline(store, "p")).toBeNull();
    for (const seconds of [1, 2])
      await saveBaseline(store, "p", { startedAt: new Date(0), seconds, baseline, stamp: "s" });
    expect(await findBaseline(store, "p")).toEqual({ startedAt: new Date(0), seconds: 2, baseline, stamp: "s" });
  });

  it("is what sections looked like, the last of each", async () => {
    const line = (section: string, text: string) =>
      ({
        module: "m",
        section,
        twin: "ts",
        twinSection: section,
        file: "m.py",
        at: "2031-04-02T08:00:00.000Z",
        basis: "paired",
        commit: null,
        text,
      }) as const;
    await saveMemory(store, "p", [line("a", "x\0y"), line("b", "1")]);
    await saveMemory(store, "p", [line("b", "2")]);
    expect((await listMemory(store, "p")).map(({ section, text }) => [section, text])).toEqual([
      ["a", "x\u2400y"],
      ["b", "2"],
    ]);
    await deleteMemory(store, "p", line("a", ""));
    expect(await listMemory(store, "p")).toEqual([line("b", "2")]);
  });
});
