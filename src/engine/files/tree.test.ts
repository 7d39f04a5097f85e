import { mkdirSync, symlinkSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { listFiles } from "@/engine/files/tree";
import { openPort } from "@/service/port/open-port";
import { surveyFolder } from "@/service/reading/survey-folder";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

describe("the files of a side", () => {
  it("are listed sorted, without what belongs to tools and without what is ignored", async () => {
    const folder = temporaryFolder({
      "b/x.py": "",
      "a.py": "",
      "node_modules/p/i.js": "",
      ".git/HEAD": "",
      "__pycache__/a.pyc": "",
      "build/out.js": "",
      ".env": "",
    });
    expect(await listFiles(folder, ["build/**"])).toEqual([".env", "a.py", "b/x.py"]);
  });

  it("are found where links loop or lead out", async () => {
    const folder = temporaryFolder({ "a.py": "" });
    mkdirSync(path.join(folder, "d"));
    symlinkSync("..", path.join(folder, "d/up"));
    symlinkSync("/etc", path.join(folder, "etc"));
    expect(await listFiles(folder)).toEqual(["a.py"]);
  });
});

describe("a survey", () => {
  it("counts by language and lists what could not be read", async () => {
    const folder = temporaryFolder({
      "a.py": "def f():\n    pass\n",
      "b.ts": "export const x = 1;\n",
      "bad.py": Buffer.from([0x23, 0xff, 0x0a]),
      "odd.py": "def (:\n",
      "notes.md": "# x\n",
      "empty.js": "",
    });
    const { languages, files, problems: errors } = await surveyFolder(folder);
    expect(languages).toEqual({
      python: { files: 3, lines: 4 },
      typescript: { files: 1, lines: 1 },
      javascript: { files: 1, lines: 0 },
    });
    expect(files.map((file) => file.path)).toEqual(["a.py", "b.ts", "bad.py", "empty.js", "odd.py"]);
    expect(errors).toEqual([
      { file: "bad.py", message: "is not UTF-8; it was read as Latin-1" },
      { file: "odd.py", line: 1, message: "does not parse here" },
    ]);
    await expect(surveyFolder(path.join(folder, "gone"))).rejects.toMatchObject({ code: "not-found" });
  });

  it("reads a file of fifty thousand lines", async () => {
    const text = Array.from({ length: 25_000 }, (_, index) => `def f${index}():\n    return ${index}\n`).join("");
    const { files } = await surveyFolder(temporaryFolder({ "big.py": text }));
    expect([files[0]?.lines, files[0]?.sections.length, files[0]?.sections.at(-1)?.from]).toEqual([
      50_000, 25_000, 49_999,
    ]);
  });
});

describe("a port", () => {
  it("is opened by its file or its folder, with Windows line endings too", async () => {
    const folder = temporaryFolder({
      "side-twin.json": JSON.stringify(portFile(), null, 2).replaceAll("\n", "\r\n"),
      "original/m.py": "x = 1\r\n",
    });
    const [byFolder, byFile] = [await openPort(folder), await openPort(path.join(folder, "side-twin.json"))];
    expect(byFolder.file).toBe(byFile.file);
    expect(byFolder.modules).toMatchObject([{ name: "m", original: ["m.py"], twins: { ts: [] } }]);
  });

  it("says that a folder holds none", async () => {
    await expect(openPort(temporaryFolder())).rejects.toMatchObject({
      code: "not-found",
      what: expect.stringContaining("There is no side-twin.json in"),
    });
  });
});
