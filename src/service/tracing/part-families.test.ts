/** A check that splits its families by where the two sides part inside, with real interpreters. */
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { partFamilies } from "@/service/tracing/part-families";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

/** One print of three numbers; two functions behind it are wrong in unlike ways, a third is right. */
const port = () =>
  temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language: "python", run: ["python3", "main.py"] },
      twins: [{ name: "js", root: "twin", language: "javascript", run: ["node", "main.js"] }],
      names: { functions: "snake-to-camel" },
      cases: ["cases/*.jsonl"],
    }),
    "original/sluice.py": `def gate_steps(level):
    return level // 4

def label(text):
    return text.strip().upper()

def report(level, text):
    return f"{label(text)}: {gate_steps(level)}"
`,
    "original/main.py": "import sys\nimport sluice\n\nprint(sluice.report(int(sys.argv[1]), sys.argv[2]))\n",
    "twin/sluice.js": `export const gateSteps = (level) => Math.trunc(level / 4);
export const label = (text) => text.trim();
export const report = (level, text) => \`\${label(text)}: \${gateSteps(level)}\`;
`,
    "twin/main.js":
      "import { report } from './sluice.js';\nconsole.log(report(Number(process.argv[2]), process.argv[3]));\n",
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": [
      { id: "low-1", module: "main", run: { argv: ["-7", "A"] } },
      { id: "low-2", module: "main", run: { argv: ["-13", "B"] } },
      { id: "name-1", module: "main", run: { argv: ["8", "north"] } },
      { id: "fine", module: "main", run: { argv: ["8", "N"] } },
      { id: "deep", module: "sluice", call: "report", args: [-5, "C"] },
      { id: "flat", module: "sluice", call: "gate_steps", args: [-5] },
    ],
  });

describe("a check with parted families", () => {
  it("names the section and gives a small case that shows the fault by itself", async () => {
    const { report } = await runCheckOfFile(port(), { part: partFamilies });
    const inner = report.families.map(({ cases, call, inner }) => [call, cases, inner?.section, inner?.shared]);
    // Runs, calls around it and its own cases that show one fault are one family.
    expect(inner.map(([call, cases, ...rest]) => [call, [...(cases as string[])].sort(), ...rest])).toEqual([
      ["gate_steps", ["deep", "flat", "low-1", "low-2"], "sluice.gate_steps", 3],
      // All of one section: it stays a family of that.
      ["run", ["name-1"], "sluice.label", 1],
    ]);
    const [steps] = report.families.filter(({ inner }) => inner?.section === "sluice.gate_steps");
    expect(steps?.inner?.case).toMatchObject({ module: "sluice", call: "gate_steps", args: [-1], from: "recorded" });
    expect(steps?.suspects[0]?.cause).toBe("floor-or-truncate");
  });

  it("leaves the families as they are without it", async () => {
    const { report } = await runCheckOfFile(port(), {});
    expect(report.families.every(({ inner }) => inner === undefined)).toBe(true);
  });
});
