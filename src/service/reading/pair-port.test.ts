import { describe, expect, it } from "vitest";
import { pairPort } from "@/service/reading/pair-port";
import { SMALL_PORTS } from "@/testing/small-ports";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

describe("a port", () => {
  it.each(SMALL_PORTS.map((port) => [port.title, port] as const))("of %s is paired as it is", async (_title, port) => {
    const folder = temporaryFolder({
      ...port.files,
      "side-twin.json": portFile({
        original: { root: "original", language: port.original },
        twins: [{ name: "it", root: "twin", language: port.twin }],
      }),
    });
    const { modules } = await pairPort(folder);
    expect(Object.fromEntries(modules.map(({ name, twin }) => [name, twin]))).toEqual(port.modules);
    const pairs = modules.flatMap(({ sections }) => sections.map((pair) => `${pair.original} ${pair.twin}`));
    expect(pairs.sort()).toEqual([...port.sections].sort());
    expect(modules.flatMap(({ sections }) => sections).every(({ reasons }) => reasons.length > 0)).toBe(true);
  });

  it("tells which sections went to a file of another module, and pairs the tests that come with it", async () => {
    const folder = temporaryFolder({
      "side-twin.json": portFile(),
      "original/fares.py": "def fare(n):\n    return n\n\ndef round_to_pence(n):\n    return round(n, 2)\n",
      "original/money.py": "def total(n):\n    return n\n",
      "original/test_fares.py": "def test_fare():\n    pass\n",
      "twin/fares.ts": "export const fare = (n: number) => n;\n",
      "twin/money.ts":
        "export const total = (n: number) => n;\nexport function roundToPence(n: number) {\n  return Math.round(n * 100) / 100;\n}\n",
    });
    const { modules } = await pairPort(folder);
    expect(modules.map(({ name }) => name)).toEqual(["fares", "money", "test_fares"]);
    expect(modules[0]?.sections.find(({ relation }) => relation === "moved")).toMatchObject({
      original: "round_to_pence",
      twin: "roundToPence",
      twinFile: "money.ts",
    });
  });
});
