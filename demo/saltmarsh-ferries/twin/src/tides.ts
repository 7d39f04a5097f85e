/** Heights of the tide from harmonic constituents, and the times of high and low water. */

const CONSTITUENTS: readonly (readonly [string, number, number, number])[] = [
  ["main lunar", 2.214, 28.9841042, 163.2],
  ["main solar", 0.762, 30.0, 207.9],
  ["elliptic", 0.421, 28.4397295, 140.4],
  ["declination", 0.158, 15.0410686, 281.0],
  ["lunar daily", 0.172, 13.9430356, 118.3],
  ["shallow", 0.094, 57.9682084, 251.5],
];
const MEAN_LEVEL = 3.42;

export class TideError extends Error {}

export function height(hours: number): number {
  const sum = CONSTITUENTS.reduce(
    (level, [, amplitude, speed, phase]) => level + amplitude * Math.cos(((speed * hours - phase) * Math.PI) / 180),
    0,
  );
  return MEAN_LEVEL + sum;
}

export function heights(start: number, step: number, count: number): number[] {
  if (count < 0) throw new TideError(`cannot give ${count} heights`);
  return Array.from({ length: count }, (_, index) => height(start + step * index));
}

export function meanHeight(start: number, end: number, samples = 48): number {
  if (end <= start) throw new TideError("the span is empty");
  const step = (end - start) / samples;
  let total = 0;
  for (let index = 0; index < samples; index++) total += height(start + (index + 0.5) * step);
  return total / samples;
}

export type TurningPoint = { kind: string; minute: number; heightCm: number };

export function turningPoints(start: number, end: number): TurningPoint[] {
  const points: TurningPoint[] = [];
  let before = height(start - 1 / 60);
  let now = height(start);
  for (let minute = 0; minute < Math.trunc((end - start) * 60); minute++) {
    const after = height(start + (minute + 1) / 60);
    if (now >= before && now > after) points.push({ kind: "high", minute, heightCm: Math.floor(now * 100) });
    else if (now <= before && now < after) points.push({ kind: "low", minute, heightCm: Math.floor(now * 100) });
    before = now;
    now = after;
  }
  return points;
}

export function depthDm(hours: number, chartedDm: number): number {
  return Math.floor(height(hours) * 10) + chartedDm;
}

export function window(start: number, end: number, neededM: number): [number, number][] {
  const spans: [number, number][] = [];
  const last = Math.trunc((end - start) * 60);
  let opened: number | null = null;
  for (let minute = 0; minute <= last; minute++) {
    const enough = height(start + minute / 60) >= neededM;
    if (enough && opened === null) opened = minute;
    else if (!enough && opened !== null) {
      spans.push([opened, minute]);
      opened = null;
    }
  }
  if (opened !== null) spans.push([opened, last]);
  return spans;
}

export function rangeOf(points: readonly TurningPoint[]): number | null {
  const of = (kind: string) => points.filter((point) => point.kind === kind).map((point) => point.heightCm);
  const highs = of("high");
  const lows = of("low");
  return highs.length === 0 || lows.length === 0 ? null : Math.max(...highs) - Math.min(...lows);
}

export function isSpring(rangeCm: number): boolean {
  return rangeCm >= 520;
}

export function describe(hours: number): string {
  const now = height(hours);
  return `${height(hours + 0.25) > now ? "rising" : "falling"}, ${now.toFixed(2)} m`;
}
