import { describe, expect, it } from "vitest";
import { SideTwinError } from "@/core/errors";
import { parsePortFile } from "@/core/formats/port-file";
import { portFile } from "@/testing/temporary-port";

const parse = (value: unknown) =>
  parsePortFile(typeof value === "string" ? value : JSON.stringify(value, null, 2), "side-twin.json");

function refusal(value: unknown): SideTwinError {
  try {
    parse(value);
  } catch (error) {
    if (error instanceof SideTwinError) return error;
    throw error;
  }
  throw new Error("it was read");
}

describe("a port file", () => {
  it("gets its defaults", () => {
    expect(parse(portFile())).toMatchObject({
      modules: [],
      names: { functions: "same", keys: "same", keep: [] },
      cases: ["cases/*.jsonl"],
      limits: { timeMs: 10_000, memoryMb: 1024, outputKb: 8192 },
      state: "fresh",
    });
  });

  it("keeps what it says of limits, and takes the rest by default", () => {
    expect(parse(portFile({ limits: { timeMs: 5 } })).limits).toMatchObject({ timeMs: 5, outputKb: 8192 });
  });

  it("is read with a byte order mark", () => {
    expect(parse(`\uFEFF${JSON.stringify(portFile())}`).name).toBe("A port");
  });

  it.each<[string, unknown, RegExp]>([
    [
      "an unknown key",
      portFile({ twinz: [] }),
      /Unknown key "twinz" in side-twin\.json, line 16, column \d+, key twinz\. Rename or remove it/,
    ],
    [
      "an unknown key inside",
      portFile({ original: { root: "o", language: "python", roots: 1 } }),
      /Unknown key "roots".*key original\.roots/,
    ],
    ["a missing key", { ...portFile(), name: undefined }, /"name" is missing in side-twin\.json/],
    ["a wrong type", portFile({ limits: { timeMs: "fast" } }), /key limits\.timeMs/],
    ["a newer version", portFile({ version: 2 }), /Version 2 of side-twin\/port is newer .* Update Side Twin/],
    ["an empty file", "  \n", /The file is empty in side-twin\.json/],
    [
      "half a file",
      '{"format": "side-twin/port",\n "version": ',
      /Not JSON: Value expected in side-twin\.json, line 2/,
    ],
    ["a comment", '{\n // hello\n "format": 1}', /Not JSON: .*line 2/],
    ["one key twice", '{"name": "a",\n "name": "b"}', /The key "name" is given twice in side-twin\.json, line 2/],
    [
      "two twins of one name",
      portFile({
        twins: [
          { name: "a", root: "x", language: "python" },
          { name: "a", root: "y", language: "python" },
        ],
      }),
      /Two twins are named "a".*twins\.1\.name/,
    ],
    [
      "files for an unknown twin",
      portFile({ modules: [{ name: "m", original: [], twins: { js: [] } }] }),
      /no twin "js" \(known: ts\)/,
    ],
    [
      "an allowance without a reason",
      portFile({ allowances: [{ id: "a", where: {}, allow: { ignore: true }, reason: " " }] }),
      /needs a reason.*allowances\.0\.reason/,
    ],
    [
      "an allowance that allows nothing",
      portFile({ allowances: [{ id: "a", allow: {}, reason: "r" }] }),
      /must allow something/,
    ],
  ])("with %s is refused", (_what, value, message) => {
    expect(refusal(value).message).toMatch(message);
  });
});
