/** Traces through the real interpreters, of calls and of programs. */
import { describe, expect, it } from "vitest";
import { traceCase } from "@/service/tracing/trace";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const port = () =>
  temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: "python", run: ["python3", "main.py"] },
      twins: [
        {
          name: "js",
          root: "twin",
          language: "javascript",
          prepare: [
            ["esbuild", "main.js", "--bundle", "--platform=node", "--outfile=build/main.cjs", "--log-level=warning"],
          ],
          run: ["node", "build/main.cjs"],
          ignore: ["build/**"],
        },
      ],
      names: { functions: "snake-to-camel" },
      cases: ["cases/*.jsonl"],
    }),
    "original/tide.py":
      "def whole_hours(minutes):\n    return minutes // 60\n\n\ndef high_water(minutes):\n    return whole_hours(minutes) + 6\n",
    "original/main.py":
      "import sys\nimport tide\n\n\ndef show(text):\n    print(tide.high_water(int(text)))\n\n\nif __name__ == '__main__':\n    show(sys.argv[1])\n",
    "twin/tide.js":
      "export const wholeHours = (minutes) => Math.trunc(minutes / 60);\nexport function highWater(minutes) {\n  return wholeHours(minutes) + 6;\n}\n",
    "twin/main.js":
      "import { highWater } from './tide.js';\nexport function show(text) {\n  console.log(highWater(Number(text)));\n}\nif (process.argv[2] !== undefined) show(process.argv[2]);\n",
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": [
      { id: "call", module: "tide", call: "high_water", args: [-90] },
      { id: "fine", module: "tide", call: "high_water", args: [90] },
      { id: "run", module: "main", run: { argv: ["-90"] } },
    ],
  });
const inner = {
  section: "tide.whole_hours",
  why: "same arguments, other answer",
  case: { module: "tide", call: "whole_hours", args: [-90], from: "recorded" },
  divergences: [{ at: "value", original: -2, twin: -1 }],
};

describe("tracing a case", () => {
  it("finds the innermost call at which two calls part, with a case that shows it", async () => {
    const end = await traceCase(port(), { caseId: "call" });
    expect(end.calls).toMatchObject([
      { section: "tide.high_water", depth: 0, state: "differs", args: [-90], original: 4, twin: 5, line: 5 },
      { section: "tide.whole_hours", depth: 1, state: "differs", original: -2, twin: -1 },
    ]);
    expect(end.inner).toMatchObject(inner);
  });

  it("does so for programs, also where they are built of their sources", async () => {
    const end = await traceCase(port(), { caseId: "run" });
    expect(end.calls.map(({ section, state }) => `${section} ${state}`)).toEqual([
      "main.show same",
      "tide.high_water differs",
      "tide.whole_hours differs",
    ]);
    expect(end.inner).toMatchObject(inner);
  });

  it("finds nothing where all calls agree, and names a case that is not there", async () => {
    const folder = port();
    expect((await traceCase(folder, { caseId: "fine" })).inner).toBeNull();
    await expect(traceCase(folder, { caseId: "gone" })).rejects.toThrow(/no case "gone"/);
  });
});
