import { spawn } from "node:child_process";
import { copyFileSync, existsSync, readdirSync, symlinkSync, utimesSync } from "node:fs";
import path from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { z } from "zod";
import { packageRoot } from "@/engine/package-root";
import { endCheck, listChecks, listProven, saveProven, startCheck } from "@/store/checks";
import { Store } from "@/store/open";
import { deletePort, findPortByFile, listPorts, savePort, saveReading } from "@/store/ports";
import { formatDetail, type VerdictToSave } from "@/store/verdicts";
import { temporaryFolder } from "@/testing/temporary-port";

const FIRST = "0001-ports-and-checks.sql";
const MIGRATIONS = path.join(packageRoot(), "src/store/migrations");
const opened: Store[] = [];
const open = async (folder: string): Promise<Store> => {
  const store = await Store.open(folder, MIGRATIONS);
  opened.push(store);
  return store;
};
afterEach(async () => {
  for (const store of opened.splice(0)) await store.close().catch(() => undefined);
});

const port = { id: "p1", file: "/ports/a/side-twin.json", name: "A", addedAt: new Date("2031-04-02T00:00:00Z") };
const verdict = (
  caseId: string,
  extra: Partial<VerdictToSave["row"]> = {},
  detail: Partial<Parameters<typeof formatDetail>[0]> = {},
): VerdictToSave => ({
  row: {
    twin: "ts",
    caseId,
    module: "m",
    section: "f",
    outcome: "agree",
    side: null,
    why: null,
    msOriginal: 0.5,
    msTwin: null,
    stamp: "s1",
    divergenceCount: detail.divergences?.length ?? 0,
    excuses: [],
    checkId: 1,
    ...extra,
  },
  detail: formatDetail({ original: '{"kind":"call"}', twinAnswer: null, lastOutput: null, divergences: [], ...detail }),
});

