/** Agreeing to what cases show: one allowance in the port file, of exactly these values. */
import { describe, expect, it } from "vitest";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { runCheckOfFile } from "@/service/check/run-check";
import { type AgreedCase, agreeToCases } from "@/service/edits/agree-to-case";
import { openPort } from "@/service/port/open-port";
import { temporaryPort } from "@/testing/temporary-port";

const line = (id: string, call: string, n: number) => ({ id, module: "m", call, args: [n] });
const port = () =>
  temporaryPort({
    original: "def f(n):\n    return n // 2\n\n\ndef g(n):\n    return [n, n]\n",
    twin: "export const f = (n: number) => Math.trunc(n / 2);\nexport const g = (n: number) => [n + 1, n + 2];\n",
    cases: [line("a", "f", -1), line("b", "f", -3), line("c", "f", -5), line("d", "g", 1)],
  });
const agreed = (id: string, call: string, ...pairs: [string, number, number][]): AgreedCase => ({
  item: sharedCaseSchema.parse(line(id, call, 0)),
  divergences: pairs.map(([at, original, twin]) => ({ at, original, twin })),
});
const wanted = { twin: "ts", reason: "halves go up here" };

describe("agreeing", () => {
  it("writes one allowance for a case, whatever number of places it has", async () => {
    const folder = port();
    const both = agreed("d", "g", ["value.0", 1, 2], ["value.1", 1, 3]);
    expect(await agreeToCases(await openPort(folder), [both], wanted)).toEqual({ allowances: ["agreed-d"] });
    const { open, report } = await runCheckOfFile(folder, {});
    expect(open.port.allowances).toHaveLength(1);
    expect(open.port.allowances[0]?.where).toEqual({ module: "m", case: "d" });
    expect(report.cases.find(({ id }) => id === "d")).toMatchObject({ outcome: "allowed", allowances: ["agreed-d"] });
  });

  it("writes one allowance for a whole family, which ends for a case whose value changes", async () => {
    const folder = port();
    const family = [agreed("a", "f", ["value", -1, 0]), agreed("b", "f", ["value", -2, -1])];
    await agreeToCases(await openPort(folder), family, wanted);
    const { open, report } = await runCheckOfFile(folder, {});
    expect(open.port.allowances[0]?.where).toEqual({ module: "m", call: "f", at: "value" });
    const outcomes = Object.fromEntries(report.cases.map(({ id, outcome }) => [id, outcome]));
    // The pair of c was not agreed to.
    expect(outcomes).toMatchObject({ a: "allowed", b: "allowed", c: "differ" });
  });

  it("writes one allowance for each section of a family that several share", async () => {
    const folder = port();
    const shared = [agreed("a", "f", ["value", -1, 0]), agreed("d", "g", ["value.0", 1, 2], ["value.1", 1, 3])];
    expect(await agreeToCases(await openPort(folder), shared, wanted)).toEqual({
      allowances: ["agreed-a", "agreed-d"],
    });
    const { open, report } = await runCheckOfFile(folder, {});
    expect(open.port.allowances.map(({ where }) => where)).toEqual([
      { module: "m", case: "a", at: "value" },
      { module: "m", case: "d" },
    ]);
    const outcomes = Object.fromEntries(report.cases.map(({ id, outcome }) => [id, outcome]));
    expect(outcomes).toMatchObject({ a: "allowed", b: "differ", c: "differ", d: "allowed" });
  });

  it("refuses an empty reason, and cases that show nothing", async () => {
    const open = await openPort(port());
    const one = agreed("a", "f", ["value", -1, 0]);
    await expect(agreeToCases(open, [one], { twin: "ts", reason: " " })).rejects.toThrow(/needs a reason/);
    await expect(agreeToCases(open, [agreed("a", "f")], wanted)).rejects.toThrow(/0 differences/);
    expect((await openPort(open.file)).port.allowances).toEqual([]);
  });
});
