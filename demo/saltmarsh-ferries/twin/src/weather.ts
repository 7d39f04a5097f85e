/** When a boat stays in. */

const FORCES = [1, 3, 6, 10, 16, 21, 27, 33, 40, 47, 55, 63];

const LIMITS: Record<string, { force: number; waveDm: number; sightM: number }> = {
  launch: { force: 5, waveDm: 10, sightM: 500 },
  ferry: { force: 7, waveDm: 20, sightM: 200 },
  barge: { force: 4, waveDm: 8, sightM: 1000 },
};

const WORDS = [
  "calm",
  "light air",
  "light breeze",
  "gentle breeze",
  "moderate breeze",
  "fresh breeze",
  "strong breeze",
  "near gale",
  "gale",
  "strong gale",
  "storm",
  "violent storm",
  "hurricane",
];

export class WeatherError extends Error {}

export type WeatherReport = { knots: number; waveDm?: number; sightM?: number };

export function forceOf(knots: number): number {
  if (knots < 0) throw new WeatherError(`wind cannot be negative: ${knots}`);
  const force = FORCES.findIndex((bound) => knots < bound);
  return force === -1 ? 12 : force;
}

export function windWords(knots: number): string {
  return WORDS[forceOf(knots)]!;
}

export function maySail(kind: string, report: WeatherReport) {
  const limits = LIMITS[kind];
  if (!limits) throw new WeatherError(`no such class of boat: ${kind}`);
  const reasons: string[] = [];
  if (forceOf(report.knots) > limits.force) reasons.push("wind");
  if ((report.waveDm ?? 0) > limits.waveDm) reasons.push("sea");
  if ((report.sightM ?? 10000) < limits.sightM) reasons.push("sight");
  return { maySail: reasons.length === 0, reasons };
}

export function worst(reports: readonly WeatherReport[]) {
  if (reports.length === 0) throw new WeatherError("no reports");
  return {
    knots: Math.max(...reports.map((report) => report.knots)),
    waveDm: Math.max(...reports.map((report) => report.waveDm ?? 0)),
    sightM: Math.min(...reports.map((report) => report.sightM ?? 10000)),
  };
}

export function trend(readings: readonly number[]): string {
  if (readings.length < 2) return "steady";
  const change = readings.at(-1)! - readings[0]!;
  if (Math.abs(change) <= 1) return "steady";
  return change > 0 ? "rising" : "falling";
}

export function chill(celsius: number, knots: number): number {
  const speed = knots * 1.852;
  if (celsius > 10 || speed < 4.8) return celsius;
  return Math.trunc(13.12 + 0.6215 * celsius - 11.37 * speed ** 0.16 + 0.3965 * celsius * speed ** 0.16);
}

export function boatsIn(report: WeatherReport): string[] {
  return Object.keys(LIMITS)
    .filter((kind) => !maySail(kind, report).maySail)
    .sort();
}
