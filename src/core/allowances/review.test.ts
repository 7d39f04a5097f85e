import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { formatNeeded, mostNeeded } from "@/core/allowances/needed";
import { neededTolerance } from "@/core/allowances/number-tolerance";
import { proposeTighter, sumUses, usesOf } from "@/core/allowances/review";
import type { Allow } from "@/core/formats/allowance";

const propose = (allow: Allow, needed: object, used = 3) =>
  proposeTighter({ id: "a", where: {}, allow, reason: "r" }, { used, needed });

describe("uses of allowances", () => {
  it("are counted with the most that was needed of each bound", () => {
    const uses = usesOf([
      { allowance: "a", needed: { abs: 0.1 } },
      { allowance: "a", needed: { abs: 0.3 } },
      { allowance: "a", needed: { ulps: 2 } },
      { allowance: "b" },
    ]);
    expect(uses).toEqual([
      { allowance: "a", used: 3, needed: { abs: 0.3, ulps: 2 } },
      { allowance: "b", used: 1, needed: {} },
    ]);
    expect(sumUses([...uses, ...uses]).get("a")).toEqual({ used: 6, needed: { abs: 0.3, ulps: 2 } });
    expect(usesOf([])).toBe(usesOf([]));
  });

  it("are told as the number alone when one bound says it all", () => {
    expect(formatNeeded({ abs: 3e-13 })).toBe("3e-13");
    expect(formatNeeded(mostNeeded({ abs: 1 }, { ulps: 4 }))).toBe("abs 1, ulps 4");
    expect(formatNeeded({})).toBeNull();
  });
});

describe("a tighter allowance", () => {
  it("is proposed with what was needed and what it allows", () => {
    expect(propose({ number: { abs: 1e-6 } }, { abs: 3.01e-13 })).toEqual({
      allow: { number: { abs: 3.1e-13 } },
      advice: "the largest difference excused is 3.01e-13; it allows 0.000001",
    });
    expect(propose({ timing: { ms: 50 } }, { ms: 4 })?.allow).toEqual({ timing: { ms: 4 } });
    expect(propose({ image: { channel: 2, share: 0.1 } }, { share: 0.01 })?.allow).toEqual({
      image: { channel: 2, share: 0.01 },
    });
  });

  it("leaves out a bound that nothing needed", () => {
    expect(propose({ number: { abs: 1e-9, ulps: 4 } }, { ulps: 3 })).toEqual({
      allow: { number: { ulps: 4 } },
      advice: "nothing needed abs 1e-9",
    });
  });

  it("is not proposed where it was not used, is no bound, or was nearly needed", () => {
    expect(propose({ number: { abs: 1 } }, { abs: 0.1 }, 0)).toBeNull();
    expect(propose({ ignore: true }, {})).toBeNull();
    expect(propose({ number: { abs: 1 } }, { abs: 0.8 })).toBeNull();
    expect(propose({ timing: { ms: 10 } }, { ms: 9 })).toBeNull();
  });

  it("still allows all that was excused", () => {
    let proposals = 0;
    const positive = fc.double({ min: 1e-300, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(positive, positive, positive, (one, other, abs) => {
        const needed = neededTolerance(one, other, { abs });
        const tighter = needed && propose({ number: { abs } }, needed);
        if (!tighter?.allow.number) return;
        proposals++;
        expect(neededTolerance(one, other, tighter.allow.number)).not.toBeNull();
      }),
    );
    expect(proposals).toBeGreaterThan(5);
  });
});
