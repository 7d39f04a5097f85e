import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { allowsNumber, neededTolerance, numberDistance } from "@/core/allowances/number-tolerance";
import { neededLoosening } from "@/core/allowances/text-loosening";
import { toInstant } from "@/core/values/instant";
import { exactText, type NumberValue, toDouble, ulpsBetween } from "@/core/values/number";

const int = (value: bigint): NumberValue => ({ kind: "int", value });
const float = (value: number): NumberValue => ({ kind: "float", value });
const decimal = (text: string): NumberValue => ({ kind: "decimal", text });

describe("the exact text of a number", () => {
  it.each<[NumberValue, string]>([
    [int(12n), "12"],
    [float(2), "2"],
    [float(0.1), "0.1"],
    [float(1e21), "1000000000000000000000"],
    [float(1e23), "99999999999999991611392"],
    [float(5e-324), `0.${"0".repeat(323)}5`],
    [float(-0), "-0"],
    [decimal("1.50E+2"), "150"],
    [decimal("-0012.3400"), "-12.34"],
    [decimal("1E-3"), "0.001"],
    [decimal("NaN"), "NaN"],
    [decimal("1E+999999"), "1E+999999"],
  ])("%o is %s", (value, text) => {
    expect(exactText(value)).toBe(text);
  });

  it("is the same for an integer in every form", () => {
    fc.assert(
      fc.property(fc.maxSafeInteger(), (value) => {
        const texts = [int(BigInt(value)), float(value === 0 ? 0 : value), decimal(`${value}.00`)].map(exactText);
        expect(new Set(texts.map((text) => text.replace(/^-0$/, "0"))).size).toBe(1);
      }),
    );
  });

  it("tells any two different doubles apart", () => {
    const finite = fc.double({ noNaN: true, noDefaultInfinity: true });
    fc.assert(
      fc.property(finite, finite, (one, other) => {
        expect(exactText(float(one)) === exactText(float(other))).toBe(Object.is(one, other));
        expect(Number(exactText(float(one)))).toBe(one);
      }),
    );
  });
});

describe("distances", () => {
  it("count the doubles between", () => {
    expect(ulpsBetween(1, 1 + Number.EPSILON)).toBe(1);
    expect(ulpsBetween(-5e-324, 5e-324)).toBe(2);
    expect(ulpsBetween(0, -0)).toBe(0);
    expect(ulpsBetween(1, Number.NaN)).toBe(Number.POSITIVE_INFINITY);
  });

  it("are exact for integers beyond the doubles", () => {
    expect(numberDistance(int(2n ** 60n + 1n), int(2n ** 60n))).toBe(1);
    expect(allowsNumber(int(2n ** 60n + 1n), int(2n ** 60n), { abs: 0.5 })).toBeNull();
    expect(toDouble(decimal("2.50"))).toBe(2.5);
  });

  it("are allowed when any one bound holds, and never between a number and none", () => {
    expect(neededTolerance(100, 101, { abs: 0.1, rel: 0.02 })).toEqual({ rel: 1 / 101 });
    expect(neededTolerance(100, 101, { abs: 0.1, rel: 0.001 })).toBeNull();
    expect(neededTolerance(100, 101, {})).toBeNull();
    expect(neededTolerance(Number.POSITIVE_INFINITY, 1e308, { rel: 1 })).toBeNull();
    expect(neededTolerance(Number.NaN, Number.NaN, { abs: 0 })).toEqual({});
  });
});

describe("instants", () => {
  it("read offsets, fractions and naive times exactly", () => {
    expect(toInstant("1970-01-01T00:00:01Z")).toBe(1_000_000_000n);
    expect(toInstant("1970-01-01T01:00:01+01:00")).toBe(1_000_000_000n);
    expect(toInstant("1970-01-01 00:00:01.000001")).toBe(1_000_001_000n);
    expect(toInstant("1970-01-01")).toBe(0n);
    expect(toInstant("1969-12-31T23:59:59-00:30")).toBe(1_799_000_000_000n);
    expect(toInstant("soon")).toBeNull();
  });
});

describe("loosened texts", () => {
  it("are the same in what was loosened alone", () => {
    expect(neededLoosening(" a \r\nb", "a\nb", { text: true })).toEqual({});
    expect(neededLoosening("A", "a", { text: true })).toBeNull();
    expect(neededLoosening("took 1.5 s, 3 boats", "took 1.6 s, 3 boats", { text: true, number: { abs: 0.2 } })).toEqual(
      {
        abs: expect.closeTo(0.1),
      },
    );
    expect(
      neededLoosening("took 1.5 s, 3 boats", "took 1.5 s, 4 boats", { text: true, number: { abs: 0.2 } }),
    ).toBeNull();
  });
});
