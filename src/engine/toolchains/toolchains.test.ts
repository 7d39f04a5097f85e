import { chmodSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { findProgram } from "@/engine/find-program";
import { resolveCommand } from "@/engine/process/environment";
import { describeEnd, runToEnd } from "@/engine/process/run";
import { findRuntime, resolveProgram } from "@/engine/toolchains/toolchains";
import { temporaryFolder } from "@/testing/temporary-port";

describe("toolchains", () => {
  it("are looked up on the path, and a missing one says how to get it", async () => {
    expect(findProgram("sh")).toMatch(/\/sh$/);
    expect(findProgram("no-such-program")).toBeNull();
    await expect(findRuntime("python", ["python3-of-nowhere"])).rejects.toMatchObject({
      code: "toolchain-missing",
      next: expect.stringContaining("Install Python 3"),
    });
    await expect(findRuntime("cobol")).rejects.toMatchObject({
      code: "toolchain-missing",
      next: expect.stringContaining("python, javascript, typescript"),
    });
  });

  it("are resolved past a version manager's shim to the real interpreter", async () => {
    const [real = ""] = await findRuntime("python");
    const folder = temporaryFolder();
    const shim = path.join(folder, "python3");
    writeFileSync(shim, `#!/bin/sh\nexec ${real} "$@"\n`);
    chmodSync(shim, 0o755);
    const [resolved = ""] = await resolveProgram([shim, "-m", "x"]);
    expect(resolved).not.toBe(shim);
    expect(resolved).toMatch(/python/);
    expect((await resolveProgram([shim, "-m", "x"])).slice(1)).toEqual(["-m", "x"]);
  });

  it("take a tool from the folder's own packages, or from those of Side Twin, in place of npx", () => {
    const folder = temporaryFolder({ "node_modules/.bin/tool": "#!/bin/sh\n" });
    expect(resolveCommand(["npx", "tool", "-x"], path.join(folder))).toEqual([
      path.join(folder, "node_modules/.bin/tool"),
      "-x",
    ]);
    expect(resolveCommand(["npx", "tsx", "a.ts"], "/")[0]).toMatch(/node_modules\/\.bin\/tsx$/);
    expect(resolveCommand(["npx", "unheard-of"], "/")).toEqual(["npx", "unheard-of"]);
    expect(resolveCommand(["make"], folder)).toEqual(["make"]);
  });
});

describe("a program run", () => {
  const run = (script: string, extra: object = {}) =>
    runToEnd(["sh", "-c", script], {
      cwd: "/",
      env: { ...process.env, PATH: "/usr/bin:/bin" },
      limits: { timeMs: 4000, outputKb: 64, memoryMb: 512 },
      ...extra,
    });

  it("ends with the same record however it ends", async () => {
    const ended = await run("echo out; echo err >&2; cat; exit 3", { stdin: "in" });
    expect([ended.end, ended.stdout.toString(), ended.stderr.toString()]).toEqual([
      { kind: "exited", code: 3 },
      "out\nin",
      "err\n",
    ]);
    expect((await run("kill -TERM $$")).end).toEqual({ kind: "signalled", signal: "SIGTERM" });
    expect((await run("sleep 9", { limits: { timeMs: 200, outputKb: 64 } })).end).toEqual({ kind: "timed-out" });
    expect((await run("yes")).end).toMatchObject({ kind: "over-limit", what: "more than 64 KB of output" });
    const lost = await runToEnd(["/no/such/program"], {
      cwd: "/",
      env: process.env,
      limits: { timeMs: 1000, outputKb: 1 },
    });
    expect(["failed-to-start", "exited"]).toContain(lost.end.kind);
  });

  it("keeps what was printed before it was ended, and takes its children with it", async () => {
    const { end, stdout } = await run("echo before; sleep 61.75 & wait", { limits: { timeMs: 400, outputKb: 64 } });
    expect([end.kind, stdout.toString()]).toEqual(["timed-out", "before\n"]);
    expect((await run("ps -eo args | grep '[s]leep 61.75' || echo none")).stdout.toString()).toBe("none\n");
  });

  it("is not held open by a child that keeps its pipes", async () => {
    // Were it held open, it would run into its time limit of four seconds.
    expect((await run("sleep 30 & exit 0")).end).toEqual({ kind: "exited", code: 0 });
  });

  it("can be stopped from outside", async () => {
    const stop = new AbortController();
    setTimeout(() => stop.abort(), 100);
    expect((await run("sleep 9", { signal: stop.signal })).end).toEqual({ kind: "stopped" });
    expect((await run("sleep 9", { signal: stop.signal })).end).toEqual({ kind: "stopped" });
  });

  it("has its end in words", () => {
    expect(
      [
        { kind: "exited", code: 2 } as const,
        { kind: "timed-out" } as const,
        { kind: "over-limit", what: "x" } as const,
      ].map(describeEnd),
    ).toEqual(["it ended with status 2", "it took longer than its time limit", "it went over a limit: x"]);
  });
});
