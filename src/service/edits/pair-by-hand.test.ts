import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { leaveOut } from "@/service/edits/leave-out";
import { pairByHand } from "@/service/edits/pair-by-hand";
import { editPortFile } from "@/service/port/edit-port-file";
import { openPort } from "@/service/port/open-port";
import { pairPort } from "@/service/reading/pair-port";
import { temporaryPort } from "@/testing/temporary-port";

const setUp = () =>
  temporaryPort({
    original: "def price(n):\n    return n + 1\n\ndef label(n):\n    return 'x'\n",
    twin: "export const costOfTrip = (n: number) => n + 1;\nexport const price = (n: number) => n + 2;\n",
    cases: [{ id: "a", module: "m", call: "price", args: [1] }],
  });
const pairsIn = (folder: string) => JSON.parse(readFileSync(path.join(folder, "side-twin.json"), "utf8")).pairs;
const say = async (folder: string, part: object) =>
  pairByHand(await openPort(folder), { module: "m", on: "ts", original: null, twin: null, note: "", ...part });

describe("a module that is left out", () => {
  it("is so with its reason in the port file, until it is taken in again", async () => {
    const folder = setUp();
    const modules = () => JSON.parse(readFileSync(path.join(folder, "side-twin.json"), "utf8")).modules;
    const state = async () => (await openPort(folder)).modules.map(({ name, leftOut: why }) => [name, why]);
    await expect(leaveOut(await openPort(folder), { module: "m", reason: " " })).rejects.toThrow(/for a reason/);
    await expect(leaveOut(await openPort(folder), { module: "x", reason: "y" })).rejects.toThrow(/no module "x"/);
    await leaveOut(await openPort(folder), { module: "m", reason: "the quay is gone" });
    expect(modules()).toEqual([{ name: "m", original: ["m.py"], leftOut: "the quay is gone" }]);
    expect(await state()).toEqual([["m", "the quay is gone"]]);
    await leaveOut(await openPort(folder), { module: "m", reason: null });
    expect(await state()).toEqual([["m", undefined]]);
    expect((await openPort(folder)).modules[0]?.twins).toEqual({ ts: ["m.ts"] });
    expect(modules()).toEqual([]);
    await editPortFile(path.join(folder, "side-twin.json"), () => [
      { path: ["modules", -1], value: { name: "both", original: ["m.py"], leftOut: "for now" }, insert: true },
    ]);
    await leaveOut(await openPort(folder), { module: "both", reason: null });
    // A module that would have another name without it stays listed.
    expect(modules()).toEqual([{ name: "both", original: ["m.py"] }]);
  });
});

describe("a person's word on a pair", () => {
  it("goes into the port file, and is what is paired and called from then on", async () => {
    const folder = setUp();
    const outcome = async () => (await runCheckOfFile(folder, {})).report.cases[0]?.outcome;
    expect(await outcome()).toBe("differ");
    await say(folder, { original: "price", twin: "costOfTrip", note: "it was renamed" });
    expect(pairsIn(folder)).toEqual([{ original: "m.price", twin: "m.costOfTrip", note: "it was renamed" }]);
    const [module] = (await pairPort(folder)).modules;
    expect(module?.sections).toMatchObject([{ original: "price", twin: "costOfTrip", score: 1 }]);
    expect(await outcome()).toBe("agree");
  });

  it("takes the place of what was said of either section, and can be taken back", async () => {
    const folder = setUp();
    await say(folder, { original: "price", twin: "costOfTrip" });
    await say(folder, { original: "label", twin: null, note: "nobody calls it" });
    await say(folder, { original: "price", twin: "price" });
    expect(pairsIn(folder)).toEqual([
      { original: "m.label", twin: null, note: "nobody calls it" },
      { original: "m.price", twin: "m.price" },
    ]);
    await say(folder, { twin: "costOfTrip" });
    expect(pairsIn(folder)).toHaveLength(3);
    await say(folder, { original: "price", twin: "price", forget: true });
    expect(pairsIn(folder)).toHaveLength(2);
  });

  it("is refused for a module that is not there, and in a port file that says nothing with it", async () => {
    const folder = setUp();
    await expect(say(folder, { module: "gone", original: "f" })).rejects.toThrow(/no module "gone"/);
    await expect(say(folder, {})).rejects.toThrow(/names at least one section/);
    expect(pairsIn(folder)).toBeUndefined();
  });
});
