/** Changes of several files at once: all or none, and back to the byte. */
import { spawn } from "node:child_process";
import { chmodSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { packageRoot } from "@/engine/package-root";
import { Snapshots } from "@/engine/snapshots/snapshots";
import { temporaryFolder } from "@/testing/temporary-port";

const NONE = new Map<string, Buffer>();
const text = (content: string) => Buffer.from(content);

function make(files: Readonly<Record<string, string>>) {
  const top = temporaryFolder(
    Object.fromEntries(Object.entries(files).map(([name, content]) => [`t/${name}`, content])),
  );
  const folder = path.join(top, "t");
  mkdirSync(folder, { recursive: true });
  const open = () => Snapshots.open(path.join(top, "data"), "/p/side-twin.json");
  const at = (file: string) =>
    existsSync(path.join(folder, file)) ? readFileSync(path.join(folder, file), "utf8") : null;
  return { folder, open, at };
}

describe("snapshots", () => {
  it("change, move, make and delete files, and put them back with their modes", () => {
    const { folder, open, at } = make({ "a.txt": "one", "sub/b.sh": "two", "c.txt": "three" });
    chmodSync(path.join(folder, "sub/b.sh"), 0o755);
    const record = open().change(
      folder,
      "a try",
      [
        { file: "a.txt", content: text("ONE") },
        { file: "sub/b.sh", content: null },
        { file: "new/b.sh", content: text("two"), mode: 0o755 },
        { file: "c.txt", content: null },
      ],
      NONE,
    );
    expect([at("a.txt"), at("sub/b.sh"), at("new/b.sh"), at("c.txt"), existsSync(path.join(folder, "sub"))]).toEqual([
      "ONE",
      null,
      "two",
      null,
      false,
    ]);
    expect(statSync(path.join(folder, "new/b.sh")).mode & 0o777).toBe(0o755);
    expect(open().list()).toMatchObject([{ id: record.id, what: "a try", state: "done" }]);
    open().undo();
    expect([at("a.txt"), at("sub/b.sh"), at("new/b.sh"), at("c.txt")]).toEqual(["one", "two", null, "three"]);
    expect(statSync(path.join(folder, "sub/b.sh")).mode & 0o777).toBe(0o755);
    expect(() => open().undo()).toThrow(/nothing to undo/);
    expect(() => open().undo(record.id)).toThrow(/undone already/);
  });

  it("make an undone change again, the one undone last first", () => {
    const { folder, open, at } = make({ "a.txt": "one", "b.txt": "two" });
    const put = (file: string, content: string) => [{ file, content: text(content) }];
    open().change(folder, "first", put("a.txt", "ONE"), NONE);
    open().change(folder, "second", [{ file: "b.txt", content: null }, ...put("c/d.txt", "new")], NONE);
    expect([open().undo().what, open().undo().what]).toEqual(["second", "first"]);
    expect([at("a.txt"), at("b.txt"), at("c/d.txt")]).toEqual(["one", "two", null]);
    expect([open().redo().what, open().redo().what]).toEqual(["first", "second"]);
    expect([at("a.txt"), at("b.txt"), at("c/d.txt")]).toEqual(["ONE", null, "new"]);
    expect(() => open().redo()).toThrow(/nothing to redo/);
    expect(
      open()
        .list()
        .map(({ state }) => state),
    ).toEqual(["done", "done"]);
  });

  it("are not made again over a later change, nor over a person's", () => {
    const { folder, open, at } = make({ "a.txt": "one", "b.txt": "two" });
    const first = open().change(folder, "first", [{ file: "a.txt", content: text("ONE") }], NONE);
    expect(() => open().redo(first.id)).toThrow(/is not undone/);
    expect(() => open().redo("no-such")).toThrow(/no snapshot "no-such"/);
    open().undo();
    open().change(folder, "second", [{ file: "b.txt", content: text("TWO") }], NONE);
    open().undo();
    expect(open().redo().what).toBe("second");
    expect(() => open().redo()).toThrow(/nothing to redo/);
    writeFileSync(path.join(folder, "a.txt"), "mine");
    expect(() => open().redo(first.id)).toThrow(/Changed since the undo: a\.txt/);
    expect(at("a.txt")).toBe("mine");
  });

  it("refuse to go back over what a person changed since, naming it", () => {
    const { folder, open, at } = make({ "a.txt": "one", "b.txt": "two" });
    open().change(
      folder,
      "x",
      [
        { file: "a.txt", content: text("ONE") },
        { file: "b.txt", content: text("TWO") },
      ],
      NONE,
    );
    writeFileSync(path.join(folder, "b.txt"), "mine");
    expect(() => open().undo()).toThrow(/Changed since the snapshot: b\.txt/);
    expect([at("a.txt"), at("b.txt")]).toEqual(["ONE", "mine"]);
  });

  it("are not undone by halves where a folder stands in a file's place", () => {
    const { folder, open, at } = make({ "a.txt": "one", "b.txt": "two" });
    open().change(
      folder,
      "x",
      [
        { file: "a.txt", content: text("ONE") },
        { file: "b.txt", content: null },
      ],
      NONE,
    );
    mkdirSync(path.join(folder, "b.txt/inside"), { recursive: true });
    expect(() => open().undo()).toThrow(/b\.txt/);
    expect([at("a.txt"), open().list()[0]?.state]).toEqual(["ONE", "done"]);
    rmSync(path.join(folder, "b.txt"), { recursive: true });
    open().undo();
    expect([at("a.txt"), at("b.txt")]).toEqual(["one", "two"]);
  });

  it("refuse a change that was worked out from another text", () => {
    const { folder, open, at } = make({ "a.txt": "saved meanwhile" });
    expect(() =>
      open().change(folder, "x", [{ file: "a.txt", content: text("new") }], new Map([["a.txt", text("older")]])),
    ).toThrow(/a\.txt was saved/);
    expect(at("a.txt")).toBe("saved meanwhile");
  });

  it("leave all as it was where one file cannot be written", () => {
    const { folder, open, at } = make({ "a.txt": "one", "d/keep": "" });
    // A folder stands where the file should go.
    mkdirSync(path.join(folder, "e"));
    writeFileSync(path.join(folder, "e/x"), "");
    expect(() =>
      open().change(
        folder,
        "x",
        [
          { file: "a.txt", content: text("ONE") },
          { file: "a.txt/inside", content: text("no") },
        ],
        NONE,
      ),
    ).toThrow();
    expect(at("a.txt")).toBe("one");
    expect(readdirSync(folder).filter((name) => name.endsWith(".part"))).toEqual([]);
  });

  it("are all old or all new after a kill at any moment", async () => {
    const { folder, open, at } = make({});
    const files = Array.from({ length: 12 }, (_, index) => `f${index}.txt`);
    for (const file of files) writeFileSync(path.join(folder, file), "old");
    const data = path.join(folder, "..", "data");
    for (let kill = 0; kill < KILLS; kill++) {
      const child = spawn(process.execPath, ["scripts/run-ts.mjs", "src/testing/endless-changes.ts", folder, data], {
        cwd: packageRoot(),
        stdio: ["ignore", "pipe", "inherit"],
      });
      const ended = new Promise((resolve) => child.once("exit", resolve));
      await new Promise((resolve, reject) => {
        child.stdout?.once("data", resolve);
        child.once("exit", () => reject(new Error("it ended by itself")));
      });
      // A moment of chance within the first rounds: the seed of a kill is its number.
      setTimeout(() => child.kill("SIGKILL"), 3 + ((kill * 37) % 60));
      await ended;
      open();
      expect(new Set(files.map(at)).size).toBe(1);
    }
  });
});

const KILLS = 12;
