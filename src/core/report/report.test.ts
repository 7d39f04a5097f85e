import { describe, expect, it } from "vitest";
import { reportSchema } from "@/core/formats/report";
import { type CountedCase, makeReport, type ReportFacts } from "@/core/report/report";

const counted = (fields: Partial<CountedCase>): CountedCase => ({
  outcome: "agree",
  module: "quay",
  twin: "ts",
  ms: { original: 2, twin: 3 },
  ...fields,
});

const facts = (fields: Partial<ReportFacts> = {}): ReportFacts => ({
  port: "Quays",
  startedAt: "2031-04-02T10:00:00.000Z",
  seconds: 1.23456,
  state: "complete",
  verdicts: [],
  cases: [],
  modules: [
    {
      name: "quay",
      lines: 10,
      provenLines: new Map([["ts", 7]]),
      size: new Map([
        ["original", 12],
        ["ts", 15],
      ]),
      peakMb: new Map([["original", 40]]),
    },
  ],
  twins: ["ts"],
  allowances: [],
  uses: new Map(),
  toolchains: [],
  protections: ["no network"],
  changed: [],
  warnings: new Map(),
  families: [],
  ...fields,
});

describe("a report", () => {
  it("is of the format, and leaves out what there is nothing of", () => {
    const report = makeReport(facts());
    expect(reportSchema.parse(report)).toEqual(report);
    expect(report).toMatchObject({ seconds: 1.235, totals: { cases: 0 }, protections: ["no network"] });
    expect(report).not.toHaveProperty("changed");
    expect(report).not.toHaveProperty("warnings");
    expect(report).not.toHaveProperty("figures");
  });

  it("counts outcomes and reused answers over all cases, listed or not", () => {
    const report = makeReport(
      facts({
        verdicts: [
          counted({}),
          counted({ outcome: "differ", reused: ["original"] }),
          counted({ outcome: "broken", reused: ["original", "twin"], module: null }),
        ],
      }),
    );
    expect(report.totals).toMatchObject({ cases: 3, agree: 1, differ: 1, broken: 1 });
    expect(report.reused).toEqual({ original: 2, twin: 1 });
    expect(report.cases).toEqual([]);
  });

  it("has each module once a twin, with its own cases, sizes and times", () => {
    const report = makeReport(
      facts({
        twins: ["ts", "go"],
        verdicts: [
          counted({ ms: { original: 1500, twin: null } }),
          counted({ ms: { original: 1.4, twin: 250 }, outcome: "allowed" }),
          counted({ twin: "go", ms: { original: null, twin: null }, outcome: "skipped" }),
          counted({ module: "sea" }),
        ],
      }),
    );
    expect(report.modules).toEqual([
      expect.objectContaining({
        name: "quay",
        twin: "ts",
        totals: expect.objectContaining({ cases: 2, agree: 1, allowed: 1 }),
        lines: 10,
        provenLines: 7,
        size: { original: 12, twin: 15 },
        seconds: { original: 1.501, twin: 0.25 },
        peakMb: { original: 40, twin: null },
      }),
      expect.objectContaining({
        twin: "go",
        totals: expect.objectContaining({ cases: 1, skipped: 1 }),
        provenLines: null,
        size: { original: 12, twin: null },
        seconds: { original: null, twin: null },
      }),
    ]);
  });

  it("names files that changed meanwhile and warnings with their cases", () => {
    const report = makeReport(
      facts({ changed: ["twin/a.ts"], warnings: new Map([["no file matches out/*", ["a", "b"]]]) }),
    );
    expect(report.changed).toEqual(["twin/a.ts"]);
    expect(report.warnings).toEqual([{ what: "no file matches out/*", cases: ["a", "b"] }]);
  });

  it("lists every allowance with how often it was used", () => {
    const allowance = { id: "a1", reason: "printed tables", module: "quay", allow: { float: { absolute: 1 } } };
    const report = makeReport(facts({ allowances: [allowance as never] }));
    expect(report.allowances).toEqual([{ id: "a1", reason: "printed tables", used: 0 }]);
  });
});
