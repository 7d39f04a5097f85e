/** The lines that one case runs on both sides. */
import { expect, it } from "vitest";
import { openPort, readCases } from "@/service/port/open-port";
import { linesOfCase } from "@/service/tracing/case-lines";
import { temporaryPort } from "@/testing/temporary-port";

it("tells the lines of both sides, and those that no agreeing case runs", async () => {
  const folder = temporaryPort({
    original: "def f(n):\n    if n > 2:\n        return n\n    return 0\n",
    twin: "export function f(n: number) {\n  if (n > 2) {\n    return n + 1;\n  }\n  return 0;\n}\n",
    cases: [1, 2, 5].map((n) => ({ id: `c${n}`, module: "m", call: "f", args: [n] })),
  });
  const open = await openPort(folder);
  const cases = await readCases(open);
  const wrong = cases.find(({ id }) => id === "c5");
  if (!wrong) throw new Error("the case is there");
  const lines = await linesOfCase(open, wrong, { twin: "ts", agreeing: cases.filter((item) => item !== wrong) });
  expect(lines.original["m.py"]).toEqual([2, 3]);
  expect(lines.twin["m.ts"]).toEqual(expect.arrayContaining([2, 3]));
  expect(lines.onlyHere["m.ts"]).toContain(3);
  expect(lines.onlyHere["m.ts"]).not.toContain(2);
});
