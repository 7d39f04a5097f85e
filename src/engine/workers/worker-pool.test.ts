import { afterAll, describe, expect, it } from "vitest";
import { DEFAULT_EQUALITY } from "@/core/values/equality";
import { WorkerPool } from "@/engine/workers/worker-pool";

const pool = new WorkerPool(2);
afterAll(() => pool.close());

const run = (stdout: string) => ({ kind: "run", exit: 0, stdout, stderr: "", files: {} }) as const;
const terms = { equality: DEFAULT_EQUALITY, allowances: [] };

describe("worker threads", () => {
  it("answer each job with what the function gives", async () => {
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, index) => pool.run("compareAnswers", run(`${index}\n`), run("3\n"), terms)),
    );
    expect(answers.map(({ outcome }) => outcome === "agree")).toEqual([0, 1, 2, 3, 4, 5, 6, 7].map((n) => n === 3));
    expect(pool.size).toBe(2);
  });

  it("hand over what a job throws, and go on", async () => {
    const broken = { ...run(""), kind: "odd" } as unknown as ReturnType<typeof run>;
    await expect(pool.run("compareAnswers", broken, run(""), terms)).rejects.toThrow();
    expect((await pool.run("compareAnswers", run("a"), run("a"), terms)).outcome).toBe("agree");
  });

  it("leave the main thread free", async () => {
    const text = (seed: number) =>
      Array.from({ length: 60_000 }, (_, line) => `${(line * seed) % 7919} ${seed}`).join("\n");
    let turns = 0;
    const pulse = setInterval(() => turns++, 1);
    const { outcome } = await pool.run("compareAnswers", run(text(3)), run(text(5)), terms);
    clearInterval(pulse);
    expect(outcome).toBe("differ");
    expect(turns).toBeGreaterThan(3);
  });
});
