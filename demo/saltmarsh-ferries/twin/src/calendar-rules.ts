/** Days on which boats run. A day is a Date at midnight UTC. */

const QUIET_DAYS = [
  [1, 1],
  [3, 25],
  [5, 1],
  [8, 28],
  [12, 25],
  [12, 26],
] as const;
const SUMMER = [402, 930] as const;
const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];
const DAY_MS = 86_400_000;

export class CalendarError extends Error {}

export function parseDay(text: string): Date {
  const match = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  const day = match && new Date(Date.UTC(Number(match[1]), Number(match[2]) - 1, Number(match[3])));
  if (!day || day.getUTCMonth() + 1 !== Number(match[2])) throw new CalendarError(`not a day: ${text}`);
  return day;
}

const weekday = (day: Date) => (day.getUTCDay() + 6) % 7;

export function isQuiet(day: Date): boolean {
  return (
    weekday(day) === 6 ||
    QUIET_DAYS.some(([month, date]) => day.getUTCMonth() + 1 === month && day.getUTCDate() === date)
  );
}

export function season(day: Date): string {
  const code = (day.getUTCMonth() + 1) * 100 + day.getUTCDate();
  return SUMMER[0] <= code && code <= SUMMER[1] ? "summer" : "winter";
}

export function timetableFor(day: Date): string {
  return `${season(day)}-${isQuiet(day) ? "quiet" : "work"}`;
}

export function weekdayName(day: Date): string {
  return WEEKDAYS[weekday(day)]!;
}

export function monthName(day: Date): string {
  return MONTHS[day.getUTCMonth()]!;
}

export function longDay(day: Date): string {
  return `${weekdayName(day)} ${day.getUTCDate()} ${monthName(day)} ${day.getUTCFullYear()}`;
}

export function weekNumber(day: Date): { year: number; week: number } {
  const thursday = addDays(day, 3 - weekday(day));
  const year = thursday.getUTCFullYear();
  const first = Date.UTC(year, 0, 1);
  return { year, week: Math.floor((thursday.getTime() - first) / DAY_MS / 7) + 1 };
}

export function daysUntil(day: Date, later: Date): number {
  return (later.getTime() - day.getTime()) / DAY_MS;
}

export function addDays(day: Date, count: number): Date {
  return new Date(day.getTime() + count * DAY_MS);
}

export function nextWorkDay(day: Date): Date {
  let next = addDays(day, 1);
  while (isQuiet(next)) next = addDays(next, 1);
  return next;
}

export function isLeap(year: number): boolean {
  return year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
}

export function daysInMonth(year: number, month: number): number {
  if (month < 1 || month > 12) throw new CalendarError(`no month ${month}`);
  return new Date(Date.UTC(year, month + 1, 0)).getUTCDate();
}

export function easter(year: number): Date {
  const golden = year % 19;
  const century = Math.floor(year / 100);
  const rest = year % 100;
  const leaps = Math.floor(century / 4);
  const odd = century % 4;
  const shift = Math.floor((century + 8) / 25);
  const moon = Math.floor((century - shift + 1) / 3);
  const epact = (19 * golden + century - leaps - moon + 15) % 30;
  const quarter = Math.floor(rest / 4);
  const left = rest % 4;
  const day = (32 + 2 * odd + 2 * quarter - epact - left) % 7;
  const late = Math.floor((golden + 11 * epact + 22 * day) / 451);
  const code = epact + day - 7 * late + 114;
  return new Date(Date.UTC(year, Math.floor(code / 31), (code % 31) + 1));
}
