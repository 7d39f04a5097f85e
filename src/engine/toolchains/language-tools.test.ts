import { chmodSync } from "node:fs";
import path from "node:path";
import { afterEach, describe, expect, it, vi } from "vitest";
import { findTools } from "@/engine/toolchains/language-tools";
import { temporaryFolder } from "@/testing/temporary-port";

afterEach(() => vi.unstubAllEnvs());

/** A PATH with these programs alone, each saying its version. */
function onlyPrograms(programs: Readonly<Record<string, string>>): string {
  const folder = temporaryFolder(
    Object.fromEntries(Object.entries(programs).map(([name, says]) => [name, `#!/bin/sh\necho "${says}"\n`])),
  );
  for (const name of Object.keys(programs)) chmodSync(path.join(folder, name), 0o755);
  vi.stubEnv("PATH", folder);
  return folder;
}

describe("the tools of a language", () => {
  it("are found with their version, whichever of several is there", async () => {
    const folder = onlyPrograms({ gcc: "gcc of the test 1.2", perl: "perl of the test" });
    expect(await findTools(["c", "perl"], [])).toMatchObject([
      { language: "c", program: "gcc", path: path.join(folder, "gcc"), version: "gcc of the test 1.2" },
      { language: "perl", path: path.join(folder, "perl") },
    ]);
  });

  it("are told as missing with how to get them", async () => {
    onlyPrograms({});
    const tools = await findTools(["go", "rust", "java"], []);
    expect(tools.map(({ program, path: found }) => [program, found])).toEqual([
      ["go", null],
      ["cargo", null],
      ["rustc", null],
      ["javac", null],
    ]);
    expect(tools.every(({ get }) => get.length > 5)).toBe(true);
  });

  it("are those that build files ask for too, each once", async () => {
    onlyPrograms({ make: "make of the test" });
    const tools = await findTools(["typescript", "tsx", "javascript"], ["Makefile", "sub/Makefile", "pom.xml"]);
    expect(tools.map(({ program }) => program)).toEqual(["node", "make", "mvn"]);
    expect(await findTools(["klingon"], [])).toEqual([]);
  });
});
