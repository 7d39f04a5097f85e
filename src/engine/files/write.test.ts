import { chmodSync, lstatSync, readdirSync, readFileSync, statSync, symlinkSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { editFile, removeLeftParts, writeAtomically } from "@/engine/files/write";
import { temporaryFolder } from "@/testing/temporary-port";

const read = (file: string) => readFileSync(file, "utf8");

describe("editing a file", () => {
  it("loses none of the edits that come at the same time", async () => {
    const file = path.join(temporaryFolder({ "a.txt": "" }), "a.txt");
    const edits = Array.from({ length: 50 }, (_, index) => editFile(file, (before) => `${before}${index};`));
    await Promise.all(edits);
    expect(read(file)).toBe(Array.from({ length: 50 }, (_, index) => `${index};`).join(""));
  });

  it("goes on after an edit that was refused", async () => {
    const file = path.join(temporaryFolder({ "a.txt": "x" }), "a.txt");
    const refused = editFile(file, () => {
      throw new Error("no");
    });
    const edited = editFile(file, (before) => `${before}y`);
    await expect(refused).rejects.toThrow("no");
    await edited;
    expect(read(file)).toBe("xy");
  });

  it("reads again what another program saved before the new text was in place", async () => {
    const file = path.join(temporaryFolder({ "a.txt": "old" }), "a.txt");
    let calls = 0;
    await editFile(file, (before) => {
      if (calls++ < 3) writeFileSync(file, `theirs ${calls}`);
      return `${before} and ours`;
    });
    expect(read(file)).toBe("theirs 3 and ours");
  });

  it("waits out half a file that another program is writing", async () => {
    const file = path.join(temporaryFolder({ "a.json": '{"a":' }), "a.json");
    let calls = 0;
    await editFile(file, (before) => {
      if (calls++ === 0) writeFileSync(file, '{"a":1}');
      return JSON.stringify({ ...JSON.parse(before ?? ""), b: 2 });
    });
    expect(read(file)).toBe('{"a":1,"b":2}');
  });

  it("gives up on a file that never stays the same, and leaves theirs", async () => {
    const file = path.join(temporaryFolder({ "a.txt": "" }), "a.txt");
    let saves = 0;
    const edit = editFile(file, () => {
      writeFileSync(file, `save ${saves++}`);
      return "ours";
    });
    await expect(edit).rejects.toMatchObject({ code: "not-writable" });
    expect(read(file)).toBe(`save ${saves - 1}`);
  });

  it("keeps the mode, follows a link, and leaves nothing beside the file", async () => {
    const folder = temporaryFolder({ "a.txt": "x" });
    const file = path.join(folder, "a.txt");
    chmodSync(file, 0o600);
    symlinkSync("a.txt", path.join(folder, "link.txt"));
    await editFile(path.join(folder, "link.txt"), () => "y");
    expect([read(file), statSync(file).mode & 0o777]).toEqual(["y", 0o600]);
    expect(lstatSync(path.join(folder, "link.txt")).isSymbolicLink()).toBe(true);
    expect(readdirSync(folder).sort()).toEqual(["a.txt", "link.txt"]);
  });

  it("refuses bytes that are no UTF-8 instead of replacing them", async () => {
    const file = path.join(temporaryFolder({ "a.txt": "" }), "a.txt");
    writeFileSync(file, Buffer.from([0x61, 0xff]));
    await expect(editFile(file, (before) => `${before}b`)).rejects.toMatchObject({ code: "bad-input" });
    expect([...readFileSync(file)]).toEqual([0x61, 0xff]);
  });

  it("names the file and the reason where it cannot be written", async () => {
    const folder = temporaryFolder({ "there/x": "", taken: "" });
    await expect(writeAtomically(path.join(folder, "there"), "x")).rejects.toMatchObject({
      code: "not-readable",
      what: "there cannot be read: it is a folder",
    });
    await expect(writeAtomically(path.join(folder, "taken/x.txt"), "x")).rejects.toMatchObject({
      what: expect.stringContaining("x.txt cannot be"),
    });
  });
});

describe("temporary files left by a killed process", () => {
  it("are removed, those of a running one and other files stay", () => {
    const names = ["p.json.4999999.part", "p.json.4999999.0123456789ab.part", `p.json.${process.ppid}.part`, "my.part"];
    const folder = temporaryFolder(Object.fromEntries(names.map((name) => [name, ""])));
    removeLeftParts(folder);
    expect(readdirSync(folder).sort()).toEqual(["my.part", `p.json.${process.ppid}.part`].sort());
  });
});
