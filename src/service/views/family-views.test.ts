import { describe, expect, it } from "vitest";
import { sectionOf } from "@/core/cases/hand-over";
import { parseCaseLines } from "@/core/formats/case-line";
import { familyViews } from "@/service/views/family-views";
import type { PortFacts } from "@/service/views/port-facts";
import type { FamilyRow } from "@/store/families";
import type { VerdictRow } from "@/store/verdicts";

const cases = parseCaseLines(
  [
    ...[1, 2, 3].map((n) => ({ id: `f${n}`, module: "m", call: "f", args: [n] })),
    ...[1, 2].map((n) => ({ id: `g${n}`, module: "m", call: "g", args: [n] })),
    { id: "run", run: { argv: [] } },
  ]
    .map((line) => JSON.stringify(line))
    .join("\n"),
  "cases",
);

const verdict = (caseId: string, outcome: string, fields: Partial<VerdictRow> = {}) =>
  ({ caseId, twin: "ts", module: "m", outcome, side: null, why: null, ...fields }) as VerdictRow;

const row = (fields: Partial<FamilyRow> = {}) =>
  ({
    checkId: 7,
    ordinal: 1,
    twin: "ts",
    module: "m",
    call: "f",
    at: "value",
    sentence: "numbers differ",
    simplest: "f1",
    cases: ["f1", "f2"],
    suspects: [{ cause: "rounding-mode", score: 0.8, evidence: "2 of 2" }],
    inner: null,
    ...fields,
  }) as unknown as FamilyRow;

/** Only what families are made of. */
const facts = (verdicts: readonly VerdictRow[]): PortFacts =>
  ({
    twin: "ts",
    verdicts,
    reading: { cases, modules: [], open: { modules: [{ name: "m" }] } },
  }) as unknown as PortFacts;

describe("families as they are shown", () => {
  it("have their suspects in words, and an unknown cause by its name", () => {
    const suspects = [
      { cause: "rounding-mode", score: 0.8, evidence: "" },
      { cause: "of-tomorrow", score: 0.1, evidence: "" },
    ];
    const [family] = familyViews(facts([verdict("f1", "differ"), verdict("f2", "differ")]), [
      row({ suspects } as Partial<FamilyRow>),
    ]);
    expect(family).toMatchObject({ id: "7-1", mark: "differ", cases: ["f1", "f2"], simplest: "f1" });
    expect(family?.suspects).toMatchObject([
      { title: "Halves rounded differently", place: null },
      { title: "of-tomorrow", note: "" },
    ]);
  });

  it("lose cases that were mended or allowed since the check, and go with the last", () => {
    const since = [verdict("f1", "agree"), verdict("f2", "differ")];
    expect(familyViews(facts(since), [row()])).toMatchObject([{ cases: ["f2"], simplest: "f2" }]);
    expect(familyViews(facts([verdict("f1", "agree"), verdict("f2", "allowed")]), [row()])).toEqual([]);
  });

  it("of other twins are not shown", () => {
    expect(familyViews(facts([verdict("f1", "differ")]), [row({ twin: "go" })])).toEqual([]);
  });

  it("of broken cases come first, one for a section, side and kind", () => {
    const broken = [
      verdict("f1", "broken", { side: "twin", why: "timed-out: it took longer than 5000 ms" }),
      verdict("f2", "broken", { side: "twin", why: "timed-out: it took longer than 5000 ms" }),
      verdict("f3", "broken", { side: "original", why: "would-not-load: No module named x\nand more" }),
      verdict("g1", "differ"),
      verdict("g2", "differ"),
    ];
    const all = familyViews(facts(broken), [row({ call: "g", cases: ["g1", "g2"], simplest: "g1" })]);
    expect(all.map(({ mark, call, at, sentence, cases: own }) => [mark, call, at, sentence, own])).toEqual([
      ["broken", "f", "the twin", "Timed out", ["f1", "f2"]],
      ["broken", "f", "the original", "Would not load: No module named x", ["f3"]],
      ["differ", "g", "value", "numbers differ", ["g1", "g2"]],
    ]);
  });

  it("keep the reason of a break to one line, and leave it out where cases have several", () => {
    const long = `crashed: ${"x".repeat(200)}\nsecond line`;
    const [one] = familyViews(
      facts([verdict("run", "broken", { module: null as never, side: "both", why: long })]),
      [],
    );
    expect(one).toMatchObject({ module: null, call: "run", at: "both sides" });
    expect(one?.sentence).toMatch(/^Crashed: x{120}…$/);
    const [two] = familyViews(
      facts([
        verdict("f1", "broken", { side: "twin", why: "ended: status 1" }),
        verdict("f2", "broken", { side: "twin", why: "ended: status 2" }),
      ]),
      [],
    );
    expect(two?.sentence).toBe("Ended itself");
  });

  it("of a break that nobody knows are shown all the same", () => {
    const [family] = familyViews(facts([verdict("f1", "broken", { side: null, why: null })]), []);
    expect(family).toMatchObject({ at: "both sides", sentence: "Could not be run" });
  });

  it("name the section that a case is of", () => {
    expect(cases.map(sectionOf)).toEqual(["f", "f", "f", "g", "g", "run"]);
  });
});