describe("the store", () => {
  it("keeps ports and what was read of them, and forgets all of a port that is taken off", async () => {
    const store = await open(temporaryFolder());
    await savePort(store, port);
    await saveReading(store, "p1", {
      modules: [{ name: "m", original: ["m.py"], twins: { ts: [] } }],
      sections: [{ module: "m", name: "f", kind: "function", file: "m.py", from: 1, to: 2, complexity: 1 }],
    });
    const check = await startCheck(store, { portId: "p1", module: null, startedAt: new Date() });
    await (await store.verdicts("p1")).save(check, [verdict("c")]);
    expect(await listPorts(store)).toEqual([port]);
    expect(await findPortByFile(store, port.file)).toEqual(port);
    await deletePort(store, "p1");
    expect(await listPorts(store)).toEqual([]);
    expect((await store.verdicts("p1")).list()).toEqual([]);
  });

  it("keeps the last word on each case, with answers and divergences, odd characters included", async () => {
    const store = await open(temporaryFolder());
    await savePort(store, port);
    const check = await startCheck(store, { portId: "p1", module: null, startedAt: new Date() });
    const differ = verdict(
      "c",
      { outcome: "differ" },
      {
        twinAnswer: '{"x":"\\u0000"}',
        divergences: [{ at: "value", original: "a\u0000'\";--", twin: { x: [1] }, kind: "text" }],
      },
    );
    await (await store.verdicts("p1")).save(check, [verdict("c"), differ, verdict("d")]);
    expect(
      (await store.verdicts("p1"))
        .list()
        .map(({ caseId, outcome, divergenceCount }) => [caseId, outcome, divergenceCount]),
    ).toEqual([
      ["c", "differ", 1],
      ["d", "agree", 0],
    ]);
    expect(await (await store.verdicts("p1")).find("ts", "c")).toMatchObject({
      outcome: "differ",
      divergences: [{ at: "value", twin: { x: [1] } }],
    });
    await (await store.verdicts("p1")).save(check, [verdict("c", { stamp: "s2" })]);
    expect(await (await store.verdicts("p1")).find("ts", "c")).toMatchObject({
      outcome: "agree",
      stamp: "s2",
      divergences: [],
    });
    expect(await (await store.verdicts("p1")).find("ts", "never")).toBeNull();
  });

  it("keeps checks, newest first, and proven lines", async () => {
    const store = await open(temporaryFolder());
    await savePort(store, port);
    const first = await startCheck(store, { portId: "p1", module: "m", startedAt: new Date() });
    await endCheck(store, first, {
      state: "complete",
      endedAt: new Date(),
      seconds: 1.5,
      totals: { cases: 1, agree: 1, allowed: 0, differ: 0, broken: 0, unsteady: 0, skipped: 0 },
      provenLines: 3,
      lines: 4,
    });
    const second = await startCheck(store, { portId: "p1", module: null, startedAt: new Date() });
    await saveProven(store, "p1", second, [
      { twin: "ts", module: "m", file: "m.py", executable: [1, 2], proven: [1], stamp: "h" },
    ]);
    expect((await listChecks(store, "p1")).map(({ id, state, seconds }) => [id, state, seconds])).toEqual([
      [second, "running", null],
      [first, "complete", 1.5],
    ]);
    expect(await listProven(store, "p1", "ts")).toEqual([
      { twin: "ts", module: "m", file: "m.py", executable: [1, 2], proven: [1], stamp: "h" },
    ]);
  });

  it("says that another server uses the folder", async () => {
    const folder = temporaryFolder();
    await open(folder);
    await expect(Store.open(folder, MIGRATIONS)).rejects.toMatchObject({
      code: "folder-in-use",
      message: expect.stringContaining(String(process.pid)),
    });
  });

  it("brings the verdicts of an older data folder along", async () => {
    const folder = temporaryFolder();
    const older = path.join(temporaryFolder({ "migrations/x": "" }), "migrations");
    symlinkSync(path.join(path.dirname(MIGRATIONS), "database-worker.mjs"), path.join(older, "../database-worker.mjs"));
    copyFileSync(path.join(MIGRATIONS, FIRST), path.join(older, FIRST));
    const before = await Store.open(folder, older);
    await savePort(before, port);
    await before.run("insert into check_run (port_id, state, started_at) values ('p1', 'complete', now())");
    await before.run(
      `insert into verdict (port_id, twin, case_id, check_id, section, outcome, stamp, divergence_count)
       values ('p1', 'ts', 'a', 1, 'f', 'agree', 's', 0), ('p1', 'ts', 'b', 1, 'f', 'differ', 's', 1)`,
    );
    await before.run("insert into answer (port_id, twin, case_id, original) values ('p1', 'ts', 'b', '{}')");
    await before.run(
      `insert into divergence (port_id, twin, case_id, ordinal, at, kind, original, twin_value)
       values ('p1', 'ts', 'b', 0, 'value', 'number', '1', '2')`,
    );
    await before.close();
    const book = await (await open(folder)).verdicts("p1");
    expect(book.list().map(({ caseId, outcome }) => [caseId, outcome])).toEqual([
      ["a", "agree"],
      ["b", "differ"],
    ]);
    expect(await book.find("ts", "b")).toMatchObject({
      original: {},
      divergences: [{ at: "value", original: 1, twin: 2, allowance: null }],
    });
    expect(await book.find("ts", "a")).toMatchObject({ divergences: [] });
  });

  it("lets a page go when none of its words is the last", async () => {
    const folder = temporaryFolder();
    const store = await open(folder);
    await savePort(store, port);
    const check = await startCheck(store, { portId: "p1", module: null, startedAt: new Date() });
    const book = await store.verdicts("p1");
    const excuses = [{ allowance: "a1", used: 2, needed: { abs: 0.5 } }];
    await book.save(check, [verdict("a"), verdict("b")]);
    await book.save(check, [verdict("a", { outcome: "differ", why: "nul \0" })]);
    await book.save(check, [verdict("b", { outcome: "broken", excuses })]);
    const pages = await store.rows(z.object({ id: z.number() }), "select id from verdict_page");
    expect(pages).toHaveLength(2);
    await store.close();
    const again = await (await open(folder)).verdicts("p1");
    expect(again.list().map((row) => [row.caseId, row.outcome, row.why, row.excuses])).toEqual([
      ["a", "differ", "nul \0", []],
      ["b", "broken", null, excuses],
    ]);
  });

  it("makes its own database where the cache cannot hold one, and discards copies that no start takes", async () => {
    const before = process.env.XDG_CACHE_HOME;
    const cache = temporaryFolder({ "a-file": "", "side-twin/databases/earlier/x": "" });
    const earlier = path.join(cache, "side-twin/databases/earlier");
    utimesSync(earlier, new Date("2031-01-01"), new Date("2020-01-01"));
    try {
      process.env.XDG_CACHE_HOME = path.join(cache, "a-file");
      expect(await listPorts(await open(temporaryFolder()))).toEqual([]);
      process.env.XDG_CACHE_HOME = cache;
      expect(await listPorts(await open(temporaryFolder()))).toEqual([]);
      expect(existsSync(earlier)).toBe(false);
      expect(readdirSync(path.dirname(earlier))).toEqual([expect.stringMatching(/^\d+\.\d+\.\d+-[0-9a-f]{16}$/)]);
    } finally {
      if (before === undefined) delete process.env.XDG_CACHE_HOME;
      else process.env.XDG_CACHE_HOME = before;
    }
  });

  it("refuses a folder that a newer version wrote", async () => {
    const folder = temporaryFolder();
    const store = await open(folder);
    await store.run("insert into migration (version, name) values (9999, 'later')");
    await store.close();
    await expect(Store.open(folder, MIGRATIONS)).rejects.toMatchObject({ code: "newer-version" });
  });

  it("loses nothing that was saved when its process is killed, and marks the check as interrupted", async () => {
    const folder = temporaryFolder();
    // Another process opens the store, saves one batch after another, and says each time what it has saved.
    const child = spawn(
      process.execPath,
      [path.join(packageRoot(), "scripts/run-ts.mjs"), "src/testing/endless-saving.ts", folder],
      { stdio: ["ignore", "pipe", "inherit"] },
    );
    const saved = await new Promise<number>((resolve) => {
      let count = 0;
      child.stdout.on("data", (chunk: Buffer) => {
        count = Math.max(count, ...chunk.toString("utf8").trim().split("\n").map(Number));
        if (count >= 5 && child.exitCode === null) child.kill("SIGKILL");
      });
      child.once("exit", () => resolve(count));
    });
    const store = await open(folder);
    expect((await store.verdicts("p1")).list().length).toBeGreaterThanOrEqual(saved * 20);
    expect((await listChecks(store, "p1"))[0]?.state).toBe("interrupted");
  });
});
