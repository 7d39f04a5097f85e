import { describe, expect, it } from "vitest";
import type { PortEvent } from "@/api/port-event";
import type { BenchView } from "@/api/views";
import { emptyTotals } from "@/core/formats/report";
import { formatAgo, percentProven, plural } from "@/ui/format";
import { isFolded, needsWork } from "@/ui/state/folding";
import { changesViews, describeCheck, NO_CHECK, reduceCheck, type StreamEvent } from "@/ui/state/running-check";

const followed = (...events: StreamEvent[]) => events.reduce(reduceCheck, NO_CHECK);
const verdicts = (done: number, ...ids: string[]): PortEvent & StreamEvent => ({
  type: "verdicts",
  done,
  total: 9,
  list: ids.map((id) => ({ id, twin: "ts", module: "m", outcome: "differ" })),
});

describe("a check as a screen follows it", () => {
  it("counts, and keeps what came in", () => {
    const state = followed(
      { type: "hello", running: false },
      { type: "started", check: 1, module: null, total: 9 },
      { type: "phase", phase: "run" },
      verdicts(2, "a"),
      verdicts(4, "b"),
    );
    expect([state.running, describeCheck(state)]).toEqual([true, "4 of 9 cases"]);
    expect([...state.fresh.keys()]).toEqual(["ts\0a", "ts\0b"]);
  });

  it("names how many could not be run so far, as they may hold the check up", () => {
    const list = [
      { twin: "ts", module: "m", id: "a", outcome: "broken" as const },
      { twin: "ts", module: "m", id: "b", outcome: "agree" as const },
    ];
    const state = followed(
      { type: "started", check: 1, module: null, total: 9 },
      { type: "phase", phase: "run" },
      { type: "verdicts", done: 2, total: 9, list },
    );
    expect(describeCheck(state)).toBe("2 of 9 cases, 1 broken");
  });

  it("has views loaded again at its end, after a lost connection, and when files change", () => {
    const events = [
      { type: "hello", running: true },
      { type: "files", paths: ["/x"] },
      { type: "ended", check: 1, state: "complete", problem: null, changes: null },
      verdicts(2, "a"),
      { type: "phase", phase: "run" },
    ] satisfies PortEvent[];
    expect(events.map(changesViews)).toEqual([true, true, true, false, false]);
  });

  it("shows why it could not run, and forgets it when another port is followed", () => {
    const problem = { code: "prepare-failed", what: "no luck" } as const;
    const failed = followed(
      { type: "started", check: 1, module: null, total: 9 },
      { type: "ended", check: 1, state: "failed", problem, changes: null },
    );
    expect([failed.running, failed.problem]).toEqual([false, problem]);
    expect(reduceCheck(failed, { type: "another" }).problem).toBeNull();
  });

  it("says what is going on beside running", () => {
    expect(describeCheck(followed({ type: "started", check: 1, module: null, total: 9 }))).toBe("preparing both sides");
    expect(describeCheck(NO_CHECK)).toBeNull();
  });
});

const row = (extra: Partial<BenchView["rows"][number]>): BenchView["rows"][number] => ({
  id: "o:m:1",
  name: "f",
  kind: "function",
  original: null,
  twin: null,
  twinName: "f",
  relation: "same",
  score: 1,
  reasons: [],
  isManual: false,
  drift: null,
  callback: null,
  totals: emptyTotals(),
  cases: 0,
  mark: "agree",
  ...extra,
});

describe("rows of the Bench", () => {
  it.each<[string, Parameters<typeof row>[0], boolean, boolean]>([
    ["one that agrees", {}, true, false],
    ["one that differs", { mark: "differ" }, false, true],
    ["one without a twin", { relation: "missing", mark: "skipped" }, false, true],
    ["a function without cases", { mark: "idle" }, false, false],
    ["a constant", { kind: "constant", mark: "idle" }, true, false],
    ["what stands between", { kind: "between", relation: "between", mark: "idle" }, true, false],
  ])("%s", (_what, extra, folded, work) => {
    expect([isFolded(row(extra), {}), needsWork(row(extra))]).toEqual([folded, work]);
    expect(isFolded(row(extra), { "o:m:1": !folded })).toBe(!folded);
  });
});

describe("numbers and times", () => {
  it("never say that all is proven while a line is left", () => {
    expect(percentProven({ lines: 1000, provenLines: 999 })).toBe("99 % proven");
    expect(percentProven({ lines: 10, provenLines: null })).toBe("not measured yet");
  });

  it("are written as people do", () => {
    expect([plural(1, "case"), plural(1200, "case")]).toEqual(["1 case", "1,200 cases"]);
    const now = Date.parse("2031-04-02T12:00:00Z");
    expect(
      ["2031-04-02T11:59:30Z", "2031-04-02T10:00:00Z", "2031-03-31T12:00:00Z"].map((iso) => formatAgo(iso, now)),
    ).toEqual(["30 s ago", "2 h ago", "2 d ago"]);
  });
});
