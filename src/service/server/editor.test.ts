/** Places opened in the person's editor, by a program that writes down what it was given. */
import { chmodSync, existsSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it, vi } from "vitest";
import { openPort } from "@/service/port/open-port";
import { Editor, placeIn } from "@/service/server/editor";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const program = () => {
  const folder = temporaryFolder();
  const file = path.join(folder, "my editor");
  writeFileSync(file, `#!/bin/sh\nprintf '%s\\n' "$@" > "${folder}/given"\n`);
  chmodSync(file, 0o755);
  return { file, given: path.join(folder, "given") };
};

describe("the editor", () => {
  it("is asked for once, and opens a file at its line", async () => {
    const editor = new Editor(temporaryFolder());
    const folder = temporaryFolder({ "a b.py": "x\n" });
    await expect(editor.open(path.join(folder, "a b.py"), 3)).rejects.toMatchObject({ code: "toolchain-missing" });
    const { file, given } = program();
    await editor.set(`"${file}" --at {file}:{line}`);
    expect((await editor.view()).command).toContain("{line}");
    await editor.open(path.join(folder, "a b.py"), 3);
    await vi.waitFor(
      () => expect(existsSync(given) && readFileSync(given, "utf8")).toBe(`--at\n${folder}/a b.py:3\n`),
      {
        timeout: 60_000,
      },
    );
  });

  it("refuses a command without a file, a program that is not there, and a file that is gone", async () => {
    const editor = new Editor(temporaryFolder());
    await expect(editor.set("sh {line}")).rejects.toThrow(/where the file goes/);
    await expect(editor.set("no-such-editor {file}")).rejects.toThrow(/no program "no-such-editor"/);
    await editor.set("sh {file}");
    await expect(editor.open("/no/such/file", 1)).rejects.toMatchObject({ code: "not-found" });
  });
});

describe("places of a port", () => {
  it("are files of a side or beside the port file, and nothing outside", async () => {
    const folder = temporaryFolder({ "side-twin.json": portFile(), "original/m.py": "x = 1\n", "secret.txt": "" });
    const open = await openPort(folder);
    expect(await placeIn(open, { side: "original", file: "m.py" })).toBe(path.join(open.original.folder, "m.py"));
    expect(await placeIn(open, { side: null, file: "side-twin.json" })).toMatch(/side-twin\.json$/);
    await expect(placeIn(open, { side: "original", file: "../secret.txt" })).rejects.toMatchObject({
      code: "outside-folder",
    });
    await expect(placeIn(open, { side: "original", file: "n.py" })).rejects.toMatchObject({ code: "not-found" });
    await expect(placeIn(open, { side: "nobody", file: "m.py" })).rejects.toMatchObject({ code: "not-found" });
  });
});
