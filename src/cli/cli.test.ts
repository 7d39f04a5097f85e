import { execFile, spawn } from "node:child_process";
import { existsSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { temporaryFolder, temporaryPort } from "@/testing/temporary-port";

const PROGRAM = path.join(packageRoot(), "bin/side-twin.mjs");

/** A home of its own, so that nothing of another test or person is used again. */
const env = { ...process.env, HOME: temporaryFolder() };

const cli = (...args: string[]): Promise<{ code: number; stdout: string; stderr: string }> =>
  new Promise((resolve) => {
    execFile(process.execPath, [PROGRAM, ...args], { maxBuffer: 1 << 26, env }, (error, stdout, stderr) => {
      resolve({ code: typeof error?.code === "number" ? error.code : 0, stdout, stderr });
    });
  });

/** A port that takes its time, and makes a file when its sides are prepared. */
/** A port whose original notes in its folder, as `started`, that it is being prepared. */
const slowPort = () =>
  temporaryPort({
    original: "import time\ndef slow(n):\n    time.sleep(0.05)\n    return n\n",
    port: {
      original: {
        root: "original",
        language: "python",
        prepare: [["node", "-e", 'require("fs").writeFileSync("started", "")']],
      },
    },
    twin: "export const slow = (n: number) => n;",
    cases: Array.from({ length: 400 }, (_, index) => ({ id: `s${index}`, module: "m", call: "slow", args: [index] })),
  });

describe("the command line", () => {
  it("tells its commands, its version, and what is wrong with a call", async () => {
    const help = await cli("--help");
    expect(help.code).toBe(0);
    for (const command of ["check", "compare", "survey", "pair", "serve", "demo"])
      expect(help.stdout).toContain(command);
    expect((await cli("--version")).stdout).toMatch(/^\d+\.\d+\.\d+\n$/);
    expect(await cli("check")).toMatchObject({ code: 2, stderr: expect.stringContaining("missing required argument") });
    expect(await cli("check", ".", "--jobs", "0")).toMatchObject({
      code: 2,
      stderr: expect.stringContaining("a whole number from 1 to 64"),
    });
    expect(await cli("serve", "--port", "x")).toMatchObject({
      code: 2,
      stderr: expect.stringContaining("a port from 0 to 65535"),
    });
  });

  it("pairs and surveys, for people and as JSON", async () => {
    const folder = temporaryPort({
      original: "def fare_for(n):\n    return n\n",
      twin: "export const fareFor = (n: number) => n;\n",
      cases: [],
    });
    expect((await cli("pair", folder)).stdout).toBe("m  m.ts\n  fare_for -> fareFor  renamed 0.98\n");
    expect(JSON.parse((await cli("pair", folder, "--json")).stdout)).toMatchObject({
      modules: [{ name: "m", original: ["m.py"], twin: ["m.ts"], sections: [{ originalFrom: 1, twinFrom: 1 }] }],
    });
    expect((await cli("survey", path.join(folder, "original"))).stdout).toContain("m.py  2 lines, 1 sections");
    expect(JSON.parse((await cli("survey", folder, "--json")).stdout)).toMatchObject({
      files: [
        { path: "original/m.py", sections: [{ name: "fare_for", kind: "function", from: 1, to: 2, complexity: 1 }] },
        { path: "twin/m.ts" },
      ],
    });
    expect((await cli("survey", path.join(folder, "gone"))).code).toBe(2);
  });

  it("ends with 2 when it is interrupted, with what was said until then", async () => {
    const port = slowPort();
    const started = path.join(port, "original/started");
    const child = spawn(process.execPath, [PROGRAM, "check", port, "--json"], {
      stdio: ["ignore", "pipe", "inherit"],
      env,
    });
    let said = "";
    child.stdout.on("data", (chunk: Buffer) => {
      said += chunk.toString("utf8");
    });
    // Once: a second interrupt ends the program as it stands, which is what a person wants of it.
    const look = setInterval(() => {
      if (!existsSync(started)) return;
      clearInterval(look);
      child.kill("SIGINT");
    }, 50);
    const code = await new Promise((resolve) => child.once("close", resolve));
    expect(code).toBe(2);
    expect(JSON.parse(said)).toMatchObject({ state: "stopped" });
  });

  it("ends quietly when its reader has seen enough", async () => {
    const folder = temporaryFolder(
      Object.fromEntries(Array.from({ length: 3000 }, (_, index) => [`f${index}.py`, "x = 1\n"])),
    );
    const stderr = await new Promise<string>((resolve) => {
      execFile(
        "sh",
        ["-c", `"${process.execPath}" "${PROGRAM}" survey "${folder}" | head -n 1`],
        (_error, _stdout, text) => resolve(text),
      );
    });
    expect(stderr).toBe("");
  });
});
