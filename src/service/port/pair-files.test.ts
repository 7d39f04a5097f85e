/** Files whose names say nothing find their modules when a port is opened. */
import { describe, expect, it } from "vitest";
import { openPort } from "@/service/port/open-port";
import { pairPort } from "@/service/reading/pair-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const FARES =
  "RATES = {'adult': 250, 'child': 125}\ndef fare_for(kind, miles):\n    return RATES[kind] * miles\ndef rebate(amount):\n    return amount // 10\n";
const TIDES = "def height_at(t):\n    return 4.25 + t * 0.5\ndef next_high(t):\n    return 'Gannet Point', t\n";
const fares =
  "const RATES = { adult: 250, child: 125 };\nexport const fareFor = (kind, miles) => RATES[kind] * miles;\nexport function rebate(amount) { return Math.floor(amount / 10); }\n";
const tides = "export const heightAt = (t) => 4.25 + t * 0.5;\nexport const nextHigh = (t) => ['Gannet Point', t];\n";

const twinsOf = async (files: Record<string, string>, extra: Readonly<Record<string, unknown>> = {}) => {
  const folder = temporaryFolder({ "side-twin.json": portFile(extra), ...files });
  return {
    folder,
    twins: Object.fromEntries((await openPort(folder)).modules.map(({ name, twins }) => [name, twins.ts])),
  };
};

describe("files whose names say nothing", () => {
  const original = {
    "original/fares.py": FARES,
    "original/tides.py": TIDES,
    "original/later.py": "def not_begun(): return 'x'\n",
  };

  it("are paired by what is in them, and what is not ported stays without", async () => {
    const { folder, twins } = await twinsOf({
      ...original,
      "twin/a.ts": tides,
      "twin/b.ts": fares,
      "twin/helpers.ts": "export const pad = 1;\n",
    });
    expect(twins).toEqual({ fares: ["b.ts"], tides: ["a.ts"], later: [] });
    const { modules } = await pairPort(folder);
    const pairs = modules.find(({ name }) => name === "fares")?.sections.map((pair) => [pair.original, pair.twin]);
    expect(pairs).toEqual([
      ["RATES", "RATES"],
      ["fare_for", "fareFor"],
      ["rebate", "rebate"],
    ]);
  });

  it("join a module as one of several when they hold the rest of it", async () => {
    const [first = "", second = ""] = fares.split(/(?=export function)/);
    const rest = `${second}export const fairShare = 1;\n`;
    const { twins } = await twinsOf({
      "original/fares.py": `${FARES}FAIR_SHARE = 1\n`,
      "twin/fares.ts": first,
      "twin/money-back.ts": rest,
    });
    expect(twins).toEqual({ fares: ["fares.ts", "money-back.ts"] });
  });

  it("are not looked at where the port file says what they are, or a name does", async () => {
    const modules = [{ name: "fares", original: ["fares.py"], twins: { ts: ["a.ts"] } }];
    const { twins } = await twinsOf({ ...original, "twin/a.ts": tides, "twin/tides.ts": tides }, { modules });
    expect(twins).toEqual({ fares: ["a.ts"], tides: ["tides.ts"], later: [] });
  });
});
