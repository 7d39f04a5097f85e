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
});
