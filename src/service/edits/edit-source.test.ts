import { chmodSync, readFileSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { stubOf } from "@/core/pairing/stub";
import { readSource, saveSource } from "@/service/edits/edit-source";
import { openPort } from "@/service/port/open-port";
import { undoSnapshot } from "@/service/snapshots/snapshots";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const port = (twin: string | Uint8Array) =>
  temporaryFolder({ "side-twin.json": portFile(), "original/m.py": "x = 1\n", "twin/m.ts": twin });
const bytes = (folder: string) => readFileSync(path.join(folder, "twin/m.ts"), "latin1");
const edit = async (folder: string, from: number, to: number, text: string) => {
  const open = await openPort(folder);
  const { hash } = await readSource(open, "ts", "m.ts");
  return { open, edit: { twin: "ts", file: "m.ts", from, to, text, hash }, data: temporaryFolder() };
};

describe("lines of a twin", () => {
  it.each([
    ["one\ntwo\nthree\n", 2, 2, "TWO\nmore\n", "one\nTWO\nmore\nthree\n"],
    ["one\r\ntwo\r\nthree", 2, 3, "x\ny", "one\r\nx\r\ny"],
    ["one\ntwo\n", 3, 2, "three\n", "one\ntwo\nthree\n"],
    ["one\ntwo\n", 1, 1, "", "two\n"],
  ])("are changed in %j, and the rest stays to the byte", async (before, from, to, text, after) => {
    const folder = port(before);
    const { open, edit: wanted, data } = await edit(folder, from, to, text);
    expect(await saveSource(open, wanted, data)).toMatchObject({ state: "saved" });
    expect(bytes(folder)).toBe(after);
    await undoSnapshot(folder, data);
    expect(bytes(folder)).toBe(before);
  });

  it("keep the mode, and an encoding that is not UTF-8", async () => {
    const folder = port(Buffer.from("// \xe9\nold\n", "latin1"));
    chmodSync(path.join(folder, "twin/m.ts"), 0o755);
    const { open, edit: wanted, data } = await edit(folder, 2, 2, "né\n");
    await saveSource(open, wanted, data);
    expect(bytes(folder)).toBe("// \xe9\nn\xe9\n");
    expect(statSync(path.join(folder, "twin/m.ts")).mode & 0o777).toBe(0o755);
    const second = await edit(folder, 2, 2, "→\n");
    await expect(saveSource(second.open, second.edit, data)).rejects.toThrow(/cannot hold/);
  });

  it("are not written over what somebody else saved meanwhile", async () => {
    const folder = port("one\ntwo\n");
    const { open, edit: wanted, data } = await edit(folder, 1, 1, "mine\n");
    writeFileSync(path.join(folder, "twin/m.ts"), "theirs\ntwo\n");
    expect(await saveSource(open, wanted, data)).toMatchObject({ state: "changed", now: { text: "theirs\ntwo\n" } });
    expect(bytes(folder)).toBe("theirs\ntwo\n");
  });

  it("are of the twin's own files alone, and within them", async () => {
    const folder = port("one\n");
    const { open, edit: wanted, data } = await edit(folder, 9, 9, "x");
    await expect(saveSource(open, wanted, data)).rejects.toThrow(/has 2 lines/);
    await expect(readSource(open, "ts", "../side-twin.json")).rejects.toThrow(/no file of the twin/);
  });
});

describe("the beginning of a section", () => {
  it("is in the twin's language and spelling", () => {
    const names = { functions: "snake-to-camel", keys: "same", keep: [] } as never;
    const section = { name: "fare_for", params: ["*kinds", "day_of"] };
    expect(stubOf(section, "typescript", names)).toContain("export function fareFor(kinds: unknown, dayOf: unknown) {");
    expect(stubOf(section, "python", names)).toContain("def fareFor(kinds, dayOf):");
    expect(stubOf({ ...section, name: "Fare.for" }, "typescript", names)).toBe("");
    expect(stubOf(section, "cobol", names)).toBe("");
  });
});
