/** Times of day as minutes after midnight. */

export const MINUTES_A_DAY = 24 * 60;

export class ClockError extends Error {}

export function parseTime(text: string): number {
  const match = /^(\d+):(\d\d)$/.exec(text.trim());
  if (!match) throw new ClockError(`not a time: ${text}`);
  const hours = Number(match[1]);
  const minutes = Number(match[2]);
  if (minutes > 59 || hours > 47) throw new ClockError(`no such time: ${text}`);
  return hours * 60 + minutes;
}

export function dayAndMinute(minutes: number): { day: number; minute: number } {
  const day = Math.floor(minutes / MINUTES_A_DAY);
  return { day, minute: minutes - day * MINUTES_A_DAY };
}

export function formatTime(minutes: number): string {
  const { day, minute } = dayAndMinute(minutes);
  const mark = day === 0 ? "" : `${day > 0 ? "+" : ""}${day}`;
  const two = (value: number) => String(value).padStart(2, "0");
  return `${two(Math.floor(minute / 60))}:${two(minute % 60)}${mark}`;
}

export function quarter(minutes: number): number {
  return Math.trunc(minutes / 15) * 15;
}

export function until(now: number, then: number): number {
  return (then - now) % MINUTES_A_DAY;
}

export function between(minutes: number, start: number, end: number): boolean {
  if (start <= end) return start <= minutes && minutes < end;
  return minutes >= start || minutes < end;
}

export type Span = { readonly from: number; readonly to: number };

export function overlap(one: Span, other: Span): number {
  return Math.max(0, Math.min(one.to, other.to) - Math.max(one.from, other.from));
}

export function shift(times: readonly number[], minutes: number): number[] {
  return times.map((time) => dayAndMinute(time + minutes).minute);
}

export function every(first: number, last: number, gap: number): number[] {
  if (gap <= 0) throw new ClockError(`the gap must be positive: ${gap}`);
  const times: number[] = [];
  for (let at = first; at <= last; at += gap) times.push(at);
  return times;
}

export function describeWait(minutes: number): string {
  if (minutes <= 0) return "now";
  const hours = Math.floor(minutes / 60);
  const rest = minutes % 60;
  const words: string[] = [];
  if (hours) words.push(hours === 1 ? "1 hour" : `${hours} hours`);
  if (rest) words.push(rest === 1 ? "1 minute" : `${rest} minutes`);
  return words.join(" ");
}

export function lateness(planned: number, actual: number): string {
  const late = actual - planned;
  if (late === 0) return "on time";
  return late > 0 ? `+${late}` : String(late);
}

export function watches(start: number, length: number, count: number): [number, number][] {
  return Array.from({ length: count }, (_, index) => [
    dayAndMinute(start + index * length).minute,
    dayAndMinute(start + (index + 1) * length).minute,
  ]);
}
