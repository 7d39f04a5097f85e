import { spawn } from "node:child_process";
import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { afterEach, describe, expect, it, vi } from "vitest";
import { environmentFor, resolveCommand } from "@/engine/process/environment";
import { killStrays, measureGroup, newMark, startGroup } from "@/engine/process/group";
import { giveMemoryBack } from "@/engine/process/own-memory";
import { describeEnd, type RunLimits, runToEnd } from "@/engine/process/run";
import { measureTree } from "@/engine/process/tree";
import { confine, describeProtections, findSandbox } from "@/engine/sandbox/sandbox";
import { temporaryFolder, writeFiles } from "@/testing/temporary-port";

const LIMITS: RunLimits = { timeMs: 10_000, outputKb: 64 };
const node = (code: string) => [process.execPath, "-e", code];
const run = (command: readonly string[], more: Partial<Parameters<typeof runToEnd>[1]> = {}) =>
  runToEnd(command, { cwd: temporaryFolder(), env: environmentFor(), limits: LIMITS, ...more });

afterEach(() => vi.unstubAllEnvs());

describe("a run", () => {
  it("ends with its status and what it printed, in pieces with their times", async () => {
    const record = await run(node("console.log('a'); console.error('b'); process.exitCode = 3"));
    expect([record.end, record.stdout.toString(), record.stderr.toString()]).toEqual([
      { kind: "exited", code: 3 },
      "a\n",
      "b\n",
    ]);
    expect(record.arrivals.at(-1)?.bytes).toBe(2);
    expect(describeEnd(record.end)).toBe("it ended with status 3");
  });

  it("is given its input, and may leave it unread", async () => {
    expect((await run(["cat"], { stdin: "x".repeat(50_000) })).stdout).toHaveLength(50_000);
    expect((await run(["true"], { stdin: "x".repeat(5_000_000) })).end).toEqual({ kind: "exited", code: 0 });
  });

  it.each<[string, readonly string[], Partial<RunLimits>, string]>([
    ["too long", node("for (;;);"), { timeMs: 300 }, "timed-out"],
    ["too much output", node("for (;;) console.log('x'.repeat(1000))"), { outputKb: 1 }, "over-limit"],
    ["too much memory", node("const a = []; for (;;) a.push(Buffer.alloc(1e7, 1))"), { memoryMb: 100 }, "over-limit"],
    [
      "too many processes",
      ["sh", "-c", "for n in 1 2 3 4 5 6 7 8; do sleep 5 & done; wait"],
      { processes: 2 },
      "over-limit",
    ],
    ["a program that is not there", ["/nonexistent/program"], {}, "failed-to-start"],
    ["a signal", node("process.kill(process.pid, 'SIGSEGV')"), {}, "signalled"],
  ])("keeps the first cause of its end: %s", async (_what, command, limits, kind) => {
    vi.stubEnv("SIDE_TWIN_SANDBOX", "off");
    const { end } = await run(command, { limits: { ...LIMITS, ...limits } });
    if (kind === "failed-to-start") expect(["failed-to-start", "exited"]).toContain(end.kind);
    else expect(end.kind).toBe(kind);
  });

  it("can be stopped, before and while it runs", async () => {
    const stopper = new AbortController();
    const running = run(node("for (;;);"), { signal: stopper.signal });
    stopper.abort();
    expect((await running).end.kind).toBe("stopped");
    expect((await run(["sleep", "5"], { signal: stopper.signal })).end.kind).toBe("stopped");
  });

  it("is not held back by a child that keeps its pipes", async () => {
    const started = performance.now();
    const record = await run(["sh", "-c", "sleep 30 & echo done"]);
    expect([record.end, record.stdout.toString()]).toEqual([{ kind: "exited", code: 0 }, "done\n"]);
    expect(performance.now() - started).toBeLessThan(20_000);
  });
});

