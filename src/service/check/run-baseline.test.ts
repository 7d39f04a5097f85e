import { describe, expect, it } from "vitest";
import { type BaselineOptions, runBaseline } from "@/service/check/run-baseline";
import { openPort, readCases } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const MODULE = [
  "import time, sys",
  "def double(n):",
  "    print('doubling')",
  "    return 2 * n",
  "def now(n):",
  "    return time.localtime().tm_year * 13 + time.localtime().tm_mon",
  "def order(n):",
  "    return ' '.join({'tern', 'gull', 'heron', 'coot', 'rail', 'knot'})",
  "def fail(n):",
  "    raise ValueError(n)",
  "def leave(n):",
  "    import os",
  "    os._exit(3)",
].join("\n");

async function baseline(files: Readonly<Record<string, unknown>>, options: Partial<BaselineOptions> = {}) {
  const open = await openPort(temporaryFolder(files));
  return runBaseline(open, await readCases(open), {
    jobs: 2,
    signal: new AbortController().signal,
    answersFolder: null,
    ...options,
  });
}

const call = (name: string) => ({ id: name, module: "m", call: name, args: [1] });

describe("the original, run by itself", () => {
  it("shows what answers, throws, breaks, and does not agree with itself", async () => {
    const phases = new Set<string>();
    const seen = await baseline(
      {
        "side-twin.json": portFile(),
        "original/m.py": MODULE,
        "cases/m.jsonl": ["double", "now", "order", "fail", "leave"].map(call),
      },
      { onProgress: ({ phase }) => phases.add(phase) },
    );
    expect(seen).toMatchObject({ state: "complete", cases: 5, answered: 4, threw: 1, brokenCount: 1, isPlain: false });
    expect(seen.broken[0]).toMatchObject({ id: "leave" });
    expect(seen.unsteady.map(({ id }) => id).sort()).toEqual(["now", "order"]);
    expect(seen.unsteady.every(({ first, second }) => first !== second)).toBe(true);
    expect(seen.printed).toEqual([{ id: "double", text: "doubling\n" }]);
    expect(seen.toolchain?.version).toMatch(/^3\./);
    expect([...phases]).toEqual(["prepare", "run", "again"]);
  });

  it("is built and started plain where there is no case yet", async () => {
    const seen = await baseline({
      "side-twin.json": portFile({
        original: {
          root: "original",
          language: "python",
          prepare: [["python3", "-c", "print('built')"]],
          run: ["python3", "m.py"],
        },
      }),
      "original/m.py": "import sys\nprint('high water at 6')\nprint('no tide', file=sys.stderr)\nsys.exit(4)\n",
    });
    expect(seen).toMatchObject({ state: "complete", isPlain: true, cases: 1, answered: 1, unsteadyCount: 0 });
    expect(seen.runs).toMatchObject([{ exit: 4, stdout: "high water at 6\n", stderr: "no tide\n" }]);
    expect(seen.prepared).toMatchObject([{ printed: "built" }]);
  });

  it("is run twice in any language, also where nothing can move its clock", async () => {
    const original = { root: "original", language: "bash", run: ["sh", "m.sh"] };
    const program = (text: string) => baseline({ "side-twin.json": portFile({ original }), "original/m.sh": text });
    expect(await program("echo high water at 6\n")).toMatchObject({ state: "complete", answered: 1, unsteadyCount: 0 });
    expect(await program("echo $TZ\n")).toMatchObject({ unsteadyCount: 1 });
  });

  it("says what keeps it from being built, and that there is nothing to start", async () => {
    const original = {
      root: "original",
      language: "python",
      prepare: [["python3", "-c", "raise SystemExit('no board')"]],
    };
    const failed = await baseline({ "side-twin.json": portFile({ original }), "original/m.py": "" });
    expect(failed).toMatchObject({ state: "failed", problem: { code: "prepare-failed" } });
    expect(failed.problem?.what).toContain("no board");
    const nothing = await baseline({ "side-twin.json": portFile(), "original/m.py": "" });
    expect(nothing).toMatchObject({ state: "complete", cases: 0, answered: 0 });
  });

  it("ends when it is stopped", async () => {
    const stopper = new AbortController();
    const seen = await baseline(
      {
        "side-twin.json": portFile(),
        "original/m.py": "import time\ndef wait(n):\n    time.sleep(60)\n",
        "cases/m.jsonl": [call("wait")],
      },
      { signal: stopper.signal, onProgress: ({ phase }) => phase === "run" && stopper.abort() },
    );
    expect(seen).toMatchObject({ state: "stopped", answered: 0 });
  });
});
