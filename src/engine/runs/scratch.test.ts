import { existsSync, mkdirSync, readFileSync, rmSync, symlinkSync, unlinkSync, writeFileSync } from "node:fs";
import path from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { Scratch } from "@/engine/runs/scratch";
import { temporaryFolder } from "@/testing/temporary-port";

const made: Scratch[] = [];
const make = async (files: Record<string, unknown>) => {
  const source = temporaryFolder(files);
  const scratch = await Scratch.make(source);
  made.push(scratch);
  return { source, scratch, at: (name: string) => path.join(scratch.folder, name) };
};
afterEach(async () => {
  for (const scratch of made.splice(0)) await scratch.remove();
});

describe("a scratch folder", () => {
  it("is a copy without what belongs to tools, and goes away whole", async () => {
    const { scratch, at } = await make({
      "a.py": "1",
      "d/b.txt": "2",
      "__pycache__/a.pyc": "x",
      "node_modules/p/index.js": "3",
      "build/main.mjs": "4",
      "vendor/q.go": "5",
      "target/r.jar": "6",
    });
    // What was built, and what came with the sources, is what programs run.
    expect(["build/main.mjs", "vendor/q.go", "target/r.jar"].map((name) => existsSync(at(name)))).toEqual([
      true,
      true,
      true,
    ]);
    expect([existsSync(at("d/b.txt")), existsSync(at("__pycache__"))]).toEqual([true, false]);
    // Installed packages are reached through a link instead of being copied.
    expect(readFileSync(at("node_modules/p/index.js"), "utf8")).toBe("3");
    await scratch.remove();
    expect(existsSync(scratch.folder)).toBe(false);
  });

  it("tells what was written, changed and removed, input files aside, and is put back", async () => {
    const { source, scratch, at } = await make({ "keep.txt": "k", "gone.txt": "g", "data.txt": "old" });
    await scratch.lay({ "in/a.csv": "a,b\n", "data.txt": "laid\n", "raw.bin": { "~bytes": "/wA=" } });
    expect(readFileSync(at("raw.bin"))).toEqual(Buffer.from([0xff, 0]));
    writeFileSync(at("new.txt"), "n");
    writeFileSync(at("bytes.bin"), Buffer.from([0xff, 0xfe]));
    writeFileSync(at("keep.txt"), "changed");
    unlinkSync(at("gone.txt"));
    expect(await scratch.written()).toEqual({
      "new.txt": { text: "n" },
      "bytes.bin": { bytes: "//4=" },
      "keep.txt": { text: "changed" },
      "gone.txt": { removed: true },
    });
    await scratch.restore();
    expect(["keep.txt", "gone.txt", "data.txt"].map((name) => readFileSync(at(name), "utf8"))).toEqual([
      "k",
      "g",
      "old",
    ]);
    expect([existsSync(at("new.txt")), existsSync(at("in/a.csv"))]).toEqual([false, false]);
    expect(readFileSync(path.join(source, "keep.txt"), "utf8")).toBe("k");
    expect(await scratch.written()).toEqual({});
  });

  it.each(["../x", "/etc/x", "a/../../x"])("refuses the input file %s", async (name) => {
    const { scratch } = await make({ "a.txt": "a" });
    await expect(scratch.lay({ [name]: "x" })).rejects.toMatchObject({ code: "outside-folder" });
  });

  it("copies links as links, even those that loop", async () => {
    const source = temporaryFolder({ "a.txt": "a" });
    mkdirSync(path.join(source, "d"));
    symlinkSync("..", path.join(source, "d/up"));
    symlinkSync("self", path.join(source, "self"));
    const scratch = await Scratch.make(source);
    made.push(scratch);
    expect(await scratch.written()).toEqual({});
    rmSync(path.join(source, "self"));
  });
});
