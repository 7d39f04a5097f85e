import { describe, expect, it } from "vitest";
import { askPool, poolFor } from "@/testing/driver-pool";
import { temporaryFolder } from "@/testing/temporary-port";

describe("a pool", () => {
  it("keeps the time limit for what it is given after it had nothing to do", async () => {
    const folder = temporaryFolder({
      "m.py": "import os\ndef f(n):\n    while n: pass\n    return n\ndef reads():\n    return os.read(2, 10)\n",
    });
    const pool = await poolFor("python", folder, { timeMs: 400 });
    try {
      const first = await askPool(pool, { file: "m.py", name: "f", args: [0] });
      expect(first.result).toMatchObject({ kind: "call", value: 0 });
      const second = await askPool(pool, { file: "m.py", name: "f", args: [1] });
      expect(second.result).toMatchObject({ kind: "broken", why: "timed-out" });
      // Where errors are printed there is nothing to read: it must not wait.
      const third = await askPool(pool, { file: "m.py", name: "reads", args: [] });
      expect(third.result).toMatchObject({ kind: "call", value: { "~bytes": "" } });
    } finally {
      pool.stop();
    }
  });

  describe.each([
    {
      language: "python",
      file: "m.py",
      spins:
        "count = 0\ndef f(n):\n    global count\n    count += 1\n    while n: pass\n    return count\ndef stubborn():\n    while True:\n        try:\n            while True: pass\n        except BaseException: pass\n",
      other: "def f(n):\n    return 'other'\n",
      broken: "def f(n):\n    return (\n",
    },
    {
      language: "javascript",
      file: "m.mjs",
      spins: "let count = 0;\nexport const f = (n) => { count++; while (n) {} return count; };\n",
      other: "export const f = () => 'other';\n",
      broken: "export const f = () => (;\n",
    },
  ])("in $language", ({ language, file, spins, other, broken }) => {
    const f = (n: number, more = {}) => ({ file, name: "f", args: [n], ...more });

    it("stops a case with a limit of its own without ending the process, and the next one meets fresh modules", async () => {
      const pool = await poolFor(language, temporaryFolder({ [file]: spins }));
      let starts = 0;
      Object.assign(pool.options, { onVersion: () => starts++ });
      try {
        expect((await askPool(pool, f(0))).result).toMatchObject({ kind: "call", value: 1 });
        expect((await askPool(pool, f(1, { limitMs: 200 }))).result).toMatchObject({
          kind: "broken",
          why: "timed-out",
          what: "it took longer than 200 ms",
        });
        expect((await askPool(pool, f(0, { limitMs: 200 }))).result).toMatchObject({ kind: "call", value: 1 });
        expect(starts).toBe(1);
      } finally {
        pool.stop();
      }
    });

    it("runs texts in place of files, also in a process that is started later", async () => {
      const folder = temporaryFolder({ [file]: spins });
      const pool = await poolFor(language, folder, { timeMs: 400 });
      const answer = async (n: number) => (await askPool(pool, f(n))).result;
      try {
        expect(await answer(0)).toMatchObject({ value: 1 });
        pool.replaceTexts({ [file]: other });
        expect(await answer(0)).toMatchObject({ value: "other" });
        pool.replaceTexts({ [file]: broken });
        expect(await answer(0)).toMatchObject({ kind: "broken", why: "would-not-load" });
        pool.replaceTexts({ [file]: `${spins}\n` });
        expect(await answer(1)).toMatchObject({ kind: "broken", why: "timed-out" });
        // Another process by now, which has the same text.
        pool.replaceTexts({ [file]: other });
        expect(await answer(0)).toMatchObject({ value: "other" });
        pool.replaceTexts({});
        expect(await answer(0)).toMatchObject({ value: 1 });
      } finally {
        pool.stop();
      }
    });
  });

  it("ends the process of code that catches what stops it", async () => {
    const folder = temporaryFolder({
      "m.py":
        "def stubborn():\n    while True:\n        try:\n            while True: pass\n        except BaseException: pass\n\ndef f(n):\n    return n\n",
    });
    const pool = await poolFor("python", folder, { timeMs: 600 });
    try {
      const stubborn = await askPool(pool, { file: "m.py", name: "stubborn", args: [], limitMs: 100 });
      expect(stubborn.result).toMatchObject({ kind: "broken", why: "timed-out" });
      expect((await askPool(pool, { file: "m.py", name: "f", args: [4] })).result).toMatchObject({ value: 4 });
    } finally {
      pool.stop();
    }
  });

  it("calls the side's own modules, whatever the driver or Python has loaded under their names", async () => {
    const folder = temporaryFolder({
      "json.py": "def half(n):\n    return n / 2\n",
      "os.py":
        "count = 0\nseen = []\ndef quarter(n):\n    return n / 4\ndef once(n):\n    global count\n    count += 1\n    seen.append(n)\n    return [count, len(seen)]\n",
      "csv/__init__.py": "from csv.rows import rows\n",
      "csv/rows.py": "import os\ndef rows(n):\n    return os.path.join('a', 'b')\n",
      "types.py": "import json\ndef both(n):\n    return json.half(n) + 1\n",
    });
    const pool = await poolFor("python", folder);
    const value = async (file: string, name: string) => (await askPool(pool, { file, name, args: [8] })).result;
    try {
      // Its own json is what its modules import, as without the driver; os is Python's since it started.
      expect(await value("types.py", "both")).toMatchObject({ value: { "~float": "5.0" } });
      expect(await value("json.py", "half")).toMatchObject({ value: { "~float": "4.0" } });
      expect(await value("os.py", "quarter")).toMatchObject({ value: { "~float": "2.0" } });
      // Fresh for every case, and Python's own os is none the worse for it.
      for (let round = 0; round < 3; round++) expect(await value("os.py", "once")).toMatchObject({ value: [1, 1] });
      expect(await value("csv/rows.py", "rows")).toMatchObject({ value: "a/b" });
      for (let round = 0; round < 2; round++) expect(await value("os.py", "once")).toMatchObject({ value: [1, 1] });
    } finally {
      pool.stop();
    }
  });
});
