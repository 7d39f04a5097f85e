/** Proposed ladders: each is read by the port file's schema, and its checks by a reader that there is. */
import { describe, expect, it } from "vitest";
import { PLANNED_LANGUAGES } from "@/core/bring-in/draft";
import { proposeLadder } from "@/core/bring-in/ladders";
import { parsePortFile } from "@/core/formats/port-file";

const port = (ladder: unknown, language: string) =>
  parsePortFile(
    JSON.stringify({
      format: "side-twin/port",
      version: 1,
      name: "Quays",
      original: { root: "original", language: "python" },
      twins: [{ name: "twin", root: "twin", language }],
      ladder,
    }),
    "side-twin.json",
  );

describe("a proposed ladder", () => {
  it.each(PLANNED_LANGUAGES)("can be in a port file: %s", (language) => {
    const { rungs } = proposeLadder(language, () => true);
    expect(port(rungs, language).ladder).toHaveLength(rungs.length);
    // The cases are the last word.
    if (rungs.length > 0) expect(rungs.map(({ cases }) => cases ?? null).filter(Boolean)).toEqual(["agree"]);
  });

  it("has three configurations for TypeScript, each stricter, and names those it writes", () => {
    const { rungs, files } = proposeLadder("typescript", () => false);
    expect(rungs.map(({ name }) => name)).toEqual(["runs", "typed", "strict"]);
    for (const [index, { name, text }] of files.entries()) {
      expect(rungs[index]?.check?.command).toContain(name);
      expect(JSON.parse(text).compilerOptions.noEmit).toBe(true);
    }
    expect(JSON.parse(files[2]?.text ?? "").compilerOptions.strict).toBe(true);
  });

  it("has a type checker for Python only where one is installed", () => {
    expect(proposeLadder("python", () => false).rungs.map(({ name }) => name)).toEqual(["runs"]);
    expect(proposeLadder("python", (program) => program === "mypy").rungs).toHaveLength(3);
  });
});
