import { bestOf, type Cause, type Finding, findingFrom } from "@/core/explain/cause";
import { isWeekdayRead, type SectionCode } from "@/core/explain/code";
import { type CaseFacts, type Facets, inputOf, leavesOf, type NumberPair } from "@/core/explain/facets";
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
  examine: (facets, code) => bestOf([byNumber(facets), byName(facets), byDay(facets, code)]),
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

/** Only dates on certain weekdays differ, where both sides read the weekday. */
function byDay({ all, cases, controls }: Facets, code: SectionCode | undefined): Finding | null {
  if (!code || !isWeekdayRead(code.original) || !isWeekdayRead(code.twin)) return null;
  const days = new Set(cases.flatMap(weekdaysOf));
  const isOnly = cases.every((facts) => weekdaysOf(facts).length === 1) && controls.length > 0 && days.size <= 3;
  if (!isOnly || controls.some((facts) => weekdaysOf(facts).some((day) => days.has(day)))) return null;
  const names = [...days].map((day) => NAMES[day]).join(", ");
  return findingFrom(all, () => true, { weight: 0.92, evidence: `only dates on ${names} differ` });
}

/** The weekdays of the dates given, from 0 for Monday. */
function weekdaysOf({ item }: CaseFacts): number[] {
  const texts = inputOf(item)
    .flatMap((input) => leavesOf(input))
    .map((leaf) => (typeof leaf === "object" && leaf !== null ? Object.values(leaf)[0] : leaf));
  const dates = texts.flatMap((text) => (typeof text === "string" ? (text.match(/^\d{4}-\d\d-\d\d/) ?? []) : []));
  const read = dates.map((date) => (new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7);
  return [...new Set(read.filter((day) => !Number.isNaN(day)))];
}
