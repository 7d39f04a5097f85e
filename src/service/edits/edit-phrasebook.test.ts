import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { addPhrase, exceptPlace, readTrial } from "@/service/edits/edit-phrasebook";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const BOOK = `{
  // in the order of the move
  "format": "side-twin/phrasebook", "version": 1,
  "phrases": [
    { "id": "one", "kind": "name", "from": "old.quay", "to": "new.quay" }, // first
    { "id": "two", "kind": "text", "from": "a", "to": "b" }
  ]
}
`;
const PHRASE = { id: "one", kind: "name", from: "old.pier", to: "new.pier" };

const port = (files: Record<string, string> = { "phrases.json": BOOK }) =>
  temporaryFolder({
    "side-twin.json": portFile("phrases.json" in files ? { phrasebook: ["phrases.json"] } : {}),
    "original/m.py": "x = 1\n",
    "twin/m.ts": "export const x = 1;\n",
    ...files,
  });
const read = (folder: string) => readFileSync(path.join(folder, "phrases.json"), "utf8");

describe("a file of phrases", () => {
  it("keeps its comments and order when a phrase is added, under a free id", async () => {
    const folder = port();
    await addPhrase(await openPort(folder), PHRASE);
    expect(read(folder)).toContain("// in the order of the move");
    expect(read(folder)).toContain("// first");
    expect(read(folder)).toContain('"id": "one-2"');
    expect(read(folder).indexOf('"two"')).toBeLessThan(read(folder).indexOf('"one-2"'));
  });

  it("is made for a port without one, and named in the port file", async () => {
    const folder = port({});
    await addPhrase(await openPort(folder), PHRASE);
    expect((await openPort(folder)).port.phrasebook).toEqual(["phrases.json"]);
    expect(JSON.parse(read(folder))).toMatchObject({ phrases: [PHRASE] });
  });

  it("takes one exception after another", async () => {
    const folder = port();
    const wanted = { phrase: "two", file: "m.ini", text: "a", why: "read by the old program" };
    await exceptPlace(await openPort(folder), wanted);
    await exceptPlace(await openPort(folder), { ...wanted, text: "b" });
    expect(read(folder).match(/"why": "read by the old program"/g)).toHaveLength(2);
    expect(read(folder)).toContain("// first");
  });

  it("is left alone where the phrase is wrong, is not there, or a person's text does not parse", async () => {
    const folder = port();
    await expect(addPhrase(await openPort(folder), { ...PHRASE, kind: "song" })).rejects.toThrow(/kind/);
    await expect(
      exceptPlace(await openPort(folder), { phrase: "three", file: "f", text: "t", why: "w" }),
    ).rejects.toThrow(/no phrase "three"/);
    expect(read(folder)).toBe(BOOK);
    writeFileSync(path.join(folder, "phrases.json"), "{ half");
    await expect(addPhrase(await openPort(folder), PHRASE)).rejects.toThrow();
    expect(read(folder)).toBe("{ half");
  });
});

describe("a phrase that is tried", () => {
  it("has an id that no other has, and is refused where it is not sound", () => {
    expect(readTrial(PHRASE)).toMatchObject({ kind: "name", from: "old.pier" });
    expect(readTrial(PHRASE).id).not.toBe("one");
    expect(() => readTrial({ kind: "code", language: "c", from: "f((:a:))", to: "g((:b:))" })).toThrow(/b/);
  });
});
