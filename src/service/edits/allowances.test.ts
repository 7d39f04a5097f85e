/** What became of allowances over the last word on every case, and the changes that are made to the port file. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import type { CaseUse } from "@/core/allowances/review";
import type { Allowance } from "@/core/formats/allowance";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { parsePortFile } from "@/core/formats/port-file";
import { allowanceViews, removeAllowance, tightenAllowance } from "@/service/edits/allowances";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const allowances: readonly Allowance[] = [
  { id: "sums", where: { module: "m" }, allow: { number: { abs: 0.5 } }, reason: "another order" },
  { id: "old", where: { case: "a" }, allow: { exactly: { original: 1, twin: 2 } }, reason: "was so once" },
  { id: "idle", where: { case: "a" }, allow: { ignore: true }, reason: "nobody knows" },
  { id: "later", where: { case: "b" }, allow: { ignore: true }, reason: "not run yet" },
  { id: "other", where: {}, allow: { ignore: true }, reason: "of another twin", twin: "rust" },
];
const cases = ["a", "b", "c"].map((id) => sharedCaseSchema.parse({ id, module: id === "c" ? "n" : "m", call: "f" }));
const verdict = (caseId: string, excuses: readonly CaseUse[] = [], twin = "ts") => ({
  twin,
  caseId,
  module: "m",
  section: "f",
  outcome: "allowed" as const,
  side: null,
  why: null,
  msOriginal: 1,
  msTwin: 1,
  stamp: "s",
  divergenceCount: excuses.length,
  excuses,
  checkId: 1,
});

describe("the allowances of a port", () => {
  const views = allowanceViews(
    allowances,
    cases,
    [
      verdict("a", [{ allowance: "sums", used: 3, needed: { abs: 0.0101 } }]),
      verdict("gone", [{ allowance: "idle", used: 1, needed: {} }]),
    ],
    "ts",
  );
  const view = (id: string) => views.find((entry) => entry.id === id);

  it("say how often they excused something, in how many of the cases that they speak of", () => {
    expect(view("sums")).toMatchObject({ state: "used", used: 3, cases: 1, inScope: 2, needed: "0.0101" });
    expect(view("sums")?.tighter?.allow).toEqual({ number: { abs: 0.011 } });
  });

  it("are unused, lapsed or not checked yet, and those of another twin are left out", () => {
    expect(views.map(({ id, state }) => [id, state])).toEqual([
      ["sums", "used"],
      ["old", "lapsed"],
      ["idle", "unused"],
      ["later", "not-checked"],
    ]);
  });

  it("are counted for one twin at a time", () => {
    const uses = [{ allowance: "sums", used: 1, needed: { abs: 0.4 } }];
    expect(allowanceViews(allowances, cases, [verdict("a", uses, "rust")], "ts")[0]).toMatchObject({
      state: "not-checked",
    });
    expect(allowanceViews(allowances, cases, [verdict("a", uses, "rust")], "rust").map(({ id }) => id)).toContain(
      "other",
    );
  });
});

describe("changes of allowances", () => {
  const text = `{
  "format": "side-twin/port", "version": 1, "name": "Kept as it is",
  "original": { "root": "original", "language": "python" },
  "twins": [{ "name": "ts", "root": "twin", "language": "typescript" }],
  "allowances": [
    { "id": "sums", "where": {},   "allow": { "number": { "abs": 0.5 } }, "reason": "another order" },
    { "id": "two", "where": {}, "allow": { "ignore": true }, "reason": "r" }
  ]
}
`;
  const folder = () => temporaryFolder({ "side-twin.json": text, "original/m.py": "" });
  const tighter = { allow: { number: { abs: 0.01 } }, advice: "less is needed" };
  const sums = {
    id: "sums",
    where: {},
    allow: { number: { abs: 0.5 } },
    reason: "r",
    state: "used" as const,
    used: 1,
    cases: 1,
    inScope: 1,
    needed: null,
  };

  it("write what was proposed, and leave the rest of the file as somebody wrote it", async () => {
    const port = folder();
    await tightenAllowance(await openPort(port), { ...sums, tighter });
    const after = readFileSync(path.join(port, "side-twin.json"), "utf8");
    expect(parsePortFile(after, "p").allowances[0]?.allow).toEqual({ number: { abs: 0.01 } });
    expect(after).toContain('"version": 1, "name": "Kept as it is",');
    expect(after.split("\n").at(-4)).toBe(text.split("\n").at(-4));
  });

  it("take one out, and refuse what is not there or not proposed", async () => {
    const port = folder();
    await removeAllowance(await openPort(port), "sums");
    expect((await openPort(port)).port.allowances.map(({ id }) => id)).toEqual(["two"]);
    await expect(removeAllowance(await openPort(port), "sums")).rejects.toMatchObject({ code: "not-found" });
    await expect(tightenAllowance(await openPort(port), { ...sums, tighter: null })).rejects.toMatchObject({
      code: "bad-input",
    });
  });

  it("leave the file alone when it would be none any more", async () => {
    const port = temporaryFolder({ "side-twin.json": portFile({ allowances: [] }), "original/m.py": "" });
    const before = readFileSync(path.join(port, "side-twin.json"), "utf8");
    await expect(removeAllowance(await openPort(port), "x")).rejects.toThrow();
    expect(readFileSync(path.join(port, "side-twin.json"), "utf8")).toBe(before);
  });
});
