import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { handCallback } from "@/service/edits/hand-callback";
import { editPortFile } from "@/service/port/edit-port-file";
import { openPort } from "@/service/port/open-port";
import { temporaryPort } from "@/testing/temporary-port";

const setUp = () =>
  temporaryPort({
    original: "def berth(n):\n    if n < 0:\n        raise ValueError('none')\n    return n + 1\n",
    twin: "export const berth = (n: number, done: (e: unknown, v?: number) => void) => done(null, n + 1);\n",
    cases: [{ id: "a", module: "m", call: "berth", args: [1] }],
  });
const hookupsIn = (folder: string) => JSON.parse(readFileSync(path.join(folder, "side-twin.json"), "utf8")).hookups;
const hand = async (folder: string, isHanded: boolean) =>
  handCallback(await openPort(folder), { module: "m", section: "berth", twin: "ts", isHanded });

describe("handing a callback to a twin that takes one", () => {
  it("makes its cases agree, and is taken back without a trace", async () => {
    const folder = setUp();
    const outcome = async () => (await runCheckOfFile(folder, {})).report.cases[0]?.outcome;
    expect(await outcome()).not.toBe("agree");
    await hand(folder, true);
    expect(hookupsIn(folder)).toEqual([{ original: "m.berth", callback: "last" }]);
    expect(await outcome()).toBe("agree");
    await hand(folder, false);
    expect(hookupsIn(folder)).toEqual([]);
    // Twice is as once.
    await hand(folder, false);
    expect(hookupsIn(folder)).toEqual([]);
  });

  it("leaves alone what else a hookup says", async () => {
    const folder = setUp();
    await editPortFile(path.join(folder, "side-twin.json"), () => [
      { path: ["hookups"], value: [{ original: "m.berth", args: ["$1"] }] },
    ]);
    await hand(folder, true);
    expect(hookupsIn(folder)).toEqual([{ original: "m.berth", args: ["$1"], callback: "last" }]);
    await hand(folder, false);
    expect(hookupsIn(folder)).toEqual([{ original: "m.berth", args: ["$1"] }]);
  });
});
