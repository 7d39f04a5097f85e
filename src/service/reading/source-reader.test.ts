import { rmSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { SourceReader } from "@/service/reading/source-reader";
import { FactsCache } from "@/service/reading/survey-folder";
import { temporaryFolder, writeFiles } from "@/testing/temporary-port";

const names = (count: number) => Array.from({ length: count }, (_one, index) => `m${index}.py`);
const folderOf = (files: readonly string[]) =>
  temporaryFolder(Object.fromEntries(files.map((file, index) => [file, `def f${index}(a):\n    return a\n`])));

describe("reading sources", () => {
  it.each([3, 60])("gives the same records for %i files, read one by one or on threads", async (count) => {
    const files = names(count);
    const folder = folderOf(files);
    const reader = new SourceReader();
    await reader.refresh(folder, files);
    const sources = reader.of(folder, files);
    expect(sources).toHaveLength(count);
    for (const [index, source] of sources.entries()) {
      expect(source).toMatchObject({ file: `m${index}.py`, language: "python", errorLine: null });
      expect(source.lines).toEqual([`def f${index}(a):`, "    return a"]);
      expect(source.sections.map(({ name, params }) => [name, params])).toEqual([[`f${index}`, ["a"]]]);
    }
    const alone = new SourceReader();
    await alone.refresh(folder, files.slice(0, 1));
    expect(alone.of(folder, files.slice(0, 1))[0]).toEqual(sources[0]);
  });

  it("reads again what changed alone, and forgets what is gone", async () => {
    const files = names(5);
    const folder = folderOf(files);
    const reader = new SourceReader();
    await reader.refresh(folder, files);
    const before = reader.of(folder, files);
    writeFiles(folder, { "m1.py": "def other(a, b):\n    return b\n" });
    rmSync(path.join(folder, "m3.py"));
    await reader.refresh(folder, files);
    const after = reader.of(folder, files);
    expect(after.map(({ file }) => file)).toEqual(["m0.py", "m1.py", "m2.py", "m4.py"]);
    expect(after[0]).toBe(before[0]);
    expect(after[1]?.sections[0]?.name).toBe("other");
    expect(after[1]?.hash).not.toBe(before[1]?.hash);
  });

  it.each([2, 40])("says which of %i files is not UTF-8, and where", async (count) => {
    const files = names(count);
    const folder = folderOf(files);
    writeFiles(folder, { "m1.py": new Uint8Array([0x78, 0x0a, 0xff, 0x0a]) });
    await expect(new SourceReader().refresh(folder, files)).rejects.toThrow(/not UTF-8 in m1.py, line 2/);
    const survey = new FactsCache();
    await expect(new SourceReader().refresh(folder, files, survey)).rejects.toThrow(/not UTF-8 in m1.py, line 2/);
  });

  it("takes what a survey of the folder read, which is the same, and reads for it what it has not", async () => {
    const folder = temporaryFolder({
      "a.py": "\ufeffimport os\n\ndef f(x):\n    return os.sep if x else x\n",
      "b.js": "const a = 1;\nexport const g = (y) => {\n  if (y) return a;\n};\n",
      "c.ts": "declare function d(): void;\nexport type T = string;\nexport class C {\n  m() {}\n}\n",
      "notes.txt": "no code\n",
      "odd.py": "def (((\n",
    });
    const files = ["a.py", "b.js", "c.ts", "notes.txt", "odd.py", "gone.py"];
    const survey = new FactsCache();
    const [alone, shared] = [new SourceReader(), new SourceReader()];
    await alone.refresh(folder, files);
    await shared.refresh(folder, files, survey);
    expect(shared.of(folder, files)).toEqual(alone.of(folder, files));
    expect(shared.of(folder, files)).toHaveLength(5);
    expect(survey.sources.get("a.py")?.facts?.sections).toBe(shared.of(folder, ["a.py"])[0]?.sections);
    expect([...survey.sources.keys()].sort()).toEqual(["a.py", "b.js", "c.ts", "odd.py"]);
    const before = survey.sources.get("b.js");
    writeFiles(folder, { "a.py": "def other():\n    pass\n" });
    await shared.refresh(folder, files, survey);
    expect(shared.of(folder, ["a.py"])[0]?.sections.map(({ name }) => name)).toEqual(["other"]);
    expect(survey.sources.get("a.py")?.facts?.lines).toBe(2);
    expect(survey.sources.get("b.js")).toBe(before);
  });
});