describe("what a run leaves behind", () => {
  const isThere = (pid: number) =>
    existsSync(`/proc/${pid}`) && !/\) Z /.test(readFileSync(`/proc/${pid}/stat`, "latin1"));
  const gone = (pid: number) => expect.poll(() => isThere(pid), { timeout: 60_000 }).toBe(false);

  it.each([
    ["by the mark in its environment", "setsid sh -c 'cd /; exec sleep 60' >/dev/null 2>&1 </dev/null & echo $!"],
    ["by its folder", "env -i setsid sleep 60 >/dev/null 2>&1 </dev/null & echo $!"],
    ["by what it holds open", "cd /; env -i setsid sleep 60 & echo $!"],
  ])("is found and ended: %s", async (_how, script) => {
    vi.stubEnv("SIDE_TWIN_SANDBOX", "off");
    const [mark, folder] = [newMark(), temporaryFolder()];
    const child = startGroup(["sh", "-c", `${script}; sleep 1`], {
      cwd: folder,
      env: environmentFor(),
      stdio: ["ignore", "pipe", "pipe"],
      writable: [folder],
      mark,
    });
    const pid = await new Promise<number>((resolve) =>
      child.stdout?.once("data", (text) => resolve(Number(String(text)))),
    );
    measureGroup({ pid: undefined }, mark);
    await new Promise((resolve) => child.once("exit", resolve));
    killStrays(mark);
    await gone(pid);
  });

  it("is ended where it was seen as a child, whatever it gave up since", async () => {
    vi.stubEnv("SIDE_TWIN_SANDBOX", "off");
    const mark = newMark();
    const code = `const c = require("node:child_process").spawn("sleep", ["60"], { detached: true, stdio: "ignore", env: {}, cwd: "/" }); console.log(c.pid); setTimeout(() => {}, 30000)`;
    const child = startGroup(node(code), {
      cwd: "/",
      env: environmentFor(),
      stdio: ["ignore", "pipe", "pipe"],
      writable: [],
      mark,
    });
    const pid = await new Promise<number>((resolve) =>
      child.stdout?.once("data", (text) => resolve(Number(String(text)))),
    );
    expect(measureGroup(child, mark).pids).toContain(pid);
    killStrays(mark);
    await gone(pid);
  });

  it("leaves the processes of others alone", async () => {
    const other = spawn("sleep", ["60"], { stdio: "ignore" });
    const mark = newMark();
    const folder = temporaryFolder();
    const child = startGroup(["true"], {
      cwd: folder,
      env: environmentFor(),
      stdio: ["ignore", "pipe", "pipe"],
      writable: [folder],
      mark,
    });
    await new Promise((resolve) => child.once("close", resolve));
    killStrays(mark);
    expect(isThere(other.pid ?? 0)).toBe(true);
    other.kill();
  });
});

it("a command that the sandbox did not start is started again, at most twice", async () => {
  const folder = temporaryFolder();
  const failing = (times: number) =>
    `echo x >> starts; test $(wc -l < starts) -gt ${times} || { echo "bwrap: Can't mkdir parents for /tmp/gone" >&2; exit 1; }; echo started`;
  const inFolder = { cwd: folder, writable: [folder] };
  expect((await run(["sh", "-c", failing(2)], inFolder)).stdout.toString()).toBe("started\n");
  writeFiles(folder, { starts: "" });
  expect((await run(["sh", "-c", failing(9)], inFolder)).end).toEqual({ kind: "exited", code: 1 });
  expect(readFileSync(path.join(folder, "starts"), "utf8")).toBe("x\nx\nx\n");
});

