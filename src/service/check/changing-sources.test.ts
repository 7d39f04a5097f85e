/** Sources that are saved while a check runs: every verdict is of one text, and what was kept meanwhile is not used again. */
import { writeFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { temporaryFolder, temporaryPort } from "@/testing/temporary-port";

const twin = (plus: number) => `export const f = (n: number) => n + ${plus};\n`;
const port = () =>
  temporaryPort({
    original: "def f(n):\n    return n + 1\n",
    twin: twin(1),
    cases: Array.from({ length: 60 }, (_, n) => ({ id: `c${n}`, module: "m", call: "f", args: [n] })),
  });

describe("a source that is saved while it is checked", () => {
  it("is checked again, and all verdicts are of the text as it is then", async () => {
    const folder = port();
    const file = path.join(folder, "twin/m.ts");
    const answersFolder = temporaryFolder();
    let verdicts = 0;
    const { report } = await runCheckOfFile(folder, {
      answersFolder,
      onVerdict: () => {
        if (verdicts++ === 5) writeFileSync(file, twin(2));
      },
    });
    expect(report.totals).toMatchObject({ cases: 60, differ: 60 });
    expect(report.changed).toBeUndefined();
    // What the first try kept under the stamp of the old text may be of the new one.
    writeFileSync(file, twin(1));
    expect((await runCheckOfFile(folder, { answersFolder })).report).toMatchObject({
      totals: { agree: 60 },
      reused: { twin: 0 },
    });
    expect((await runCheckOfFile(folder, { answersFolder })).report).toMatchObject({ reused: { twin: 60 } });
  });

  it("again and again is named in the report", async () => {
    const folder = port();
    let saves = 0;
    const { report } = await runCheckOfFile(folder, {
      onPhase: (phase) => {
        if (phase === "trace") writeFileSync(path.join(folder, "twin/m.ts"), `${twin(1)}// ${saves++}\n`);
      },
    });
    expect(report.changed).toEqual(["twin/m.ts"]);
    expect(saves).toBe(3);
  });
});
