/** What a kept tool answers is what the tool prints: both run after every change. */
import { execFileSync, spawnSync } from "node:child_process";
import { mkdirSync, readFileSync, rmSync, symlinkSync } from "node:fs";
import path from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { WarmTools } from "@/engine/warm/warm-tools";
import { temporaryFolder, writeFiles } from "@/testing/temporary-port";

const tools = new WarmTools();
afterAll(() => tools.close());

const CONFIG = { compilerOptions: { strict: true, noEmit: true, module: "nodenext", types: [] }, include: ["src"] };

/** A folder with TypeScript 5 installed, as a person has it. */
function folderWith(files: Readonly<Record<string, string>>): string {
  const folder = temporaryFolder({ "tsconfig.json": JSON.stringify(CONFIG), ...files });
  mkdirSync(path.join(folder, "node_modules/.bin"), { recursive: true });
  symlinkSync(
    path.join(packageRoot(), "tests/tools/node_modules/typescript"),
    path.join(folder, "node_modules/typescript"),
  );
  symlinkSync("../typescript/bin/tsc", path.join(folder, "node_modules/.bin/tsc"));
  return folder;
}

const tscOf = (folder: string) => path.join(folder, "node_modules/.bin/tsc");

/** What the compiler itself prints. */
function printed(folder: string, args: readonly string[]): string {
  try {
    return execFileSync(tscOf(folder), [...args, "--pretty", "false"], { cwd: folder, encoding: "utf8" });
  } catch (error) {
    return String((error as { stdout: unknown }).stdout);
  }
}

const ask = (folder: string, args: readonly string[], signal?: AbortSignal) =>
  tools.ask([tscOf(folder), ...args], { folder, env: process.env, signal });

describe("a kept TypeScript compiler", () => {
  const folder = folderWith({
    "src/quays.ts": "export const berth = (ship: string): number => ship.length;\n",
    "src/main.ts": 'import { berth } from "./quays.js";\nexport const x: string = berth("auk");\n',
  });

  it.each<[string, Readonly<Record<string, string | null>>, RegExp | null]>([
    ["a type that does not fit", {}, /src\/main\.ts\(2,14\): error TS2322/],
    ["nothing, once mended", { "src/main.ts": 'export { berth } from "./quays.js";\n' }, null],
    [
      "a caller in another file",
      {
        "src/main.ts": 'import { berth } from "./quays.js";\nexport const x = berth("auk");\n',
        "src/quays.ts": "export const berth = (ship: string, at: number): number => ship.length + at;\n",
      },
      /src\/main\.ts\(2,18\): error TS2554/,
    ],
    ["a syntax error alone", { "src/quays.ts": "export const berth = (;\n" }, /src\/quays\.ts.*error TS1/],
    ["a file that went away", { "src/quays.ts": null }, /src\/main\.ts\(1,23\): error TS2307/],
    [
      "a new file",
      { "src/quays.ts": "export const berth = (s: string) => s;\n", "src/b.ts": "let y = z;\n" },
      /TS2304/,
    ],
    ["an option that was changed", { "tsconfig.json": JSON.stringify({ ...CONFIG, include: ["src/main.ts"] }) }, null],
    [
      "a configuration that is wrong",
      { "tsconfig.json": '{"compilerOptions": {"noEmit": true, "strct": 1}}' },
      /TS5025/,
    ],
  ])("answers %s as the compiler does", async (_what, files, expected) => {
    for (const [file, text] of Object.entries(files)) {
      if (text === null) rmSync(path.join(folder, file));
      else writeFiles(folder, { [file]: text });
    }
    const answer = await ask(folder, []);
    expect(answer?.text).toBe(printed(folder, []));
    expect(answer?.exit === 0).toBe(expected === null);
    if (expected) expect(answer?.text).toMatch(expected);
  });

  it("takes arguments and another configuration", async () => {
    const own = folderWith({
      "src/a.ts": "export function f(x) { return x; }\n",
      "loose.json": JSON.stringify({ compilerOptions: { noEmit: true, strict: false }, include: ["src"] }),
    });
    expect((await ask(own, ["-p", "loose.json"]))?.text).toBe("");
    expect((await ask(own, ["-p", "loose.json", "--noImplicitAny"]))?.text).toMatch(/TS7006/);
  });

  it("leaves to the compiler what it alone can do", async () => {
    const own = folderWith({ "src/a.ts": "export const a = 1;\n", "emit.json": '{"include": ["src"]}' });
    for (const args of [["-p", "emit.json"], ["-p", "none.json"], ["--build"], ["--watch"], ["--noSuchOption"]])
      expect(await ask(own, args)).toBeNull();
    expect(await tools.ask([process.execPath, "--version"], { folder: own, env: process.env })).toBeNull();
    const native = path.join(packageRoot(), "node_modules/.bin/tsc");
    expect(await tools.ask([native, "--noEmit"], { folder: own, env: process.env })).toBeNull();
  });

  it("can be stopped, and answers again afterwards", async () => {
    const own = folderWith({ "src/a.ts": "export const a: string = 1;\n" });
    const stopper = new AbortController();
    const stopped = ask(own, [], stopper.signal);
    setTimeout(() => stopper.abort(), 20);
    expect(await stopped).toBeNull();
    expect((await ask(own, []))?.text).toMatch(/TS2322/);
  });
});

