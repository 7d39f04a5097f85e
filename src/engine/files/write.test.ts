import { execFileSync } from "node:child_process";
import { chmodSync, lstatSync, readdirSync, readFileSync, statSync, symlinkSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { readParsed } from "@/engine/files/text";
import { editFile, removeLeftParts, writeAtomically } from "@/engine/files/write";
import { packageRoot } from "@/engine/package-root";
import { temporaryFolder } from "@/testing/temporary-port";

const EDIT = `
  import { writeAtomically } from "${path.join(packageRoot(), "src/engine/files/write.ts")}";
  writeAtomically(process.argv[2], "x".repeat(50_000)).catch((error) => console.log(error.message));
`;
const read = (file: string) => readFileSync(file, "utf8");

describe("reading a file that is parsed", () => {
  it("waits out half a file that another program is writing, and refuses what stays", async () => {
    const file = path.join(temporaryFolder({ "a.json": "" }), "a.json");
    setTimeout(() => writeFileSync(file, '{"a":'), 30);
    setTimeout(() => writeFileSync(file, '{"a":1}'), 130);
    expect(await readParsed(file, JSON.parse)).toEqual({ a: 1 });
    writeFileSync(file, "[");
    await expect(readParsed(file, JSON.parse)).rejects.toThrow(SyntaxError);
  });
});

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

describe("a disk on which only a part of the text has room", () => {
  it("leaves the file as it was, and says why", async () => {
    const folder = temporaryFolder({ "a.txt": "before" });
    const script = path.join(temporaryFolder({ "edit.mts": EDIT }), "edit.mts");
    // A limit of 8 KB a file cuts a write short as a full disk does: it writes what fits and reports no error.
    const limited = 'trap "" XFSZ; ulimit -f 8; exec "$@"';
    const command = [process.execPath, "--import", "tsx", script, path.join(folder, "a.txt")];
    const said = execFileSync("bash", ["-c", limited, "-", ...command], { cwd: packageRoot(), encoding: "utf8" });
    expect(said).toContain("a.txt cannot be written: it would be larger than files may be here");
    expect([read(path.join(folder, "a.txt")), readdirSync(folder)]).toEqual(["before", ["a.txt"]]);
  });
});

describe("temporary files left by a killed process", () => {
  it("are removed, those of a running one and other files stay", () => {
    const left = ["p.json.4999999.part", "p.json.4999999.0123456789ab.part", "gone.jsonl.4999999.0123456789ab.part"];
    const others = [
      "p.json",
      `p.json.${process.ppid}.part`,
      "my.part",
      "film",
      "film.4999999.part",
      "other.json.4999999.part",
    ];
    const folder = temporaryFolder(Object.fromEntries([...left, ...others].map((name) => [name, ""])));
    removeLeftParts(folder);
    expect(readdirSync(folder).sort()).toEqual(others.sort());
  });
});
