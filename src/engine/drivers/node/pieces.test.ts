import vm from "node:vm";
import { transformSync } from "esbuild";
import { describe, expect, it } from "vitest";
import { createPieces } from "@/engine/drivers/node/pieces.mjs";

const BASE = `import { tide as level } from "./tide.js";
const STEP = 3;
const TEXT = \`
plain text at the start of a line;
\`;

export function berth(ship) {
  return ship.length + STEP;
}

export const half = (n) => n / 2;

export class Quay {
  constructor(n) {
    this.n = n;
  }
  twice() {
    return half(this.n) * 4;
  }
}

function inner(n) {
  if (n > 1) {
    return inner(n - 1) + 1;
  }
  return 1;
}

export async function later(n) {
  return level(n) + inner(n);
}

export default function main() {
  return TEXT;
}
`;

const wholes: string[] = [];
const whole = (file: string, source: string) => {
  wholes.push(source);
  return transformSync(source, { format: "cjs", loader: file.endsWith(".ts") ? "ts" : "js", target: "node20" }).code;
};
const piece = (file: string, source: string) =>
  file.endsWith(".ts") ? transformSync(source, { loader: "ts", target: "node20" }).code : source;

const run = (code: string): Record<string, never> => {
  const module = { exports: {} };
  const tide = { tide: (n: number) => n * 100 };
  vm.runInNewContext(`(function (module, require) {${code}\n})`)(module, () => tide);
  return module.exports as Record<string, never>;
};

/** What the exports answer, those that are promises awaited. */
async function answers(code: string): Promise<unknown[]> {
  const { berth, half, Quay, later } = run(code) as unknown as {
    berth: (ship: string) => unknown;
    half: (n: number) => unknown;
    Quay: new (n: number) => { twice: () => unknown };
    later: (n: number) => Promise<unknown>;
  };
  return [berth("auk"), half(7), new Quay(5).twice(), await later(2)];
}

describe.each(["m.mjs", "m.ts"])("a change in %s", (file) => {
  const compile = createPieces({ compileWhole: whole, compilePiece: piece });

  it.each<[string, string, string]>([
    ["of a function", "ship.length + STEP", "ship.length * STEP + 1"],
    ["of its parameters", "berth(ship)", "berth(ship, more = 2)"],
    ["of a function in a constant", "n / 2;", "Math.floor(n / 2);"],
    ["of a class", "half(this.n) * 4", "half(this.n) - 4"],
    ["of a function that is not exported", "inner(n - 1) + 1", "inner(n - 1) + 2"],
    ["that adds lines", "  if (n > 1) {\n", "  if (n === 2) {\n    return 9;\n  }\n  if (n > 1) {\n"],
    ["that takes lines away", "  if (n > 1) {\n    return inner(n - 1) + 1;\n  }\n", ""],
  ])("%s is compiled alone, and answers as the whole", async (_what, from, to) => {
    const changed = BASE.replace(from, to);
    expect(changed).not.toBe(BASE);
    const code = compile(file, BASE, changed);
    expect(code).not.toBeNull();
    expect(await answers(code ?? "")).toEqual(await answers(whole(file, changed)));
  });

  it.each<[string, (text: string) => string]>([
    ["that is none", (text) => text],
    ["where what is imported is used", (text) => text.replace("level(n) +", "level(n) -")],
    ["of two functions", (text) => text.replace("STEP;\n}", "STEP + 1;\n}").replace("return 1;", "return 2;")],
    ["of an import", (text) => text.replace("tide as level", "tide as tall")],
    ["of a name", (text) => text.replace("function inner", "function outer")],
    ["of what is exported by default", (text) => text.replace("return TEXT", "return 1")],
    ["of a text that looks like code", (text) => text.replace("plain text", "other text")],
  ])("%s is left to the whole", (_what, change) => {
    expect(compile(file, BASE, change(BASE))).toBeNull();
  });

  it("compiles the rest once for many changes of a piece", () => {
    const own = createPieces({ compileWhole: whole, compilePiece: piece });
    wholes.length = 0;
    for (let at = 0; at < 5; at++) own(file, BASE, BASE.replace("ship.length", `ship.length + ${at}`));
    expect(wholes).toHaveLength(1);
  });
});

it("keeps types of TypeScript out of a piece's code", () => {
  const base =
    "export type Ship = { n: number };\nexport function load(ship: Ship): number {\n  return ship.n as number;\n}\n";
  const compile = createPieces({ compileWhole: whole, compilePiece: piece });
  const code = compile("m.ts", base, base.replace("as number;", "* 2 as number;"));
  const { load } = run(code ?? "") as unknown as { load: (ship: { n: number }) => number };
  expect(load({ n: 4 })).toBe(8);
});
