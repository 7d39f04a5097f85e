/** Checks of rungs that behave badly: each ends with a record that says what happened. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it, vi } from "vitest";
import { WarmTools } from "@/engine/warm/warm-tools";
import { diagnosePort, runCheckCommand } from "@/service/ladder/diagnose";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const node = (code: string) => ["node", "-e", code];

async function portWith(command: readonly string[], reads = "tsc", more: Readonly<Record<string, unknown>> = {}) {
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      ladder: [
        { name: "typed", check: { command, reads } },
        { name: "same", cases: "agree" },
      ],
      ...more,
    }),
    "original/m.py": "def f(n):\n    return n\n",
    "twin/m.ts": "export function f(n) {\n  return n;\n}\nexport const g = 1;\n",
    "cases/m.jsonl": [{ id: "a", module: "m", call: "f", args: [1] }],
  });
  return openPort(folder);
}

const only = async (...given: Parameters<typeof portWith>) => {
  const [run] = await diagnosePort(await portWith(...given));
  if (!run) throw new Error("nothing ran");
  return run;
};

describe("the check of a rung", () => {
  it("gives diagnostics with module and section, and the lines that are none", async () => {
    const run = await only(
      node(
        'console.log("starting\\nm.ts(2,3): error TS2322: No number.\\nm.ts(4,1): error TS1: No g.\\nother.ts(1,1): error TS2: Gone.\\nm.ts(9,1): error TS3: Beyond."); process.exit(2)',
      ),
    );
    expect(run).toMatchObject({ side: "ts", rung: "typed", exit: 2, text: ["starting"] });
    expect(run.diagnostics.map(({ file, line, module, section, code }) => [file, line, module, section, code])).toEqual(
      [
        ["m.ts", 2, "m", "f", "TS2322"],
        ["m.ts", 4, "m", "g", "TS1"],
        ["other.ts", 1, null, null, "TS2"],
        ["m.ts", 9, "m", null, "TS3"],
      ],
    );
  });

  it("that fails without a complaint has one, with the end of what it printed", async () => {
    const run = await only(node('for (let n = 0; n < 9; n++) console.log("line " + n); process.exit(3)'));
    expect(run.diagnostics).toHaveLength(1);
    expect(run.diagnostics[0]).toMatchObject({ severity: "error", file: "", line: null, module: null });
    expect(run.diagnostics[0]?.message).toMatch(/it ended with status 3\nline 4\nline 5\nline 6\nline 7\nline 8$/);
  });

  it("that succeeds without a word has none", async () => {
    expect(await only(node(""))).toMatchObject({ exit: 0, diagnostics: [], text: [] });
  });

  it("that is ended by a signal, or prints half a line in another encoding, is read as far as it goes", async () => {
    const run = await only(
      node(
        'process.stdout.write(Buffer.from([0xff, 0xfe, 10])); process.stdout.write("m.ts(2,3): error TS9: Half", () => process.kill(process.pid, "SIGKILL"))',
      ),
    );
    expect(run.exit).toBeNull();
    expect(run.diagnostics).toMatchObject([{ code: "TS9", message: "Half", line: 2 }]);
    expect(run.text).toEqual(["ÿþ"]);
  });

  it("that never ends can be stopped", async () => {
    const stopper = new AbortController();
    setTimeout(() => stopper.abort(), 300);
    const runs = await diagnosePort(await portWith(node("setInterval(() => {}, 1000)")), { signal: stopper.signal });
    expect(runs[0]?.exit).toBeNull();
    expect(runs[0]?.diagnostics[0]?.message).toContain("it was stopped");
  });

  it("of a program that is missing is refused with its name", async () => {
    await expect(only(["no-such-compiler", "--check"])).rejects.toMatchObject({
      code: "toolchain-missing",
      what: expect.stringContaining("no-such-compiler"),
      where: { key: "ladder" },
    });
  });

  it("reads by a pattern of its own", async () => {
    const check = {
      command: node('console.log("WARN m.ts@4 odd")'),
      reads: "pattern",
      pattern: "^(?<severity>WARN) (?<file>[^@]+)@(?<line>\\d+) (?<message>.*)$",
    };
    const open = await portWith(node(""));
    const [side] = open.twins;
    if (!side) throw new Error("no twin");
    const run = await runCheckCommand(open, { name: "ts", side }, check as never);
    expect(run.diagnostics).toMatchObject([{ file: "m.ts", line: 4, message: "odd", section: "g" }]);
  });

  it("is asked of a kept tool only where one can answer", async () => {
    const warm = new WarmTools();
    const [run] = await diagnosePort(await portWith(node('console.log("m.ts(2,3): error TS1: Cold.")')), { warm });
    warm.close();
    expect(run?.diagnostics).toMatchObject([{ message: "Cold." }]);
  });

  it("is asked of a kept tool that the PATH has", async () => {
    const warm = new WarmTools();
    const asked = vi.spyOn(warm, "ask");
    const open = await portWith(["mypy", "--local-partial-types", "m.py"], "mypy");
    const [side] = open.twins;
    if (!side) throw new Error("no twin");
    writeFileSync(path.join(side.folder, "m.py"), "x: int = ''\n");
    const [run] = await diagnosePort(open, { warm });
    expect(await asked.mock.results[0]?.value).toMatchObject({ exit: 1 });
    expect(run?.diagnostics).toMatchObject([{ file: "m.py", line: 1, code: "assignment" }]);
    warm.close();
  });
});

describe("what to diagnose", () => {
  it("is narrowed to a module", async () => {
    const open = await portWith(node('console.log("m.ts(2,3): error TS1: A.\\nx.ts(1,1): error TS2: B.")'));
    const [run] = await diagnosePort(open, { module: "m" });
    expect(run?.diagnostics.map(({ code }) => code)).toEqual(["TS1"]);
  });

  it("leaves out rungs of other twins", async () => {
    const open = await portWith(node(""), "tsc", {
      twins: [
        { name: "ts", root: "twin", language: "typescript" },
        { name: "js", root: "twin", language: "javascript" },
      ],
      ladder: [{ name: "typed", twin: "js", check: { command: node(""), reads: "tsc" } }],
    });
    expect((await diagnosePort(open)).map(({ side }) => side)).toEqual(["js"]);
  });

  it.each([
    [{ side: "rust" }, /no side "rust"/, /original, ts/],
    [{ rung: "strict" }, /no rung "strict"/, /typed, same/],
    [{ module: "quay" }, /no module "quay"/, /m\./],
    [{ rung: "same" }, /"same" has no check/, /Give a rung/],
  ])("%j is refused, with what there is", async (options, what, next) => {
    await expect(diagnosePort(await portWith(node("")), options)).rejects.toMatchObject({
      what: expect.stringMatching(what),
      next: expect.stringMatching(next),
    });
  });

  it("is nothing where no rung has a check", async () => {
    const open = await portWith(node(""), "tsc", { ladder: [{ name: "same", cases: "agree" }] });
    await expect(diagnosePort(open)).rejects.toMatchObject({
      what: "No rung of the ladder has a check",
      where: { file: path.basename(open.file) },
    });
  });
});
