/** Generating through the real interpreters. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { generateCases } from "@/service/exploring/generate";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const ORIGINAL = `import time


def band(metres: int, kind: str = "barge"):
    if metres < 0:
        raise ValueError("shorter than nothing")
    if kind == "tug" and metres > 40:
        return "long tug"
    return "short"


def waits(count):
    while True:
        pass


class Sluice:
    def __init__(self, gates: int):
        self.gates = gates

    def open(self, count: int):
        if count > self.gates:
            raise IndexError(count)
        self.gates -= count
        return self.gates
`;
const TWIN = `export function band(metres, kind = "barge") {
  if (metres < 0) throw new RangeError("shorter than nothing");
  if (kind === "tug" && metres > 41) return "long tug";
  return "short";
}
export class Sluice {
  constructor(gates) { this.gates = gates; }
  open(count) { if (count > this.gates) throw new RangeError(count); this.gates -= count; return this.gates; }
}
`;
const port = () =>
  temporaryFolder({
    "side-twin.json": portFile({
      twins: [{ name: "js", root: "twin", language: "javascript" }],
      cases: ["cases/*.jsonl"],
      equality: { errorKind: "relaxed" },
    }),
    "original/lock.py": ORIGINAL,
    "twin/lock.js": TWIN,
    "twin/package.json": { type: "module" },
  });
const casesIn = (folder: string) =>
  readFileSync(path.join(folder, "cases/generated.jsonl"), "utf8")
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line));

describe("generating cases", () => {
  it("reaches the branches of functions and methods with few small inputs, the same for a seed", async () => {
    const options = { calls: ["band", "Sluice"], seconds: 20 };
    const [first, second] = [port(), port()];
    const end = await generateCases(first, options);
    expect(end.lines.after).toBeGreaterThanOrEqual(end.lines.of - 2);
    expect(end.kept).toBeLessThan(9);
    const inputs = casesIn(first);
    expect(inputs).toContainEqual(expect.objectContaining({ call: "band", args: [41, "tug"], from: "generated" }));
    expect(inputs).toContainEqual(expect.objectContaining({ call: "band", args: [-1] }));
    expect(inputs.some(({ steps }) => steps?.length === 2)).toBe(true);
    await generateCases(second, options);
    expect(casesIn(second)).toEqual(inputs);
    expect(await generateCases(first, options)).toMatchObject({ kept: 0, lines: { before: end.lines.after } });
  });

  it("gives up what never ends, saying so, and names a section that is not there", async () => {
    const folder = port();
    const end = await generateCases(folder, { calls: ["waits"], seconds: 20 });
    expect(end).toMatchObject({ kept: 0 });
    expect(end.leftOut.map(({ why }) => why)).toEqual(
      expect.arrayContaining(["it takes longer than the time limit", "given up: lock.waits gives no answer"]),
    );
    await expect(generateCases(folder, { calls: ["dam"] })).rejects.toThrow(/no function or class "dam"/);
  });
});
