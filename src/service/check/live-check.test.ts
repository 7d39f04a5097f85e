import { writeFileSync } from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { PortEvent } from "@/api/port-event";
import { packageRoot } from "@/engine/package-root";
import { LiveCheck } from "@/service/check/live-check";
import { PortReader } from "@/service/reading/reading";
import { listChecks } from "@/store/checks";
import { Store } from "@/store/open";
import { savePort } from "@/store/ports";
import { temporaryFolder, temporaryPort } from "@/testing/temporary-port";

let store: Store;
beforeAll(async () => {
  store = await Store.open(temporaryFolder(), path.join(packageRoot(), "src/store/migrations"));
});
afterAll(() => store.close());

const FULL = Object.assign(new Error('could not extend file "base/5/16384": No space left on device'), {
  code: "53100",
});

describe("a check whose verdicts cannot be saved", () => {
  it("ends as failed with the reason, tells no verdict, and its end is saved once that is possible", async () => {
    const folder = temporaryPort({
      original: "def f(n):\n    return n\n",
      twin: "export const f = (n: number) => n + 1;\n",
      cases: Array.from({ length: 50 }, (_, n) => ({ id: `c${n}`, module: "m", call: "f", args: [n] })),
    });
    const file = path.join(folder, "side-twin.json");
    await savePort(store, { id: "p", file, name: "P", addedAt: new Date(0) });
    const reading = await new PortReader().read(file);
    const events: PortEvent[] = [];
    const later: (() => Promise<void>)[] = [];
    // The same store on a disk that is full: it can be read, and every write fails.
    const full: Store = Object.create(store, {
      run: {
        value: (sql: string, values: readonly unknown[]) =>
          /^\s*update/i.test(sql) ? Promise.reject(FULL) : store.run(sql, values),
      },
      verdicts: { value: async () => ({ outcomeOf: () => undefined, save: () => Promise.reject(FULL) }) },
      saveLater: { value: (write: () => Promise<void>) => later.push(write) },
    });
    await new LiveCheck(full, { portId: "p", reading, jobs: 1, emit: (event) => events.push(event) }).run();
    expect(events.filter(({ type }) => type === "verdicts")).toEqual([]);
    expect(events.at(-1)).toMatchObject({
      type: "ended",
      state: "failed",
      problem: { code: "not-writable", what: expect.stringContaining("the disk is full") },
    });
    expect(later).toHaveLength(1);
  });

  it("leaves a store that takes the end up again", async () => {
    let tries = 0;
    await new Promise<void>((resolve) => {
      store.saveLater(async () => {
        if (tries++ === 0) throw FULL;
        resolve();
      });
    });
    expect(tries).toBe(2);
    expect((await listChecks(store, "p", 1))[0]?.state).toBe("running");
  });
});

describe("what a check changed", () => {
  it("counts cases that became right and wrong, and says so at its end and in the list of checks", async () => {
    const cases = [1, 2, 3].map((n) => ({ id: `c${n}`, module: "m", call: "f", args: [n] }));
    const folder = temporaryPort({
      original: "def f(n):\n    return n\n",
      twin: "export const f = (n: number) => (n === 1 ? 0 : n);\n",
      cases,
    });
    const file = path.join(folder, "side-twin.json");
    await savePort(store, { id: "q", file, name: "Q", addedAt: new Date(0) });
    const check = async () => {
      const reading = await new PortReader().read(file);
      const events: PortEvent[] = [];
      await new LiveCheck(store, { portId: "q", reading, jobs: 1, emit: (event) => events.push(event) }).run();
      return events.at(-1);
    };
    // Cases that were never checked become neither.
    expect(await check()).toMatchObject({ type: "ended", changes: { module: null, mended: 0, worsened: 0 } });
    writeFileSync(path.join(folder, "twin/m.ts"), "export const f = (n: number) => (n > 1 ? 0 : n);\n");
    expect(await check()).toMatchObject({ type: "ended", changes: { mended: 1, worsened: 2 } });
    expect((await listChecks(store, "q", 1))[0]).toMatchObject({ mended: 1, worsened: 2 });
  });
});
