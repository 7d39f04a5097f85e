import { readFileSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { shrinkCaseOfFile } from "@/service/check/shrink-case";
import { keepCases } from "@/service/edits/keep-cases";
import { openPort, readCases } from "@/service/port/open-port";
import { temporaryPort } from "@/testing/temporary-port";

const port = () =>
  temporaryPort({
    original: "def width(words, sep=' '):\n    return len(sep.join(words))\n",
    twin: "export const width = (words: string[], sep = ' ') => words.join(sep).length;\n",
    cases: [
      { id: "w1", module: "m", call: "width", args: [["tern", "auk 🐦 here", "gull"], ", "] },
      { id: "w2", module: "m", call: "width", args: [["tern"]] },
    ],
  });

describe("shrinking a case of a port", () => {
  it("asks both sides until nothing smaller shows the same, and keeps it as a case of its own", async () => {
    const folder = port();
    const end = await shrinkCaseOfFile(folder, { caseId: "w1" });
    expect(end).toMatchObject({
      from: "w1",
      state: "smallest",
      case: { id: "w1-small", args: [["🐦"]], from: "minimised" },
      divergences: [{ at: "value", original: 1, twin: 2 }],
    });
    const open = await openPort(folder);
    const kept = await keepCases(open, await readCases(open), [end.case], "minimised");
    expect(kept.file).toBe("cases/minimised.jsonl");
    expect(JSON.parse(readFileSync(path.join(folder, kept.file), "utf8"))).toMatchObject({
      id: "w1-small",
      args: [["🐦"]],
      from: "minimised",
    });
    expect((await readCases(await openPort(folder))).map(({ id }) => id)).toEqual(["w1", "w2", "w1-small"]);
    await expect(keepCases(open, await readCases(open), [end.case], "minimised")).rejects.toMatchObject({
      code: "bad-input",
    });
  });

  it("refuses a case that does not differ", async () => {
    await expect(shrinkCaseOfFile(port(), { caseId: "w2" })).rejects.toMatchObject({
      code: "bad-input",
      what: expect.stringContaining('its outcome is "agree"'),
    });
  });

  it("that is stopped gives the smallest so far, and what it shows", async () => {
    const stopper = new AbortController();
    const end = await shrinkCaseOfFile(port(), {
      caseId: "w1",
      signal: stopper.signal,
      onBest: () => stopper.abort(),
    });
    expect(end).toMatchObject({ state: "stopped", tries: expect.any(Number), divergences: [{ at: "value" }] });
    expect(end.sizeAfter).toBeLessThan(end.sizeBefore);
    await expect(shrinkCaseOfFile(port(), { caseId: "w1", signal: AbortSignal.abort() })).rejects.toMatchObject({
      what: expect.stringContaining("was stopped before"),
    });
  });
});
