/** The timetable: sailings of a day, the next one from a landing, connections. */
import { timetableFor } from "./calendar-rules";
import { describeWait, every, formatTime, parseTime } from "./clock";
import { runningMinutes } from "./routes";

type Service = readonly [start: string, end: string, first: string, last: string, gap: number, boat: string];

const SERVICES: Record<string, readonly Service[]> = {
  "summer-work": [
    ["Saltmarsh", "Gannet Point", "06:10", "21:40", 45, "Tern"],
    ["Saltmarsh", "Oyster Hard", "06:30", "20:30", 60, "Dunlin"],
    ["Saltmarsh", "Low Light", "07:00", "19:00", 90, "Knot"],
    ["Gannet Point", "Sandholm", "07:15", "19:15", 120, "Avocet"],
  ],
  "summer-quiet": [
    ["Saltmarsh", "Gannet Point", "09:00", "18:00", 90, "Tern"],
    ["Saltmarsh", "Oyster Hard", "09:30", "17:30", 120, "Dunlin"],
  ],
  "winter-work": [
    ["Saltmarsh", "Gannet Point", "07:10", "18:10", 60, "Tern"],
    ["Saltmarsh", "Oyster Hard", "07:30", "17:30", 120, "Dunlin"],
    ["Saltmarsh", "Low Light", "08:00", "16:00", 240, "Knot"],
  ],
  "winter-quiet": [["Saltmarsh", "Gannet Point", "10:00", "16:00", 180, "Tern"]],
};

const KNOTS: Record<string, number> = { Tern: 11, Dunlin: 14, Knot: 13, Avocet: 10 };

export class TimetableError extends Error {}

export type Sailing = { at: number; start: string; end: string; boat: string; arrives: number };

export function sailings(day: Date): Sailing[] {
  return SERVICES[timetableFor(day)]!.flatMap(([start, end, first, last, gap, boat]) => {
    const minutes = runningMinutes(start, end, KNOTS[boat]!);
    return every(parseTime(first), parseTime(last), gap).map((at) => ({ at, start, end, boat, arrives: at + minutes }));
  }).sort((one, other) => one.at - other.at || one.boat.localeCompare(other.boat));
}

export function landingsServed(day: Date): string[] {
  return [...new Set(SERVICES[timetableFor(day)]!.flatMap(([start, end]) => [start, end]))].sort();
}

export function nextAfter(day: Date, landing: string, minute: number): Sailing {
  return sailings(day).find((sailing) => sailing.start === landing && sailing.at > minute)!;
}

export function describeNext(day: Date, landing: string, minute: number): string {
  const sailing = nextAfter(day, landing, minute);
  return `${sailing.boat} to ${sailing.end} in ${describeWait(sailing.at - minute)}`;
}

export function connection(day: Date, start: string, through: string, end: string, minute: number, change = 5) {
  const all = sailings(day);
  for (const first of all) {
    if (first.start !== start || first.end !== through || first.at < minute) continue;
    const second = all.find((next) => next.start === through && next.end === end && next.at >= first.arrives + change);
    if (second) return { leave: first.at, changeAt: first.arrives, goOn: second.at, arrive: second.arrives };
  }
  return null;
}

export function boatsByName(names: readonly string[]): string[] {
  return [...names].sort((one, other) => one.localeCompare(other));
}

export function board(day: Date, landing: string, count = 5): string[] {
  return sailings(day)
    .filter((sailing) => sailing.start === landing)
    .slice(0, count)
    .map((sailing) => `${formatTime(sailing.at)}  ${sailing.end.padEnd(12)}  ${sailing.boat}`);
}

export function busiestHour(day: Date) {
  const counts = new Map<number, number>();
  for (const { at } of sailings(day)) counts.set(Math.floor(at / 60), (counts.get(Math.floor(at / 60)) ?? 0) + 1);
  const [hour, count] = [...counts].sort((one, other) => other[1] - one[1] || one[0] - other[0])[0]!;
  return { hour, sailings: count };
}

export function headway(day: Date, start: string, end: string): number[] {
  const times = sailings(day)
    .filter((sailing) => sailing.start === start && sailing.end === end)
    .map((sailing) => sailing.at);
  if (times.length < 2) throw new TimetableError(`fewer than two sailings from ${start} to ${end}`);
  return times.slice(1).map((time, index) => time - times[index]!);
}
