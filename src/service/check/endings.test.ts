/** How a check ends that cannot compare anything, or not everything. */
import { execFile } from "node:child_process";
import path from "node:path";
import { describe, expect, it } from "vitest";
import type { Answer } from "@/core/compare/answer";
import { parseCaseLines } from "@/core/formats/case-line";
import { parsePortFile } from "@/core/formats/port-file";
import { packageRoot } from "@/engine/package-root";
import { runCheckOfFile } from "@/service/check/run-check";
import { judge } from "@/service/check/verdict";
import { portFile, temporaryFolder, temporaryPort } from "@/testing/temporary-port";

const CALL = { id: "a", module: "m", call: "f", args: [1] };
const RUN = { id: "r", run: {} };
const ORIGINAL = "def f(n):\n    return n\n\nif __name__ == '__main__':\n    print('done')\n";
const TWIN = "export const f = (n: number) => n;\n";
const home = temporaryFolder();

const statusOf = (...args: string[]): Promise<{ code: number; stderr: string }> =>
  new Promise((resolve) => {
    const program = path.join(packageRoot(), "bin/side-twin.mjs");
    execFile(
      process.execPath,
      [program, ...args],
      { env: { ...process.env, HOME: home }, timeout: 60_000 },
      (error, _out, stderr) => resolve({ code: typeof error?.code === "number" ? error.code : error ? -1 : 0, stderr }),
    );
  });

const withTwin = (twin: object, cases: readonly object[] = [CALL]) =>
  temporaryPort({ original: ORIGINAL, twin: TWIN, cases, port: { twins: [{ name: "t", root: "twin", ...twin }] } });

describe("a check in which nothing can be compared", () => {
  it.each([
    ["a language without a driver", { language: "csharp" }, 'no driver that calls "csharp" code'],
    ["a language that is misspelt", { language: "javscript" }, 'no driver that calls "javscript" code'],
  ])("ends at once with status 2: %s", async (_what, twin, words) => {
    const { code, stderr } = await statusOf("check", withTwin(twin));
    expect(code).toBe(2);
    expect(stderr).toContain(words);
  });

  it("ends with status 2: no cases", async () => {
    const { code, stderr } = await statusOf("check", withTwin({ language: "typescript" }, []));
    expect([code, stderr]).toEqual([
      2,
      expect.stringContaining("There are no shared cases in side-twin.json, key cases"),
    ]);
  });

  it("ends with status 2: all cases wait for the twin", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile(),
      "original/m.py": ORIGINAL,
      "cases/c.jsonl": [CALL],
    });
    const { code, stderr } = await statusOf("check", folder);
    expect([code, stderr]).toEqual([2, expect.stringContaining("nothing was compared")]);
  });

  it.each([
    ["--junit", "/nonexistent/x.xml"],
    ["--sarif", "/"],
    ["--lcov", ""],
    ["--data", "/proc/x"],
    ["--data", "/etc/passwd"],
  ])("says in one line what cannot be written: %s %s", async (...given) => {
    const { code, stderr } = await statusOf("check", withTwin({ language: "typescript" }), ...given);
    expect(code).toBe(2);
    expect(stderr.trim().split("\n")).toHaveLength(1);
    expect(stderr).not.toMatch(/ENOENT|EISDIR|at file:/);
  });
});

describe("a check of which a part can be compared", () => {
  it("has broken calls where a language has no driver, and compares the program runs", async () => {
    const run = ["python3", "m.py"];
    const folder = temporaryPort({
      original: ORIGINAL,
      twin: TWIN,
      cases: [CALL, RUN],
      port: {
        original: { root: "original", language: "python", run },
        twins: [{ name: "sh", root: "twin", language: "bash", run: ["sh", "-c", "echo done"] }],
      },
    });
    const { report } = await runCheckOfFile(folder, {});
    const found = Object.fromEntries(report.cases.map(({ id, outcome, why }) => [id, [outcome, why]]));
    expect(found.r?.[0]).toBe("agree");
    expect(found.a).toEqual(["broken", expect.stringContaining('no driver that calls "bash" code')]);
  });

  it("has the cases of a twin broken that cannot be prepared, and checks the other twin", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        twins: [
          {
            name: "bad",
            root: "bad",
            language: "typescript",
            prepare: [["node", "-e", "console.log('no luck'); process.exit(1)"]],
          },
          { name: "good", root: "good", language: "typescript" },
        ],
      }),
      "original/m.py": ORIGINAL,
      "bad/m.ts": TWIN,
      "good/m.ts": TWIN,
      "cases/c.jsonl": [CALL],
    });
    const { report } = await runCheckOfFile(folder, {});
    expect(report.cases.map(({ twin, outcome, why }) => [twin, outcome, why])).toEqual([
      ["bad", "broken", expect.stringContaining("no luck")],
      ["good", "agree", undefined],
    ]);
  });
});

describe("an answer that is no value notation", () => {
  const port = parsePortFile(JSON.stringify(portFile()), "side-twin.json");
  const [item] = parseCaseLines(JSON.stringify(CALL), "c.jsonl");
  const twin = { twin: "ts", names: port.names, hookups: [], modules: ["m"] };
  const answer = (value: unknown) => ({
    result: { kind: "call", value, args: [], kwargs: {}, printed: "" } as Answer,
    ms: 1,
  }); // malformed on purpose
  const verdict = (original: unknown, other: unknown) => {
    if (!item) throw new Error("no case");
    return judge(item, answer(original), answer(other), { port, twin: twin as never }).verdict; // a twin without hookups
  };

  it.each([
    ["twin", 1, { "~ref": "x" }],
    ["original", { "~ref": "x" }, 1],
    ["both", { "~ref": "x" }, [{ "~ref": "y" }]],
  ])("makes the case broken on its side: %s", (side, original, other) => {
    expect(verdict(original, other)).toMatchObject({
      outcome: "broken",
      side,
      why: expect.stringContaining("cannot be read"),
    });
  });
});
