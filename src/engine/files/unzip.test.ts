import { createWriteStream, existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import { describe, expect, it } from "vitest";
import { ZipFile } from "yazl";
import { UNZIP_LIMITS, unzip } from "@/engine/files/unzip";
import { temporaryFolder, writeFiles } from "@/testing/temporary-port";

/** Without content it is a folder. */
type Item = { readonly name: string; readonly content: string | Buffer | null; readonly mode?: number };

/** A zip of these; a name that the library refuses to write can be put in place of one of the same length. */
async function zipOf(
  items: readonly Item[],
  swap?: readonly [string, string],
): Promise<{ file: string; target: string }> {
  const folder = temporaryFolder();
  const file = path.join(folder, "sent.zip");
  const zip = new ZipFile();
  for (const { name, content, mode = 0o100644 } of items) {
    if (content === null) zip.addEmptyDirectory(name);
    else zip.addBuffer(Buffer.from(content), name, { mode });
  }
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(file));
  if (swap) {
    const bytes = readFileSync(file).toString("latin1").replaceAll(swap[0], swap[1]);
    writeFiles(folder, { "sent.zip": Buffer.from(bytes, "latin1") });
  }
  return { file, target: path.join(folder, "tree") };
}

describe("a zip", () => {
  it("is unpacked with its folders, and links in it are left out and told", async () => {
    const { file, target } = await zipOf([
      { name: "a/b.py", content: "x = 1\n" },
      { name: "c.txt", content: "ü" },
      { name: "a/way-out", content: "/etc", mode: 0o120777 },
    ]);
    expect(await unzip(file, target)).toEqual({ files: 2, links: ["a/way-out"], leftOut: 0 });
    expect(readFileSync(path.join(target, "a/b.py"), "utf8")).toBe("x = 1\n");
    expect(existsSync(path.join(target, "a/way-out"))).toBe(false);
  });

  it.each([
    ["climbs out of the folder", "xx/esc.py", "../esc.py"],
    ["is a whole path", "Xtmp/esc.py", "/tmp/esc.py"],
    ["climbs out by backslashes", "xx/esc.py", "..\\esc.py"],
  ])("with a name that %s is refused", async (_how, name, evil) => {
    const { file, target } = await zipOf([{ name, content: "x" }], [name, evil]);
    await expect(unzip(file, target)).rejects.toThrow(/The zip cannot be read|leads out/);
    expect(existsSync(path.join(path.dirname(target), "esc.py"))).toBe(false);
  });

  it("that is too much of anything is refused before it is written", async () => {
    const { file, target } = await zipOf([
      { name: "a.py", content: "a".repeat(3000) },
      { name: "b.py", content: "b".repeat(3000) },
    ]);
    const within = async (limits: Partial<typeof UNZIP_LIMITS>) => unzip(file, target, { ...UNZIP_LIMITS, ...limits });
    await expect(within({ entries: 1 })).rejects.toThrow(/2 entries; at most 1/);
    await expect(within({ totalBytes: 4000 })).rejects.toThrow(/unpacks to more/);
    await expect(within({ fileBytes: 2000 })).rejects.toThrow(/"a.py" is larger/);
    expect(existsSync(path.join(target, "a.py"))).toBe(false);
  });

  it("with one path twice, or two that some disks take for one, is refused", async () => {
    const { file, target } = await zipOf([
      { name: "a.py", content: "1" },
      { name: "A.py", content: "2" },
    ]);
    await expect(unzip(file, target)).rejects.toThrow(/"A.py" twice/);
  });

  it("that is none, or is cut, is told as that", async () => {
    const { file, target } = await zipOf([{ name: "a.py", content: "1".repeat(500) }]);
    const folder = path.dirname(file);
    writeFiles(folder, { "none.zip": "PK no zip", "empty.zip": "", "cut.zip": readFileSync(file).subarray(0, 80) });
    for (const name of ["none.zip", "empty.zip", "cut.zip"])
      await expect(unzip(path.join(folder, name), target)).rejects.toThrow(/The zip cannot be read/);
  });

  it("with damaged content is refused", async () => {
    const { file, target } = await zipOf([{ name: "a.py", content: "x = 1\n", mode: 0o100644 }]);
    const bytes = readFileSync(file);
    // The content follows the local header and the name; a stored or deflated byte of it is flipped.
    bytes[30 + "a.py".length + 2] = (bytes[30 + "a.py".length + 2] ?? 0) ^ 0x01;
    writeFiles(path.dirname(file), { "sent.zip": bytes });
    await expect(unzip(file, target)).rejects.toThrow(/The zip cannot be read/);
  });

  it("with checksums of nothing is refused", async () => {
    const { file, target } = await zipOf([{ name: "a.py", content: "x = 1\n" }]);
    const bytes = readFileSync(file);
    const directory = bytes.lastIndexOf(Buffer.from([0x50, 0x4b, 1, 2]));
    bytes.fill(0, directory + 16, directory + 20);
    writeFiles(path.dirname(file), { "sent.zip": bytes });
    await expect(unzip(file, target)).rejects.toThrow(/"a.py" is damaged/);
  });

  it("whose entries share their data is refused before anything is written", async () => {
    const { file, target } = await zipOf([
      { name: "a.py", content: "a".repeat(5000) },
      { name: "b.py", content: "b".repeat(5000) },
    ]);
    const bytes = readFileSync(file);
    const directory = bytes.lastIndexOf(Buffer.from([0x50, 0x4b, 1, 2]));
    bytes.fill(0, directory + 42, directory + 46);
    writeFiles(path.dirname(file), { "sent.zip": bytes });
    await expect(unzip(file, target)).rejects.toThrow(/share their data/);
    expect(existsSync(target)).toBe(false);
  });

  it("leaves the git folder of a stranger out, and passes over an entry for the folder itself", async () => {
    const items = [
      { name: "Q", content: null },
      { name: "a.py", content: "x" },
      { name: ".git/config", content: "[core]" },
      { name: "sub/.GIT/hooks/x", content: "x" },
    ];
    const { file, target } = await zipOf(items, ["Q/", "./"]);
    expect(await unzip(file, target)).toMatchObject({ files: 1, leftOut: 2 });
    expect(existsSync(path.join(target, ".git"))).toBe(false);
  });
});
