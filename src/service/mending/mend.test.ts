/** Mends through the real drivers: found, harmless, written with a snapshot, and none where there is none. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { mendPort } from "@/service/mending/mend";
import { undoSnapshot } from "@/service/snapshots/snapshots";
import { BERTH } from "@/testing/ported-programs/berth";
import { FERRY } from "@/testing/ported-programs/ferry";
import { programFolder } from "@/testing/ported-programs/program";
import { TIDE } from "@/testing/ported-programs/tide";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const ORIGINAL = `def toll(tons, kind="barge"):
    if tons > 40:
        return int(tons * 2.5)
    return 100


def gates(names):
    return sorted(names)


def lock(level):
    return "gate " + str(level * 7)
`;
const call = (name: string, ...args: unknown[]) => ({
  id: `${name}-${JSON.stringify(args)}`,
  module: "lock",
  call: name,
  args,
});
const CASES = [
  ...[10, 40, 40.5, 41, 42, 43, 45, 47].map((tons) => call("toll", tons)),
  call("gates", ["b", "a"]),
  call("gates", ["b", "B", "a"]),
  ...[0, 1, 2].map((level) => call("lock", level)),
];
const port = (twin: string, language = "javascript") =>
  temporaryFolder({
    "side-twin.json": portFile({ twins: [{ name: "t", root: "twin", language }], cases: ["cases/*.jsonl"] }),
    "original/lock.py": ORIGINAL,
    [language === "python" ? "twin/lock.py" : "twin/lock.js"]: twin,
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": CASES,
  });
const TWIN = `export function toll(tons, kind = "barge") {
  if (tons > 41) return Math.trunc(tons * 2.5);
  return 100;
}
export const gates = (names) => [...names].sort((a, b) => a.localeCompare(b));
export const lock = (level) => "gate " + [..."741"].at(level);
`;
const mend = (folder: string, options = {}) => mendPort(folder, { data: temporaryFolder(), seconds: 40, ...options });

describe("mending", () => {
  it("finds small changes that make a family agree and harm nothing, and says where it looked for others", async () => {
    const folder = port(TWIN);
    const { families, snapshot } = await mend(folder);
    const of = (name: string) => families.filter(({ call: section }) => section === name);
    expect(of("gates")[0]?.best).toMatchObject({ file: "lock.js", line: 5, harmed: 0, mended: 1, of: 1 });
    expect(of("gates")[0]?.best?.diff).toContain(
      "+export const gates = (names) => [...names].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));",
    );
    expect(of("gates")[0]?.places[0]).toEqual({ file: "lock.js", line: 5, score: 1 });
    expect(of("lock")[0]).toMatchObject({ best: null });
    expect(snapshot).toBeNull();
    expect(readFileSync(path.join(folder, "twin/lock.js"), "utf8")).toBe(TWIN);
  });

  it("writes mends one upon the other with a snapshot and a journal entry, which can be undone", async () => {
    const folder = port(TWIN.replace('[..."741"].at(level)', "String(level * 8)"));
    const data = temporaryFolder();
    const { families, snapshot } = await mendPort(folder, { data, seconds: 60, write: true });
    const text = readFileSync(path.join(folder, "twin/lock.js"), "utf8");
    expect(families.every(({ best }) => best !== null)).toBe(true);
    expect(text).toContain("level * 7");
    expect(text).toContain("tons > 40");
    expect((await mendPort(folder, { data })).families).toEqual([]);
    expect(readFileSync(path.join(folder, "journal.jsonl"), "utf8")).toContain('"kind":"applied"');
    await undoSnapshot(folder, data, snapshot ?? undefined);
    expect(readFileSync(path.join(folder, "twin/lock.js"), "utf8")).toContain("level * 8");
  });

  it("mends a table of another module that was read when it was loaded, once for all families", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        twins: [{ name: "t", root: "twin", language: "javascript" }],
        moduleMap: [{ original: "*.py", twin: "*.js" }],
        cases: ["cases/*.jsonl"],
      }),
      "original/units.py": `FACTORS = {"ell": 1.143, "m": 1}\n\n\ndef metres(n, unit):\n    return n * FACTORS[unit]\n`,
      "original/rope.py":
        "from units import metres\n\n\ndef lengths(all, unit):\n    return [metres(n, unit) for n in all]\n",
      "twin/units.js": `const FACTORS = { ell: 1.14, m: 1 };\nexport const metres = (n, unit) => n * FACTORS[unit];\n`,
      "twin/rope.js": `import { metres } from "./units.js";\nexport const lengths = (all, unit) => all.map((n) => metres(n, unit));\n`,
      "twin/package.json": { type: "module" },
      "cases/c.jsonl": [
        { id: "r", module: "rope", call: "lengths", args: [[1, 2], "ell"] },
        { id: "u", module: "units", call: "metres", args: [3, "ell"] },
        { id: "m", module: "units", call: "metres", args: [3, "m"] },
      ],
    });
    const both = { file: "units.js", line: 1, what: "1.14 becomes 1.143", mended: 2, of: 2 };
    expect((await mend(folder)).families.map(({ best }) => best)).toMatchObject([both]);
    const { families, changes } = await mend(folder, { write: true });
    expect(families.map(({ best }) => best)).toMatchObject([both]);
    expect(changes.filter((change) => change !== null)).toHaveLength(1);
    expect(readFileSync(path.join(folder, "twin/units.js"), "utf8")).toContain("ell: 1.143,");
    expect(readFileSync(path.join(folder, "journal.jsonl"), "utf8").trim().split("\n")).toHaveLength(1);
  });

  it("mends a twin in Python", async () => {
    const folder = port(ORIGINAL.replace("level * 7", "level * 5"), "python");
    const { families } = await mend(folder);
    expect(families.map(({ best }) => best?.diff.match(/^\+ .*$/m)?.[0].trim()).sort()).toEqual([
      '+    return "gate " + str(level * 7)',
    ]);
  });

  it("names a family that is not there, and has none where all agree", async () => {
    const folder = port(ORIGINAL, "python");
    expect((await mend(folder)).families).toEqual([]);
    await expect(mend(folder, { family: "f9" })).rejects.toThrow(/no family "f9"/);
  });

  it("mends program runs by the call inside them where the sides part", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        original: { root: "original", language: "python", run: ["python3", "main.py"] },
        twins: [{ name: "t", root: "twin", language: "javascript", run: ["node", "main.js"] }],
        cases: ["cases/*.jsonl"],
      }),
      "original/lock.py": "def fall(depth):\n    return depth * 3 // 2\n",
      "original/main.py": "import sys\nimport lock\n\nprint('fall', lock.fall(int(sys.argv[1])))\n",
      "twin/lock.js": "export const fall = (depth) => Math.floor(depth * 3 / 4);\n",
      "twin/main.js": "import { fall } from './lock.js';\nconsole.log('fall', fall(Number(process.argv[2])));\n",
      "twin/package.json": { type: "module" },
      "cases/c.jsonl": ["5", "9"].map((depth) => ({ id: `run-${depth}`, module: "main", run: { argv: [depth] } })),
    });
    const { families } = await mend(folder);
    expect(families).toMatchObject([
      { call: "run", cases: ["run-5", "run-9"], best: { file: "lock.js", line: 1, mended: 2, of: 2, harmed: 0 } },
    ]);
  });

  it("puts a branch that the twin lacks into it, said in the twin's language", async () => {
    const call = (id: string, ...args: unknown[]) => ({ id, module: "signals", call: "signal_for", args });
    const folder = temporaryFolder({
      "side-twin.json": portFile({
        twins: [{ name: "t", root: "twin", language: "javascript" }],
        names: { functions: "snake-to-camel" },
      }),
      "original/signals.py":
        "def signal_for(wind, fog):\n    if fog:\n        return 'horn'\n    if wind > 8:\n        return 'cone'\n    return 'none'\n",
      "twin/signals.mjs": "export const signalFor = (wind, fog) => (wind > 8 ? 'cone' : 'none');\n",
      "cases/c.jsonl": [call("a", 3, true), call("b", 9, true), call("c", 9, false), call("d", 2, false)],
    });
    const { families } = await mend(folder);
    expect(families).toMatchObject([{ cause: "not-ported-branch", best: { mended: 2, of: 2, harmed: 0 } }]);
    expect(families[0]?.best?.diff).toMatch(/\+.*if \(.*fog.*\) \{\n\+\s+return "horn"/);
  });
});

describe("mending programs of several functions", () => {
  it.each([
    ["tide", TIDE, 5],
    ["ferry", FERRY, 9],
    ["berth", BERTH, 7],
  ])("finds changes for the faults of %s", async (_name, program, least) => {
    const { families } = await mend(programFolder(program), { seconds: 100 });
    const mended = families.filter(({ best }) => best !== null);
    const shown = families.map(({ call, cause, best }) => `${call} ${cause}: ${best?.what}`).join("\n");
    expect(mended.length, shown).toBeGreaterThanOrEqual(least);
    // Each makes at least one of the family's cases agree, and none that agreed differ.
    expect(mended.filter(({ best }) => best?.harmed !== 0 || best.mended === 0 || best.mended > best.of)).toEqual([]);
    // The inner call that is tried in their place is not counted with them.
    expect(families.filter(({ cases, best }) => best !== null && best.of > cases.length)).toEqual([]);
  });
});
