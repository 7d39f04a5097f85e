import { describe, expect, it } from "vitest";
import { type Draft, formatCommand, plainDraft, toPortFile } from "@/core/bring-in/draft";

const draft = (fields: Partial<Draft> = {}): Draft => ({
  name: " Quays ",
  folder: "/ports/quays",
  language: "python",
  twin: { name: "ts", root: "twin", language: "typescript" },
  ...plainDraft(),
  ...fields,
});
const made = (fields: Partial<Draft> = {}) => JSON.parse(toPortFile(draft(fields), "../original").text);

describe("the port file of a draft", () => {
  it("has no key that nothing was said for", () => {
    expect(Object.keys(made())).toEqual(["format", "version", "name", "original", "twins", "cases"]);
    expect(made()).toMatchObject({ name: "Quays", original: { root: "../original", language: "python" } });
    expect(Object.keys(made().original)).toEqual(["root", "language"]);
  });

  it("has a command a line to build with, blank lines aside, and one to run", () => {
    expect(
      made({ prepare: "make all\n\n  npm run 'build it'  \n", run: 'python3 -m "my quay"' }).original,
    ).toMatchObject({
      prepare: [
        ["make", "all"],
        ["npm", "run", "build it"],
      ],
      run: ["python3", "-m", "my quay"],
    });
  });

  it("has modules by folder or pattern, a map, names and what is ignored, where they are given", () => {
    const port = made({
      modulesBy: "folder",
      modules: [{ name: "sea", files: ["sea/*.py"] }],
      moduleMap: [{ original: "(.*).py", twin: "$1.ts" }],
      functions: "snake-to-camel",
      ignore: ["old/**"],
    });
    expect(port).toMatchObject({
      modulesBy: "folder",
      modules: [{ name: "sea", original: ["sea/*.py"] }],
      moduleMap: [{ original: "(.*).py", twin: "$1.ts" }],
      names: { functions: "snake-to-camel" },
    });
    expect(port.original.ignore).toEqual(["old/**"]);
  });

  it.each([
    ["a quote that is not closed", { run: 'python3 "quay' }, /run command/],
    ["a build command with one", { prepare: "make\nnpm 'run" }, /build command/],
    ["a ladder that is no JSON", { ladder: "[{" }, /ladder|JSON/i],
    ["a name that is empty", { name: "  " }, /name/],
  ])("is refused for %s", (_what, fields, message) => expect(() => toPortFile(draft(fields), "..")).toThrow(message));

  it("writes a command as it is read", () => {
    const command = ["node", "a b.js", "it's", "--x=1"];
    expect(made({ run: formatCommand(command) }).original.run).toEqual(command);
  });
});
