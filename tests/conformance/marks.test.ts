/** Lines that a case ran: by marks in the code, beside what V8 counts. */
import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import type { BridgeRequest, Pool, PoolAnswer } from "@/engine/bridge/pool";
import { packageRoot } from "@/engine/package-root";
import { parseSource } from "@/engine/source/parse";
import { poolFor } from "@/testing/driver-pool";
import { temporaryFolder } from "@/testing/temporary-port";
import { ROWS } from "./table";

const send = (pool: Pool, request: BridgeRequest): Promise<PoolAnswer> =>
  new Promise((done) => pool.add([{ request, done, tries: 0 }]));

async function withPool<T>(folder: string, isMarked: boolean, work: (pool: Pool) => Promise<T>): Promise<T> {
  const pool = await poolFor("javascript", folder);
  if (isMarked) Object.assign(pool.options, { hello: { ...pool.options.hello, lines: true } });
  try {
    return await work(pool);
  } finally {
    pool.stop();
  }
}

type Call = { readonly name: string; readonly args: readonly unknown[] };

const marked = (folder: string, file: string, calls: readonly Call[]) =>
  withPool(folder, true, async (pool) => {
    const answers: PoolAnswer[] = [];
    for (const call of calls) answers.push(await send(pool, { op: "call", file, ...call }));
    return answers;
  });

const counted = (folder: string, file: string, calls: readonly Call[]) =>
  withPool(folder, false, async (pool) => {
    await send(pool, { op: "coverage", action: "start" });
    const answers: { result: PoolAnswer["result"]; lines: PoolAnswer["lines"] }[] = [];
    for (const call of [...calls.slice(0, 1), ...calls]) {
      await send(pool, { op: "coverage", action: "since" });
      const { result } = await send(pool, { op: "call", file, ...call });
      const { lines } = await send(pool, { op: "coverage", action: "since" });
      answers.push({ result, lines });
    }
    // What loading the module ran comes with the first.
    return answers.slice(1);
  });

/** Columns of a trace are those of the code that ran. */
const withoutTrace = (answer: Pick<PoolAnswer, "result"> | undefined): unknown =>
  JSON.parse(JSON.stringify(answer?.result ?? null, (key, value) => (key === "trace" ? undefined : value)));

const ODD = `"use strict";
const table = { one: 1, two: 2 };
let total = 0;
function strictly(n) {
  "use strict"
  return n
}
export function pick(n, { by = n > 2 ? 3 : 4 } = {}) {
  if (n < 0) return -1;
  else if (n === 0)
    return strictly(by);
  for (let at = 0; at < n; at++) if (at % 2) total += at;
  else total -= 1;
  outer: for (const key of Object.keys(table))
    for (const other in table) {
      if (key === other) continue outer;
      total += table[key];
    }
  do total++; while (total < 3);
  switch (n) {
    case 1:
    case 2:
      total += 2;
    case 3: {
      total += 3;
      break;
    }
    default:
      total += 4;
  }
  return total;
}
export const arrow = (a, b) => a ? b && b.c : (
  b ?? [a].map((x) => ({ x }))
);
export class Gate {
  static #made = 0;
  static { Gate.#made = 1; }
  open = (n) => n > 1 ? n : 0;
  get made() { return Gate.#made; }
  static run(n) {
    try {
      if (n > 1) throw new Error("shut");
      return new Gate().open(n)
    } catch (error) {
      return error.message
    } finally {
      total = 0
    }
  }
}
export function* steps(n) { while (n-- > 0) { yield n; } }
export const early = async (n) => {
  if (n) { return 1 }
  await null
  return 2
};
export const nothing = () => {};
`;
const CALLS: readonly Call[] = [
  ...[-1, 0, 1, 2, 3, 9].map((n) => ({ name: "pick", args: [n] })),
  { name: "arrow", args: [1, { c: 2 }] },
  { name: "arrow", args: [0, null] },
  { name: "arrow", args: [1, null] },
  { name: "Gate.run", args: [1] },
  { name: "Gate.run", args: [2] },
  { name: "steps", args: [2] },
  { name: "early", args: [1] },
  { name: "early", args: [0] },
];

/** Of lines, those on which a statement begins, by file: the executable ones. */
async function executable(folder: string, file: string, lines: PoolAnswer["lines"]): Promise<number[]> {
  const { statementLines } = await parseSource(readFileSync(path.join(folder, file), "utf8"), "javascript");
  const known = new Set(statementLines);
  return (lines?.[file] ?? []).filter((line) => known.has(line));
}

describe("marks", () => {
  it.each(["odd.mjs", "odd.ts"])("change no answer and give the lines that V8 counts, in %s", async (file) => {
    const folder = temporaryFolder({ [file]: ODD });
    const [own, v8] = [await marked(folder, file, CALLS), await counted(folder, file, CALLS)];
    // V8 has the lines of loading in it too, as the module is run anew for each case.
    const [loading] = await counted(folder, file, [{ name: "nothing", args: [] }]);
    const ofLoading = new Set(await executable(folder, file, loading?.lines));
    // A field belongs to its class here, and to what makes an object for V8, which takes what is behind it along.
    for (const [index, line] of ODD.split("\n").entries())
      if (/^ {2}(open =|get made|static run)/.test(line)) ofLoading.add(index + 1);
    for (const [index, call] of CALLS.entries()) {
      const what = `${call.name}(${JSON.stringify(call.args)})`;
      expect(own[index]?.result, what).toMatchObject({ kind: "call" });
      expect(withoutTrace(own[index]), what).toEqual(withoutTrace(v8[index]));
      const theirs = await executable(folder, file, v8[index]?.lines);
      expect(await executable(folder, file, own[index]?.lines), what).toEqual(
        theirs.filter((line) => !ofLoading.has(line)),
      );
    }
  });

  it("are given the same number for the same lines, and new ones for another text", async () => {
    const file = "m.mjs";
    const folder = temporaryFolder({ [file]: "export const f = (n) => {\n  if (n)\n    return 1;\n  return 2;\n};\n" });
    await withPool(folder, true, async (pool) => {
      const ask = (n: number) => send(pool, { op: "call", file, name: "f", args: [n] });
      const [one, two, three] = [await ask(1), await ask(0), await ask(5)];
      expect([one.lines, two.lines]).toEqual([{ [file]: [2, 3, 5] }, { [file]: [2, 4, 5] }]);
      expect(three.lines).toBe(one.lines);
      pool.replaceTexts({ [file]: "\nexport const f = (n) => {\n  return n;\n};\n" });
      expect((await ask(1)).lines).toEqual({ [file]: [3, 4] });
    });
  });

  it("leave code that they cannot be put into as it is", async () => {
    const folder = temporaryFolder({ "m.cjs": "exports.f = (n) => n;\nwith (exports) { f; }\n", "d.json": "[1]" });
    const [answer] = await marked(folder, "m.cjs", [{ name: "f", args: [3] }]);
    expect(answer?.result).toMatchObject({ value: 3 });
  });

  it("change no answer of the conformance table", async () => {
    const folder = path.join(packageRoot(), "tests/conformance/sides");
    const calls = ROWS.map(({ name, args }) => ({ name, args }));
    const [own, v8] = [await marked(folder, "side.js", calls), await counted(folder, "side.js", calls)];
    for (const [index, call] of calls.entries())
      expect(withoutTrace(own[index]), call.name).toEqual(withoutTrace(v8[index]));
  });
});
