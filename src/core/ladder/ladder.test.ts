import { describe, expect, it } from "vitest";
import { diagnostic } from "@/core/diagnostics/diagnostic";
import type { Rung } from "@/core/formats/port-file";
import { climb, type LadderFacts } from "@/core/ladder/ladder";

const facts = (given: Partial<LadderFacts> = {}): LadderFacts => ({
  modules: ["m", "n"],
  diagnostics: new Map(),
  cases: null,
  lines: null,
  leftovers: null,
  tests: null,
  commands: new Map(),
  ...given,
});
const check = { command: ["x"], reads: "gcc" as const };
const rungs: Rung[] = [
  { name: "builds", check },
  { name: "same", cases: "agree", proven: 0.5 },
];
const error = (module: string | null) => ({ ...diagnostic({ message: "no" }), module, section: null });

describe("a ladder", () => {
  it("is climbed from below: a rung is not reached while one below it is not", () => {
    const [builds, same] = climb(
      rungs,
      "t",
      facts({
        diagnostics: new Map([["builds", [error("m"), error(null)]]]),
        cases: [{ module: "m", outcome: "agree" }],
        lines: new Map([["m", { lines: 2, proven: 1 }]]),
      }),
    );
    expect(builds).toMatchObject({ reached: false, unmet: [{ what: "errors of its check", count: 2 }] });
    expect(builds?.modules).toEqual([
      { name: "m", reached: false, errors: 1 },
      { name: "n", reached: true, errors: 0 },
    ]);
    expect(same).toMatchObject({ reached: false, unmet: [{ what: 'the rung "builds" below', count: 1 }] });
  });

  it("counts each kind of case that does not agree, and the lines that are short", () => {
    const cases = (["agree", "allowed", "differ", "skipped", "skipped"] as const).map((outcome) => ({
      module: "m",
      outcome,
    }));
    const states = climb(
      rungs,
      "t",
      facts({ diagnostics: new Map([["builds", []]]), cases, lines: new Map([["m", { lines: 9, proven: 4 }]]) }),
    );
    expect(states[1]?.unmet).toEqual([
      { what: "cases that differ", count: 1 },
      { what: "cases that are not ported yet", count: 2 },
      { what: "lines short of the share to be proven", count: 1 },
    ]);
    expect(states[1]?.modules.map(({ reached }) => reached)).toEqual([false, true]);
  });

  it("is not climbed by what could not be found out", () => {
    const all: Rung[] = [
      { name: "r", check, cases: "agree", leftovers: "none", tests: "same", command: ["y"], proven: 1 },
    ];
    expect(climb(all, "t", facts())[0]?.unmet.map(({ count }) => count)).toEqual([1, 1, 1, 1, 1, 1]);
  });

  it("stands on no rung with a module whose cases or leftovers are not known", () => {
    const unknown: Rung[] = [
      { name: "same", cases: "agree" },
      { name: "clean", leftovers: "none" },
    ];
    const [same, clean] = climb(unknown, "t", facts());
    expect(same?.modules.map(({ reached }) => reached)).toEqual([false, false]);
    expect(clean?.modules.map(({ reached }) => reached)).toEqual([false, false]);
    expect(clean?.unmet[0]?.what).toBe("the phrasebook could not be read");
    const known = climb(unknown, "t", facts({ cases: [{ module: "m", outcome: "agree" }], leftovers: new Map() }));
    expect(known.map(({ reached }) => reached)).toEqual([true, true]);
  });

  it("leaves out rungs of another twin", () => {
    expect(climb([{ name: "r", twin: "other", command: ["y"] }], "t", facts())).toEqual([]);
  });
});
