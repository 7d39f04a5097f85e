import { describe, expect, it } from "vitest";
import { countOutcomes, emptyTotals, type Outcome } from "@/core/formats/report";
import { findLayers } from "@/core/order/layers";
import { type ModuleFacts, moduleState, worstOutcome } from "@/core/progress/module-state";
import { barSegments } from "@/core/progress/twin-bar";
import { makeReport } from "@/core/report/report";
import { formatJunit } from "@/core/report/writers/junit";
import { formatSarif } from "@/core/report/writers/sarif";

const totals = (...outcomes: Outcome[]) => countOutcomes(outcomes);
const facts = (extra: Partial<ModuleFacts>): ModuleFacts => ({
  leftOut: false,
  hasTwin: true,
  needsMet: true,
  totals: totals("agree"),
  stale: false,
  lines: 3,
  provenLines: 3,
  ...extra,
});

describe("a module's state", () => {
  it.each<[string, Partial<ModuleFacts>, string]>([
    ["left out by a person", { leftOut: true }, "left-out"],
    ["no twin, needs met", { hasTwin: false }, "ready"],
    ["no twin, needs unmet", { hasTwin: false, needsMet: false }, "waiting"],
    ["something differs", { totals: totals("agree", "differ") }, "under-way"],
    ["some sections wait", { totals: totals("agree", "skipped") }, "under-way"],
    ["no case at all", { totals: emptyTotals() }, "under-way"],
    ["checked before the last change", { stale: true }, "under-way"],
    ["all agree, a line is not reached", { provenLines: 2 }, "agrees"],
    ["all agree, lines are not traced", { provenLines: null }, "agrees"],
    ["all agree, every line is reached", { totals: totals("agree", "allowed") }, "proven"],
  ])("%s", (_what, extra, expected) => {
    expect(moduleState(facts(extra))).toBe(expected);
  });

  it("is shown by its worst outcome", () => {
    expect(worstOutcome(totals("agree", "differ", "broken"))).toBe("broken");
    expect(worstOutcome(totals("agree", "skipped"))).toBe("agree");
    expect(worstOutcome(totals("skipped"))).toBe("skipped");
    expect(worstOutcome(emptyTotals())).toBe("idle");
  });
});

describe("layers", () => {
  it("put what needs nothing at the bottom and a knot in one layer", () => {
    const needs = new Map([
      ["sheet", ["table", "money"]],
      ["table", ["list"]],
      ["list", ["table", "clock"]],
      ["money", []],
      ["clock", ["outside"]],
    ]);
    const { layer, knots } = findLayers(needs);
    expect(Object.fromEntries(layer)).toEqual({ clock: 0, money: 0, table: 1, list: 1, sheet: 2 });
    expect(knots.map((knot) => [...knot].sort())).toEqual([["list", "table"]]);
  });

  it("are found for a chain of ten thousand modules", () => {
    const needs = new Map(
      Array.from({ length: 10_000 }, (_, index) => [`m${index}`, index > 0 ? [`m${index - 1}`] : []]),
    );
    expect(findLayers(needs).layer.get("m9999")).toBe(9999);
  });
});

describe("the twin bar", () => {
  it("cuts a class at its methods and tells the share of proven lines", () => {
    const sections = [
      { name: "H", from: 1, to: 9, hasTwin: true, totals: emptyTotals() },
      { name: "H.a", from: 3, to: 5, hasTwin: true, totals: totals("agree") },
      { name: "f", from: 11, to: 12, hasTwin: false, totals: emptyTotals() },
    ];
    expect(barSegments(sections, { executable: [1, 3, 4, 11, 12], proven: [1, 3] })).toEqual([
      { name: "H", lines: 2, proven: 1, twin: "present" },
      { name: "H.a", lines: 3, proven: 0.5, twin: "agree" },
      { name: "f", lines: 2, proven: 0, twin: "none" },
    ]);
    expect(barSegments(sections, null)[0]?.proven).toBeNull();
  });
});

const report = (id: string, outcome: Outcome, at: string, extra: object = {}) => ({
  id,
  module: "m",
  twin: "ts",
  outcome,
  divergences: outcome === "differ" ? [{ at, original: 1, twin: 2, kind: "number" }] : [],
  allowances: [],
  ms: { original: 1, twin: 2 },
  ...extra,
});

describe("the report", () => {
  const cases = [
    report("a", "differ", "value"),
    report("b", "agree", ""),
    report("c", "broken", "", { side: "twin", why: "crashed: <x>", lastOutput: "bad\u0007" }),
  ];
  const made = makeReport({
    port: "P",
    startedAt: "2031-01-01T00:00:00Z",
    seconds: 1.23456,
    state: "complete",
    verdicts: cases,
    cases,
    modules: [
      { name: "m", lines: 10, provenLines: new Map([["ts", 4]]), size: new Map([["original", 12]]), peakMb: new Map() },
    ],
    twins: ["ts"],
    allowances: [{ id: "a1", where: {}, allow: { ignore: true }, reason: "r" }],
    uses: new Map(),
    toolchains: [],
    protections: [],
    changed: [],
    warnings: new Map(),
    families: [],
  });

  it("counts by module and in all, and tells allowances that were never used", () => {
    expect(made.totals).toMatchObject({ cases: 3, differ: 1, agree: 1, broken: 1 });
    expect(made.modules[0]).toMatchObject({ name: "m", provenLines: 4, totals: { cases: 3 } });
    expect(made.allowances).toEqual([{ id: "a1", reason: "r", used: 0 }]);
  });

  it("is written as JUnit, with what XML cannot hold shown by its code", () => {
    const xml = formatJunit(made);
    expect(xml).toContain('tests="3" failures="1" errors="1" skipped="0"');
    expect(xml).toContain('<failure message="value: 1 against 2">');
    expect(xml).toContain("crashed: &lt;x&gt;");
    expect(xml).toContain("bad\\u0007");
  });

  it("is written as SARIF: families with their first suspect, broken cases, and where their code is", () => {
    const family = {
      id: "f1",
      twin: "ts",
      module: "m",
      call: "f",
      at: "value",
      sentence: "Halves rounded differently",
    };
    const suspects = [{ cause: "rounding-mode", score: 0.9, evidence: "1 of 1 pairs" }];
    const families = [{ ...family, simplest: "a", cases: ["a"], suspects }];
    const sarif = JSON.parse(formatSarif({ ...made, families }, (module) => `twin/${module}.ts`));
    expect(sarif).toMatchObject({ version: "2.1.0", runs: [{ tool: { driver: { name: "Side Twin" } } }] });
    const { results } = sarif.runs[0];
    expect(results.map((result: { ruleId: string }) => result.ruleId)).toEqual(["differs", "broken"]);
    expect(results[0].message.text).toBe(
      "Halves rounded differently: 1 case of m.f, at value, such as a. Suspected: rounding-mode (1 of 1 pairs).",
    );
    expect(results[0].locations[0].physicalLocation.artifactLocation.uri).toBe("twin/m.ts");
    expect(results[1].message.text).toBe("c is broken on the twin: crashed: <x>.");
  });
});
