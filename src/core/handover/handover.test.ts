import { describe, expect, it } from "vitest";
import { emptyTotals, type Totals } from "@/core/formats/report";
import { type Handover, journalParts, stateOf } from "@/core/handover/handover";
import { WRITERS } from "@/core/handover/writers/index";
import type { JournalEntry } from "@/core/journal/journal";

const totals = (some: Partial<Totals>): Totals => ({ ...emptyTotals(), ...some });
const entry = (id: string, at: string, kind: JournalEntry["kind"], rest: object = {}): JournalEntry => ({
  id,
  at: `${at}T10:00:00.000Z`,
  kind,
  text: `text of ${id}`,
  ...rest,
});
const ENTRIES = [
  entry("a", "2026-04-01", "decision"),
  entry("b", "2026-04-02", "assumption", { holds: "open", module: "weirs", section: "rise" }),
  entry("c", "2026-04-03", "assumption", { holds: "false" }),
  entry("d", "2026-04-04", "applied", { by: "side-twin" }),
];

const handover = (some: Partial<Handover> = {}): Handover => ({
  format: "side-twin/handover",
  version: 1,
  port: "Weirs & <Locks>",
  at: "2026-05-06T07:08:09.000Z",
  since: null,
  original: "c",
  totals: totals({ cases: 5, agree: 3, allowed: 1, differ: 1 }),
  twins: [
    {
      name: "rs",
      language: "rust",
      leftovers: 2,
      rungs: [
        {
          name: "safe",
          gain: "no raw pointer",
          reached: false,
          isGoal: true,
          unmet: [{ what: "cases that differ", count: 1 }],
        },
      ],
      modules: [
        {
          name: "weirs",
          state: "under-way",
          why: null,
          totals: totals({ cases: 5, agree: 3 }),
          lines: 8,
          provenLines: 6,
        },
        {
          name: "old | one",
          state: "left-out",
          why: "nobody calls it",
          totals: totals({}),
          lines: 4,
          provenLines: null,
        },
      ],
    },
  ],
  allowances: [{ id: "rounding", reason: "the last digit", used: 1 }],
  figures: [{ name: "size", unit: "B", original: 90, twins: { rs: null } }],
  ...journalParts(ENTRIES, null),
  ...some,
});
const write = (form: string, some: Partial<Handover> = {}): string => WRITERS[form]?.(handover(some)) ?? "";

describe("a module that is handed over", () => {
  it.each([
    [{ cases: 2, agree: 2 }, 4, 4, "proven"],
    [{ cases: 2, agree: 1, allowed: 1 }, 4, 3, "agrees"],
    [{ cases: 2, agree: 2 }, 4, null, "agrees"],
    [{ cases: 2, agree: 1, skipped: 1 }, 4, 4, "under-way"],
    [{ cases: 2, skipped: 2 }, 4, 0, "not-ported"],
    [{}, 0, 0, "not-ported"],
  ])("with %j and %i lines, %s proven, is %s", (some, lines, provenLines, state) => {
    expect(stateOf({ totals: totals(some), lines, provenLines }, false)).toBe(state);
    expect(stateOf({ totals: totals(some), lines, provenLines }, true)).toBe("left-out");
  });
});

describe("the journal in a handover", () => {
  it("gives decisions and open assumptions whole, changes since a moment only", () => {
    const { decisions, assumptions, changes } = journalParts(ENTRIES, "2026-04-02T10:00:00.000Z");
    expect([decisions, assumptions, changes].map((list) => list.map(({ id }) => id).join(""))).toEqual([
      "a",
      "b",
      "dc",
    ]);
  });
});

describe("a handover in writing", () => {
  it("is Markdown in which text cannot become markup", () => {
    const text = write("md");
    expect(text).toContain("# Weirs \\& \\<Locks\\>: the state of the port");
    expect(text).toContain("| weirs | under way | 5 | 3 | 0 | 0 | 0 | 6 of 8 |");
    expect(text).toContain("| old \\| one | left out: nobody calls it |");
    expect(text).toContain("1 case that differs");
    expect(text).toContain("6 of 8 executable lines are proven (75 %). 2 mentions of the old way are left.");
    expect(text).toContain("| size (B) | 90 | not measured |");
    expect(text).toContain("- 2026-04-02, weirs.rise: text of b");
    expect(text).not.toContain("text of c\n\n## ");
  });

  it("is one page of HTML without scripts and addresses", () => {
    const text = write("html");
    expect(text).toContain("Weirs &#38; &#60;Locks&#62;");
    expect(text).not.toMatch(/<Locks>|<script|https?:|src=|@import/);
    expect(text.match(/<table>/g)).toHaveLength(4);
  });

  it("leaves out what is empty", () => {
    const text = write("md", { allowances: [], figures: [], decisions: [], assumptions: [], changes: [] });
    for (const heading of ["may differ", "Before", "Decisions", "Assumptions", "What was done"])
      expect(text).not.toContain(heading);
  });

  it("is a changelog by day, the newest first, and says when it is empty", () => {
    expect(write("changelog")).toMatch(/## 2026-04-04\n\n- applied: text of d \(side-twin\)\n\n## 2026-04-03\n/);
    expect(write("changelog", { changes: [], since: "2026-05-01T00:00:00.000Z" })).toContain("since 2026-05-01");
  });

  it("is the record itself as JSON", () => {
    expect(JSON.parse(write("json"))).toEqual(handover());
  });
});
