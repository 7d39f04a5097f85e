import { bestOf, type Cause, findingFrom } from "@/core/explain/cause";
import type { NumberPair, TimePair } from "@/core/explain/facets";
import { speaksOf } from "@/core/explain/numbers";

export const zeroBasedMonth: Cause = {
  name: "zero-based-month",
  title: "Months count from 0 or from 1",
  note: "Some date types count January as 0, most as 1. Fix: add or subtract one exactly where the date is taken apart or put together.",
  inCode: {
    original: { any: /month|date/i },
    twin: { any: /get(UTC)?Month|set(UTC)?Month|Date\.UTC|new Date\(|tm_mon|Calendar\.|month/i },
  },
  examine: ({ numbers, times }) => {
    const months = (ms: number) => new Date(ms).getUTCFullYear() * 12 + new Date(ms).getUTCMonth();
    const isShifted = ({ original, twin }: TimePair) => {
      const [one, other] = [new Date(original), new Date(twin)];
      return (
        Math.abs(months(original) - months(twin)) === 1 &&
        (one.getUTCDate() === other.getUTCDate() || Math.abs(Math.abs(original - twin) / 86_400_000 - 30) <= 3)
      );
    };
    const isMonth = ({ original, twin }: NumberPair) =>
      Math.abs(original.value - twin.value) === 1 &&
      [original.value, twin.value].every((value) => Number.isInteger(value) && value >= 0 && value <= 12);
    const isLength = ({ original, twin }: NumberPair) =>
      [original.value, twin.value].every((value) => Number.isInteger(value) && value >= 28 && value <= 31);
    const named = numbers.some((pair) => speaksOf(pair, /month/i));
    const dated = numbers.some((pair) => speaksOf(pair, /date|day|year|calendar|quarter/i));
    return bestOf([
      named || numbers.some((pair) => speaksOf(pair, /days/i))
        ? findingFrom(numbers, isLength, { weight: 0.82, evidence: "lengths of months, those of neighbours" })
        : null,
      findingFrom(times, isShifted, { weight: 0.95, evidence: "the dates are one month apart" }),
      findingFrom(numbers, isMonth, {
        weight: named ? 0.95 : dated ? 0.72 : 0.3,
        evidence: "months 1 to 12 against 0 to 11",
      }),
    ]);
  },
  fires: [
    [
      { original: { "~date": "2031-04-02" }, twin: { "~date": "2031-05-02" } },
      { original: "2031-01-15", twin: "2031-02-15" },
    ],
    [{ original: { month: 4 }, twin: { month: 3 } }],
  ],
  staysQuiet: [[{ original: 30, twin: 31 }], [{ original: "2031-04-02", twin: "2031-04-09" }]],
};
