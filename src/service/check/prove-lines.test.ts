import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const PLAIN = `"use strict";
const { half } = require("./halves");
let calls = 0;
function grade(n) {
  calls++;
  if (n > 10) {
    return "big";
  } else if (n < 0) {
    throw new RangeError("negative");
  }
  return half(n) > 2 ? "mid" : "small";
}
function never(x) {
  const y = x * 2;
  return y;
}
class Box {
  constructor(n) {
    this.n = n;
  }
  unused() {
    return 0;
  }
}
module.exports = { grade, never, Box };
`;

const TYPED = `import { half } from "./halves";
export interface Thing {
  a: number;
}
export function pick(thing: Thing, other?: string): number {
  if (other) {
    return half(thing.a);
  }
  for (const item of [1, 2, 3]) {
    if (item === thing.a) return item;
  }
  return 0;
}
export const arrow = (n: number) => {
  return n + 1;
};
`;

describe("proven lines of JavaScript and TypeScript", () => {
  const files = { "plain.js": PLAIN, "halves.js": "exports.half = (n) => n / 2;\n", "typed.ts": TYPED };
  const cases = [
    { id: "g1", module: "plain", call: "grade", args: [20] },
    { id: "g2", module: "plain", call: "grade", args: [2] },
    { id: "b1", module: "plain", steps: [{ new: "Box", args: [2], as: "b" }] },
    { id: "p1", module: "typed", call: "pick", args: [{ a: 2 }] },
  ];
  const port = portFile({ original: { root: "original", language: "javascript" } });
  const side = (name: string) =>
    Object.fromEntries(Object.entries(files).map(([file, text]) => [`${name}/${file}`, text]));

  it("are the statements that agreeing cases ran through, through source maps too", async () => {
    const folder = temporaryFolder({
      "side-twin.json": port,
      ...side("original"),
      ...side("twin"),
      "cases/a.jsonl": cases,
    });
    const { end, report } = await runCheckOfFile(folder, {});
    expect(report.totals.agree).toBe(4);
    const plain = end.proven.get("ts")?.get("plain");
    const unproven = (module: string, file: string) => {
      const lines = end.proven.get("ts")?.get(module);
      return lines?.executable[file]?.filter((line) => !lines.proven[file]?.includes(line));
    };
    expect(plain?.executable["plain.js"]).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 11, 13, 14, 15, 17, 18, 19, 21, 22, 25]);
    expect(unproven("plain", "plain.js")).toEqual([9, 14, 15, 22]);
    expect(unproven("typed", "typed.ts")).toEqual([7, 12, 15]);
    expect(end.proven.get("ts")?.get("typed")?.executable["typed.ts"]).not.toContain(2);
  });

  it("are none where the twin differs", async () => {
    const twin = { ...side("twin"), "twin/plain.js": PLAIN.replace('"big"', '"BIG"') };
    const folder = temporaryFolder({
      "side-twin.json": port,
      ...side("original"),
      ...twin,
      "cases/a.jsonl": cases.slice(0, 1),
    });
    const { end } = await runCheckOfFile(folder, {});
    expect(end.proven.get("ts")?.get("plain")?.proven["plain.js"]).toEqual([]);
  });
});
