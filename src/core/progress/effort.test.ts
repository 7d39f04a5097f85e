import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { paceOf, pointsLeft, pointsOf, workedHours } from "@/core/progress/effort";

const MINUTE = 60_000;

describe("effort", () => {
  it("is points by a formula that is the sum of its parts", () => {
    expect(pointsOf({ lines: 40, complexity: 10, outside: 20, snags: 8 })).toBe(4);
    expect(pointsOf({ lines: 60, complexity: 0, outside: null, snags: null })).toBe(1.5);
  });

  it("is left as far as a module is not done and not proven", () => {
    expect(pointsLeft(4, { isDone: false, proven: 0.25 })).toBe(3);
    expect(pointsLeft(4, { isDone: false, proven: null })).toBe(4);
    expect(pointsLeft(4, { isDone: true, proven: 0.9 })).toBe(0);
  });

  it("counts hours between saves, pauses aside", () => {
    const at = (...minutes: number[]) => workedHours(minutes.map((minute) => minute * MINUTE)) * 60;
    expect(at()).toBe(0);
    expect(at(0)).toBe(5);
    expect(at(0, 20, 40)).toBe(45);
    expect(at(40, 0, 20)).toBe(45);
    expect(at(0, 20, 600, 610)).toBe(5 + 20 + 5 + 10);
  });

  it("has a pace from what was finished, a range always, and none where nothing was", () => {
    expect(paceOf([])).toBeNull();
    expect(paceOf([{ points: 2, hours: 0 }])).toBeNull();
    expect(paceOf([{ points: 2, hours: 4 }])).toEqual({ low: 1, high: 4, modules: 1 });
    const four = [1, 2, 3, 4].map((hours) => ({ points: 1, hours }));
    expect(paceOf(four)).toEqual({ low: 1.75, high: 3.25, modules: 4 });
  });

  it("has a range around what the modules took, whatever they took", () => {
    const finished = fc.record({ points: fc.integer({ min: 1, max: 50 }), hours: fc.integer({ min: 1, max: 400 }) });
    fc.assert(
      fc.property(fc.array(finished, { minLength: 1, maxLength: 12 }), (list) => {
        const pace = paceOf(list);
        const rates = list.map(({ points, hours }) => hours / points);
        expect(pace?.low).toBeLessThanOrEqual(pace?.high ?? 0);
        expect(pace?.low).toBeLessThanOrEqual(Math.max(...rates));
        expect(pace?.high).toBeGreaterThanOrEqual(Math.min(...rates));
      }),
    );
  });
});
