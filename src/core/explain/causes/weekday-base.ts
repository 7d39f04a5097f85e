import { bestOf, type Cause, type Finding, findingFrom } from "@/core/explain/cause";
import type { Facets, NumberPair } from "@/core/explain/facets";
import { speaksOf } from "@/core/explain/numbers";

const NAMES = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];

export const weekdayBase: Cause = {
  name: "weekday-base",
  title: "The week begins on another day",
  note: "Monday is 0 in some date types, Sunday in others, and 1 or 7 in others still. Fix: shift by the difference, modulo 7, where the weekday is read.",
  inCode: {
    original: { any: /weekday|wday|DayOfWeek|getDay|isocalendar/i },
    twin: { any: /get(UTC)?Day|weekday|wday|DayOfWeek/i },
  },
  examine: (facets) => bestOf([byNumber(facets), byName(facets)]),
  fires: [
    [
      { original: 0, twin: 1 },
      { original: 5, twin: 6 },
      { original: 6, twin: 0 },
    ],
    [
      { original: "Monday", twin: "Sunday" },
      { original: "Friday", twin: "Thursday" },
    ],
  ],
  staysQuiet: [[{ original: 8, twin: 9 }], [{ original: "Monday", twin: "Montag" }]],
};

function byNumber({ numbers }: Facets): Finding | null {
  const isDay = ({ original, twin }: NumberPair) =>
    [original.value, twin.value].every((value) => Number.isInteger(value) && value >= 0 && value <= 7);
  const shiftOf = (pair: NumberPair) => (pair.twin.value - pair.original.value + 14) % 7;
  const days = numbers.filter(isDay);
  const [first] = days;
  if (!first) return null;
  const shift = shiftOf(first);
  const gaps = new Set(
    days.filter((pair) => shiftOf(pair) === shift).map((pair) => pair.twin.value - pair.original.value),
  );
  const wraps = gaps.size > 1;
  const named = days.some((pair) => speaksOf(pair, /week|day|dow/i));
  return findingFrom(numbers, (pair) => isDay(pair) && shiftOf(pair) === shift, {
    weight: wraps ? 0.96 : named ? 0.9 : 0.3,
    evidence: `weekdays ${shift} apart, modulo 7${wraps ? ", and they wrap" : ""}`,
  });
}

function byName({ texts }: Facets): Finding | null {
  const dayOf = (text: string) => NAMES.findIndex((name) => new RegExp(`\\b${name}`, "i").test(text));
  const shifts = texts.map((pair) =>
    dayOf(pair.original) < 0 || dayOf(pair.twin) < 0 ? 0 : (dayOf(pair.twin) - dayOf(pair.original) + 7) % 7,
  );
  const [first] = shifts.filter((shift) => shift !== 0);
  if (first === undefined) return null;
  return findingFrom(texts, (pair) => shifts[texts.indexOf(pair)] === first, {
    weight: 0.93,
    evidence: `names of weekdays ${first} apart`,
  });
}
