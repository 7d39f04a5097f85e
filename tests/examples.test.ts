/** The example ports: before their phrases are applied a twin differs; afterwards it agrees; undone it is as before. */
import { execFile, spawnSync } from "node:child_process";
import { cpSync, readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { temporaryFolder } from "@/testing/temporary-port";

const env = { ...process.env, HOME: temporaryFolder() };
const json = (command: string, ...args: string[]): Promise<Record<string, unknown>> =>
  new Promise((resolve, reject) => {
    const program = path.join(packageRoot(), "bin/side-twin.mjs");
    execFile(
      process.execPath,
      [program, command, ...args, "--json"],
      { maxBuffer: 1 << 26, env },
      (_, stdout, stderr) => (stdout === "" ? reject(new Error(stderr)) : resolve(JSON.parse(stdout))),
    );
  });

/** A copy of an example, and what its twin's files hold. */
function copyOf(name: string): { readonly folder: string; readonly twin: () => Record<string, string> } {
  const folder = temporaryFolder();
  cpSync(path.join(packageRoot(), "examples", name), folder, { recursive: true });
  const twin = () =>
    Object.fromEntries(
      readdirSync(path.join(folder, "twin"), { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile() && !/\.(?:class|pyc)$/.test(entry.name))
        .map((entry) => path.join(entry.parentPath, entry.name))
        .sort()
        .map((file) => [path.relative(folder, file), readFileSync(file, "utf8")]),
    );
  return { folder, twin };
}

const hasJava = spawnSync("javac", ["-version"]).status === 0;

const EXAMPLES = [
  { name: "mill-ledger", runs: true, before: { agree: 0, broken: 6 }, cases: 6, kept: 0, open: 0 },
  { name: "gauge-namespace", runs: hasJava, before: { agree: 0, differ: 2 }, cases: 2, kept: 2, open: 0 },
  { name: "notice-styles", runs: true, before: { agree: 1 }, cases: 1, kept: 0, open: 1 },
];

describe.each(EXAMPLES)("the example $name", ({ name, runs, before, cases, kept, open }) => {
  it("agrees once its phrases are applied, and is put back to the byte", async () => {
    const { folder, twin } = copyOf(name);
    const original = twin();
    // Without a compiler for it, the phrases are applied all the same.
    if (runs) expect((await json("check", folder)).totals).toMatchObject(before);
    // Places that will change are not left over.
    expect((await json("phrases", folder)).leftovers).toEqual([]);
    await json("apply", folder);
    const states = (
      (await json("phrases", folder)) as { phrases: { occurrences: { state: string }[] }[]; leftovers: object[] }
    ).phrases.flatMap(({ occurrences }) => occurrences.map(({ state }) => state));
    expect([
      states.filter((state) => state === "kept").length,
      states.filter((state) => state === "open").length,
    ]).toEqual([kept, open]);
    expect(states).not.toContain("ready");
    expect((await json("phrases", folder)).leftovers).toEqual([]);
    if (runs) expect((await json("check", folder)).totals).toMatchObject({ cases, agree: cases });
    await json("undo", folder);
    expect(twin()).toEqual(original);
  });
});
