import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { dropCases, exportCases, importCases, keepCases, replaceCase, restoreCases } from "@/service/edits/keep-cases";
import { openPort, readCases } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const make = (id: string, module = "m") => sharedCaseSchema.parse({ id, module, call: "f", args: [1] });
const port = (extra: Readonly<Record<string, unknown>> = {}, files: Record<string, unknown> = {}) =>
  temporaryFolder({
    "side-twin.json": portFile(extra),
    "original/m.py": "def f(n): return n\n",
    "cases/m.jsonl": [{ id: "a", module: "m", call: "f" }],
    ...files,
  });
const open = async (folder: string) => {
  const opened = await openPort(folder);
  return { opened, cases: await readCases(opened) };
};

describe("new cases", () => {
  it("stand in the file of their origin, behind what is there already", async () => {
    const folder = port({}, { "cases/hand.jsonl": '{"id":"b","module":"m","call":"f"}' });
    const { opened, cases } = await open(folder);
    expect(await keepCases(opened, cases, [make("c")], "hand")).toEqual({ file: "cases/hand.jsonl" });
    const lines = readFileSync(path.join(folder, "cases/hand.jsonl"), "utf8").trimEnd().split("\n");
    expect(lines.map((line) => JSON.parse(line).id)).toEqual(["b", "c"]);
    expect((await open(folder)).cases.map(({ id }) => id).sort()).toEqual(["a", "b", "c"]);
  });

  it("are refused all together when one has a name that is taken or a module that is not there", async () => {
    const folder = port();
    const { opened, cases } = await open(folder);
    await expect(keepCases(opened, cases, [make("x"), make("a")], "hand")).rejects.toMatchObject({
      code: "bad-input",
      what: 'There is a case "a" already',
    });
    await expect(keepCases(opened, cases, [make("x", "n")], "hand")).rejects.toThrow(/no module "n"/);
    await expect(keepCases(opened, cases, [make("x"), make("x")], "hand")).rejects.toThrow(/already used/);
    expect(existsSync(path.join(folder, "cases/hand.jsonl"))).toBe(false);
  });

  it("need a place that the port file names", async () => {
    const { opened, cases } = await open(port({ cases: ["cases/m.jsonl"] }));
    expect(await keepCases(opened, cases, [make("x")], "hand")).toEqual({ file: "cases/m.jsonl" });
    const strict = await open(port({ cases: ["cases/[am].jsonl"] }));
    await expect(keepCases(strict.opened, strict.cases, [make("x")], "hand")).rejects.toThrow(/no place for new cases/);
  });

  it("are read from JSON Lines, Windows line ends and a byte order mark included, and given out again", async () => {
    const folder = port();
    const { opened, cases } = await open(folder);
    const text = `\uFEFF${[make("x"), make("y")].map((item) => JSON.stringify(item)).join("\r\n")}\r\n`;
    expect(await importCases(opened, cases, text)).toMatchObject({ file: "cases/imported.jsonl", ids: ["x", "y"] });
    const again = (await open(folder)).cases.filter(({ id }) => id !== "a");
    const plain = (id: string) => {
      const { kwargs: _none, ...rest } = make(id) as { kwargs?: unknown };
      return JSON.stringify(rest);
    };
    expect(exportCases(again)).toBe(`${plain("x")}\n${plain("y")}\n`);
    await expect(importCases(opened, cases, "{}\n")).rejects.toThrow(/imported cases, line 1/);
    await expect(importCases(opened, cases, " \n")).rejects.toThrow(/no case in it/);
  });
});

describe("cases that are there", () => {
  const TEXT =
    '{"id":"a","module":"m","call":"f","args":[1]}\r\n\r\n{"id":"b", "module":"m","call":"f","args":[2]}\n{"id":"c","module":"m","call":"f"}';
  const made = () => port({}, { "cases/m.jsonl": TEXT });
  const text = (folder: string) => readFileSync(path.join(folder, "cases/m.jsonl"), "utf8");

  it("are taken out by whole lines, and put back to the byte, the last one without a line end too", async () => {
    for (const ids of [["b"], ["c"], ["a", "c"], ["a", "b", "c"]]) {
      const folder = made();
      const dropped = await dropCases((await open(folder)).opened, ids);
      expect((await open(folder)).cases.map(({ id }) => id)).toEqual(["a", "b", "c"].filter((id) => !ids.includes(id)));
      const { opened, cases } = await open(folder);
      await restoreCases(opened, cases, dropped);
      expect(text(folder)).toBe(TEXT);
    }
  });

  it("are not put back where the id is taken again, nor into a file that is none of cases", async () => {
    const folder = made();
    const { opened, cases } = await open(folder);
    const line = '{"id":"a","module":"m","call":"f"}';
    await expect(restoreCases(opened, cases, [{ file: "cases/m.jsonl", at: 0, line }])).rejects.toThrow(/case "a"/);
    const other = line.replace('"a"', '"z"');
    await expect(restoreCases(opened, cases, [{ file: "../x.jsonl", at: 0, line: other }])).rejects.toMatchObject({
      code: "bad-input",
    });
    expect(text(folder)).toBe(TEXT);
  });

  it("are replaced in their line alone, by another id too", async () => {
    const folder = made();
    const { opened, cases } = await open(folder);
    expect(await replaceCase(opened, cases, { id: "a", item: make("a2") })).toEqual({ file: "cases/m.jsonl" });
    expect(text(folder)).toBe(TEXT.replace('"id":"a"', '"id":"a2"'));
    await expect(replaceCase(opened, cases, { id: "b", item: make("c") })).rejects.toThrow(/case "c"/);
    await expect(replaceCase(opened, cases, { id: "b", item: make("b", "n") })).rejects.toThrow(/no module "n"/);
    await expect(replaceCase(opened, cases, { id: "gone", item: make("q") })).rejects.toMatchObject({
      code: "not-found",
    });
  });
});
