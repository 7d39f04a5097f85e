import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import path from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { confine, describeProtections, findSandbox, isSandboxFailure } from "@/engine/sandbox/sandbox";
import { temporaryFolder } from "@/testing/temporary-port";

const before = process.env.SIDE_TWIN_SANDBOX;
afterEach(() => {
  if (before === undefined) delete process.env.SIDE_TWIN_SANDBOX;
  else process.env.SIDE_TWIN_SANDBOX = before;
});

const LIMITS = { timeMs: 5000, memoryMb: 512, outputKb: 1024, processes: 32 };

describe("without a sandbox", () => {
  it("a command is started as it is, and the report says what does not hold", () => {
    process.env.SIDE_TWIN_SANDBOX = "off";
    expect(findSandbox()).toBeNull();
    expect(confine(["true"], { writable: [], network: false })).toEqual({ command: ["true"], isSandboxed: false });
    const protections = describeProtections(LIMITS).join("\n");
    expect(protections).toMatch(/at most 5000 ms, 512 MB of memory, 1024 KB of output and 32 processes/);
    expect(protections).toMatch(/bubblewrap is not installed/);
    expect(protections).not.toMatch(/no network and/);
  });
});

const hasSandbox = findSandbox() !== null;

describe.runIf(hasSandbox)("in the sandbox", () => {
  const run = (
    code: string,
    terms: { readonly writable?: readonly string[]; readonly network?: boolean } = {},
  ): { readonly status: number | null; readonly stdout: string } => {
    const { writable = [], network = false } = terms;
    const { command } = confine([process.execPath, "-e", code], { writable, network });
    const [program = "", ...args] = command;
    const { status, stdout } = spawnSync(program, args, { encoding: "utf8" });
    return { status, stdout };
  };

  it("only the folders that are named can be written", () => {
    const [own, other] = [temporaryFolder({ "a.txt": "a" }), temporaryFolder({ "b.txt": "b" })];
    const code = `
      const fs = require("fs");
      fs.writeFileSync(${JSON.stringify(path.join(own, "new.txt"))}, "made");
      try { fs.writeFileSync(${JSON.stringify(path.join(other, "b.txt"))}, "spoilt"); console.log("written"); }
      catch (error) { console.log(error.code); }`;
    expect(run(code, { writable: [own] }).stdout).toBe("EROFS\n");
    expect(readFileSync(path.join(own, "new.txt"), "utf8")).toBe("made");
    expect(readFileSync(path.join(other, "b.txt"), "utf8")).toBe("b");
  });

  it("there is no network, unless it is allowed", async () => {
    const server = createServer((socket) => socket.end("here"));
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    const { port } = server.address() as { port: number };
    const code = `
      const socket = require("net").connect(${port}, "127.0.0.1");
      socket.on("error", (error) => console.log(error.code));
      socket.on("connect", () => { console.log("connected"); socket.destroy(); });`;
    const apart = run(code).stdout;
    // A spawn that waits holds the server back: being let in is all that counts.
    const allowed = run(code, { network: true }).stdout;
    server.close();
    expect(apart).not.toContain("connected");
    expect(allowed).toBe("connected\n");
  });

  it("other processes cannot be seen or ended", () => {
    const code = `try { process.kill(${process.pid}, 0); console.log("seen"); } catch (error) { console.log(error.code); }`;
    expect(run(code).stdout).toBe("ESRCH\n");
  });

  it("the sockets of running services cannot be reached", async () => {
    // Not by the name of a scratch folder: those of runs are left as they are.
    const folder = mkdtempSync(path.join(tmpdir(), "service-"));
    const file = path.join(folder, "service.sock");
    const server = createServer();
    await new Promise<void>((resolve) => server.listen(file, resolve));
    const code = `
      const socket = require("net").connect(${JSON.stringify(file)});
      socket.on("error", (error) => console.log(error.code));
      socket.on("connect", () => { console.log("connected"); socket.destroy(); });`;
    const { stdout } = run(code);
    server.close();
    rmSync(folder, { recursive: true, force: true });
    expect(stdout).not.toContain("connected");
  });

  it("the status of the program comes out of it", () => {
    expect(run("process.exit(7)").status).toBe(7);
  });

  it("devices and processes of its own are there", () => {
    expect(run("console.log(require('fs').existsSync('/dev/null'), process.pid < 10)").stdout).toBe("true true\n");
  });
});

describe("a failure of the sandbox itself", () => {
  it("is told from one of the program", () => {
    const printed = (stderr: string, stdout = "") => ({ stdout: Buffer.from(stdout), stderr: Buffer.from(stderr) });
    expect(isSandboxFailure(printed("bwrap: Can't find source path /tmp/x: No such file"))).toBe(true);
    expect(isSandboxFailure(printed("Error: Can't find it"))).toBe(false);
    expect(isSandboxFailure(printed("bwrap: Can't find it", "started\n"))).toBe(false);
  });
});