describe("the environment of ported code", () => {
  it("has a fixed zone and locale, and nothing of ours that would change it", () => {
    vi.stubEnv("NODE_OPTIONS", "--inspect");
    vi.stubEnv("LC_ALL", "de_DE.UTF-8");
    expect(environmentFor({ A: "b" })).toMatchObject({ TZ: "UTC", LC_ALL: "C.UTF-8", A: "b" });
    expect(environmentFor()).not.toHaveProperty("NODE_OPTIONS");
    expect(environmentFor({ TZ: "Asia/Tokyo" }).TZ).toBe("Asia/Tokyo");
  });

  it("starts a tool itself where npx would look for it", () => {
    const folder = temporaryFolder({ "node_modules/.bin/tool": "", "deep/x": "" });
    const tool = path.join(folder, "node_modules/.bin/tool");
    expect(resolveCommand(["npx", "tool", "-a"], path.join(folder, "deep"))).toEqual([tool, "-a"]);
    expect(resolveCommand(["npx", "--yes", "tool"], folder)).toEqual(["npx", "--yes", "tool"]);
    expect(resolveCommand(["npx", "nowhere"], folder)).toEqual(["npx", "nowhere"]);
    expect(resolveCommand(["make"], folder)).toEqual(["make"]);
  });
});

describe("the sandbox", () => {
  const terms = { timeMs: 1, memoryMb: 2, outputKb: 3, processes: 4 };

  it("is passed over when it is switched off, and the protections say so", () => {
    vi.stubEnv("SIDE_TWIN_SANDBOX", "off");
    expect(confine(["a"], { writable: ["/x"], network: false })).toEqual({ command: ["a"], isSandboxed: false });
    expect(describeProtections(terms).join()).toContain("bubblewrap is not installed or does not work here");
  });

  it.runIf(findSandbox() !== null)("drops capabilities and the network, and binds what may be written", async () => {
    const { command, isSandboxed } = confine(["a", "b"], { writable: ["/x"], network: false });
    expect(isSandboxed).toBe(true);
    expect(command.join(" ")).toMatch(/--cap-drop ALL .*--unshare-net .*--bind \/x \/x -- a b$/);
    expect(confine(["a"], { writable: [], network: true }).command).not.toContain("--unshare-net");
    expect(describeProtections(terms).join()).toContain("even as root");
  });

  it.runIf(findSandbox() !== null)(
    "keeps what runs in it to its folders, without capabilities and sockets",
    async () => {
      const [inside, outside] = [temporaryFolder(), temporaryFolder()];
      writeFiles(outside, { "there.txt": "x" });
      const script = `echo in > in.txt; echo out > ${outside}/out.txt; cat ${outside}/there.txt; grep CapEff /proc/self/status; ls /run | wc -l`;
      const record = await run(["sh", "-c", script], { cwd: inside, writable: [inside] });
      expect(existsSync(path.join(inside, "in.txt"))).toBe(true);
      expect(existsSync(path.join(outside, "out.txt"))).toBe(false);
      expect(record.stdout.toString()).toMatch(/^xCapEff:\s+0000000000000000\n/);
      expect((await run(node("process.kill(process.pid, 'SIGSEGV')"), { writable: [inside] })).end.kind).toBe(
        "signalled",
      );
    },
  );
});

it("a tree is measured with its children, and nothing is measured of what has ended", async () => {
  const child = spawn("sh", ["-c", "sleep 20 & sleep 20"], { stdio: "ignore", detached: true });
  await expect.poll(() => measureTree(child.pid).processes).toBe(3);
  expect(measureTree(child.pid).memoryMb).toBeGreaterThan(0);
  process.kill(-(child.pid ?? 0), "SIGKILL");
  await expect.poll(() => measureTree(child.pid).pids.length).toBeLessThan(2);
  expect(measureTree(undefined)).toEqual({ processes: 0, memoryMb: 0, pids: [] });
});

it("memory that is no longer used is given back", () => {
  let held: unknown[] | null = Array.from({ length: 2_000_000 }, (_, index) => ({ index }));
  const before = process.memoryUsage().heapUsed;
  expect(held).toHaveLength(2_000_000);
  held = null;
  giveMemoryBack();
  expect(process.memoryUsage().heapUsed).toBeLessThan(before - 40_000_000);
});
