/** What the Phrasebook, the Journal and the ladder show, worked out without a screen. */
import { describe, expect, it } from "vitest";
import type { LadderView } from "@/api/making-views";
import { describeUnmet } from "@/core/ladder/ladder";
import { byDay, describeKind, type Entry, filterEntries } from "@/ui/state/journal-days";
import {
  complainingModules,
  complaintsIn,
  complaintsOf,
  countComplaints,
  rungsOf,
  standingOf,
} from "@/ui/state/ladder";
import { draftPhrase } from "@/ui/state/phrase-draft";
import { byFile, countFates, fateOf, type Place } from "@/ui/state/phrase-places";

const place = (file: string, line: number, state: Place["state"]): Place =>
  ({ file, line, column: 1, before: "a", after: "b", state, why: null }) as Place;

describe("places of a phrase", () => {
  const places = [place("b.ts", 2, "kept"), place("a.ts", 1, "ready"), place("a.ts", 9, "open")];

  it("are counted by what becomes of them; only ready ones can be left out", () => {
    const refused = new Set(["a.ts:1", "a.ts:9"]);
    expect(countFates(places, new Set())).toEqual([
      ["ready", 1],
      ["open", 1],
      ["kept", 1],
    ]);
    expect(places.map((entry) => fateOf(entry, refused))).toEqual(["kept", "refused", "open"]);
  });

  it("come file by file, the kept ones last", () => {
    expect(byFile(places).map(([file, own]) => `${file} ${own.length}`)).toEqual(["a.ts 2", "b.ts 1"]);
  });
});

describe("a phrase that is being typed", () => {
  const draft = { kind: "code", from: " round((:n:)) ", to: "even((:n:))", why: "" } as const;

  it("has an id of its words, and a language only where it is code", () => {
    expect(draftPhrase(draft, "typescript")).toEqual({
      id: "round-even",
      kind: "code",
      language: "typescript",
      from: "round((:n:))",
      to: "even((:n:))",
    });
    expect(draftPhrase({ ...draft, kind: "text" }, "typescript")).not.toHaveProperty("language");
  });

  it("is none without the old way, nor without the new one where nothing could be taken away", () => {
    expect(draftPhrase({ ...draft, from: " " }, "c")).toBeNull();
    expect(draftPhrase({ ...draft, to: "" }, "c")).toMatchObject({ to: "" });
    expect(draftPhrase({ ...draft, kind: "name", to: "" }, "c")).toBeNull();
    expect(draftPhrase({ ...draft, from: "(:a:)", to: "" }, "c")).toMatchObject({ id: "phrase" });
  });
});

describe("journal entries", () => {
  const entries: Entry[] = [
    { id: "1", at: "2026-03-01T09:00:00.000Z", kind: "note", text: "the Ebb", module: "tides" },
    { id: "2", at: "2026-03-02T09:00:00.000Z", kind: "assumption", text: "calm", holds: "open" },
    { id: "3", at: "2026-03-01T10:00:00.000Z", kind: "decision", text: "flood" },
  ];

  it("come by day, the newest first", () => {
    expect(
      byDay(entries, (iso) => iso.slice(0, 10)).map(([day, own]) => [day, own.map(({ id }) => id).join("")]),
    ).toEqual([
      ["2026-03-02", "2"],
      ["2026-03-01", "31"],
    ]);
  });

  it("are found by all of the words, in any place", () => {
    expect(filterEntries(entries, "EBB tides").map(({ id }) => id)).toEqual(["1"]);
    expect(filterEntries(entries, "ebb flood")).toEqual([]);
    expect(filterEntries(entries, " ")).toHaveLength(3);
  });

  it("say whether an assumption holds", () => {
    expect((["open", "true", "false"] as const).map((holds) => describeKind({ kind: "assumption", holds }))).toEqual([
      "Assumed:",
      "Holds:",
      "No longer assumed:",
    ]);
  });
});

const complaint = (rung: string, module: string | null, line: number) =>
  ({
    rung,
    module,
    line,
    file: `${module ?? "x"}.ts`,
    column: 1,
    code: "E1",
    message: "m",
    severity: "error",
  }) as never;

const rung = (name: string, reached: readonly string[]): LadderView["rungs"][number] => ({
  name,
  twin: "ts",
  reached: false,
  unmet: [{ what: "errors of its check", count: 2 }],
  gain: null,
  modules: ["a", "b"].map((module) => ({ name: module, reached: reached.includes(module), errors: 0 })),
});

const ladder = (goal: string | null): LadderView => ({
  rungs: [rung("low", ["a"]), rung("middle", []), rung("high", [])],
  goal,
  diagnosed: null,
  diagnostics: [
    complaint("low", "b", 3),
    complaint("middle", "b", 3),
    complaint("middle", "a", 7),
    complaint("high", "a", 8),
    complaint("low", null, 1),
  ],
  gone: [],
  history: [],
  fresh: 0,
});

describe("the ladder", () => {
  it("ends at the rung to stop at: nothing above it counts", () => {
    expect(rungsOf(ladder("middle")).map(({ isGoal, isBeyond }) => [isGoal, isBeyond])).toEqual([
      [false, false],
      [true, false],
      [false, true],
    ]);
    expect(complaintsOf(ladder("middle"), "a").map(({ line }) => line)).toEqual([7]);
    expect(complaintsOf(ladder(null), "a").map(({ line }) => line)).toEqual([7, 8]);
  });

  it("shows a complaint of several rungs once, on the lowest", () => {
    expect(complaintsOf(ladder("high"), "b").map((found) => found.rung)).toEqual(["low"]);
    expect(complaintsOf(ladder("high"), null)).toHaveLength(1);
    expect(complaintsOf(null)).toEqual([]);
    const [first] = complaintsOf(ladder("high"), "b");
    if (!first) throw new Error("no complaint");
    expect(countComplaints([first, { ...first, severity: "note" }, { ...first, severity: "warning" }])).toBe(2);
  });

  it("tells where a module stands and which modules complain", () => {
    const standing = (module: string) => {
      const { on, next } = standingOf(ladder("middle"), module);
      return [on?.name, next?.name];
    };
    expect([standing("a"), standing("b")]).toEqual([
      ["low", "middle"],
      [undefined, "low"],
    ]);
    expect(complainingModules(ladder("middle"), ["b", "a", "c"])).toEqual(["b", "a"]);
  });

  it("finds those on the lines of a piece", () => {
    const all = complaintsOf(ladder("high"));
    expect(complaintsIn(all, { file: "a.ts", from: 7, to: 7 })).toHaveLength(1);
    expect(complaintsIn(all, { file: "a.ts", from: 9, to: 12 })).toEqual([]);
    expect(complaintsIn(all, null)).toEqual([]);
  });

  it.each([
    ["errors of its check", 2, "2 errors of its check"],
    ["errors of its check", 1, "1 error of its check"],
    ["cases that differ", 1, "1 case that differs"],
    ["cases that are broken", 1, "1 case that is broken"],
    ["its check was not run", 1, "its check was not run"],
  ])("says %s, %i as %s", (what, count, words) => {
    expect(describeUnmet({ what, count })).toBe(words);
  });
});
