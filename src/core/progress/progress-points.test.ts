import { describe, expect, it } from "vitest";
import { progressPoints, rungsSince } from "@/core/progress/progress-points";

const check = (id: number, at: string, fields: object = {}) => ({
  id,
  at,
  provenLines: 10 * id,
  totals: { differ: 4 - id, broken: 1 },
  ...fields,
});
const climb = (at: string, errors: number, reached: readonly string[] | null = null) => ({
  at,
  errors,
  warnings: 1,
  reached,
});

describe("progress over the checks", () => {
  it("has for each check what was last known of complaints and rungs", () => {
    const points = progressPoints(
      [check(1, "2031-01-01"), check(2, "2031-01-03"), check(3, "2031-01-05")],
      [climb("2031-01-02", 9), climb("2031-01-03", 3, ["runs"]), climb("2031-01-09", 0, ["runs", "typed"])],
    );
    expect(
      points.map(({ check: id, provenLines, differing, complaints, rungs }) => [
        id,
        provenLines,
        differing,
        complaints,
        rungs,
      ]),
    ).toEqual([
      [1, 10, 4, null, null],
      [2, 20, 3, 4, 1],
      [3, 30, 2, 4, 1],
    ]);
  });

  it("leaves open what was not measured", () => {
    expect(progressPoints([check(1, "2031-01-01", { provenLines: null, totals: null })], [])).toEqual([
      { at: "2031-01-01", check: 1, provenLines: null, differing: null, complaints: null, rungs: null },
    ]);
    expect(progressPoints([], [climb("2031-01-01", 1)])).toEqual([]);
  });

  it("names rungs that came and went", () => {
    expect(rungsSince(["runs", "typed"], ["runs", "strict"])).toEqual({ reached: ["strict"], lost: ["typed"] });
    expect(rungsSince(null, ["runs"])).toEqual({ reached: ["runs"], lost: [] });
    expect(rungsSince(["runs"], ["runs"])).toEqual({ reached: [], lost: [] });
  });
});