describe("a kept mypy", () => {
  const program = execFileSync("which", ["mypy"], { encoding: "utf8" }).trim();
  const folder = temporaryFolder({
    // Versions before 2 have it off, where the daemon would answer otherwise.
    "mypy.ini": "[mypy]\nstrict = True\nlocal_partial_types = True\n",
    "src/quays.py": "def berth(ship: str) -> int:\n    return len(ship)\n",
    "src/main.py": 'from quays import berth\nx: str = berth("auk")\n',
  });
  const askMypy = (args: readonly string[] = ["src"]) => tools.ask([program, ...args], { folder, env: process.env });
  const printedByMypy = () => spawnSync(program, ["src"], { cwd: folder, encoding: "utf8" });
  /** The count of files at the end differs: the daemon counts those of the library. */
  const complaints = (text: string | undefined) =>
    text
      ?.split("\n")
      .filter((line) => /: (error|note):/.test(line))
      .sort();

  it.each<[string, Readonly<Record<string, string | null>>, RegExp | null]>([
    ["a type that does not fit", {}, /src\/main\.py:2: error: .*\[assignment\]/],
    ["nothing, once mended", { "src/main.py": "from quays import berth\nx: int = berth('auk')\n" }, null],
    [
      "a caller in another file",
      { "src/quays.py": "def berth(ship: str, at: int) -> int:\n    return len(ship) + at\n" },
      /src\/main\.py:2: error: .*\[call-arg\]/,
    ],
    ["a syntax error alone", { "src/quays.py": "def berth(:\n" }, /src\/quays\.py:1: error: .*\[syntax\]/],
    ["a file that went away", { "src/quays.py": null }, /src\/main\.py:1: error: Cannot find/],
    [
      "a new file",
      { "src/quays.py": "def berth(ship: str) -> int:\n    return 1\n", "src/b.py": "y = z\n" },
      /src\/b\.py:1/,
    ],
    ["an option that was changed", { "mypy.ini": "[mypy]\nlocal_partial_types = True\nexclude = b.py\n" }, null],
  ])("answers %s as mypy does", async (_what, files, expected) => {
    for (const [file, text] of Object.entries(files)) {
      if (text === null) rmSync(path.join(folder, file));
      else writeFiles(folder, { [file]: text });
    }
    const [answer, own] = [await askMypy(), printedByMypy()];
    expect(complaints(answer?.text)).toEqual(complaints(own.stdout));
    expect(answer?.exit === 0).toBe(own.status === 0);
    if (expected) expect(answer?.text).toMatch(expected);
    else expect(complaints(answer?.text)).toEqual([]);
  });

  it("leaves to mypy what it alone can do", async () => {
    for (const args of [["--noSuchOption", "src"], ["none"], ["--junit-xml", "out.xml", "src"], ["--version"]])
      expect(await askMypy(args)).toBeNull();
    expect(await askMypy(["--follow-imports", "silent", "src"])).toBeNull();
    const script = path.join(temporaryFolder({ mypy: "#!/bin/sh\nexit 0\n" }), "mypy");
    expect(await tools.ask([script, "src"], { folder, env: process.env })).toBeNull();
  });

  it("is found as a module of an interpreter too", async () => {
    const interpreter = readFileSync(program, "utf8").split("\n")[0]?.slice(2).trim() ?? "";
    expect((await tools.ask([interpreter, "-m", "mypy", "src"], { folder, env: process.env }))?.exit).toBe(0);
  });
});
