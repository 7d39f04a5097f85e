/** Fares: bands by distance, kinds of riders, rebates, and the line printed on a ticket. */
import { formatPence, splitEvenly } from "./money";
import { seaMiles } from "./routes";

export const BAND_PRICE = { near: 240, mid: 415, far: 690 };
export type Band = keyof typeof BAND_PRICE;
const BAND_LIMIT: readonly (readonly [number, Band])[] = [
  [3.0, "near"],
  [6.5, "mid"],
];
const SHARE: Record<string, number> = { adult: 1.0, child: 0.5, senior: 0.66, dog: 0.25, infant: 0.0 };
const BICYCLE = 135;

export class FareError extends Error {}

export function bandFor(miles: number): Band {
  if (miles < 0) throw new FareError(`a distance cannot be negative: ${miles}`);
  for (const [limit, band] of BAND_LIMIT) if (miles <= limit) return band;
  return "far";
}

export function fareFor(
  miles: number,
  kind = "adult",
  { day, bicycle = false }: { day?: Date | null; bicycle?: boolean } = {},
): number {
  const share = SHARE[kind];
  if (share === undefined) throw new FareError(`no such kind of rider: ${kind}`);
  let price = BAND_PRICE[bandFor(miles)] * share;
  if (day && day.getUTCDay() === 0) price = price * 1.1;
  const result = Math.round(price);
  return bicycle ? result + BICYCLE : result;
}

export function rebate(amount: number, share: number, riders = 1) {
  if (riders < 1) throw new FareError("a rebate needs a rider");
  const each = Math.round(amount * share);
  return { each, all: each * riders };
}

export function groupFare(miles: number, riders: readonly string[]) {
  const fares = riders.map((kind) => fareFor(miles, kind)).sort((one, other) => one - other);
  const free = fares.length >= 10 ? fares[0]! : 0;
  return { riders: fares.length, total: fares.reduce((one, other) => one + other, 0) - free, free };
}

export function ticketLine(start: string, end: string, kind = "adult", { width = 32 } = {}): string {
  const fare = formatPence(fareFor(seaMiles(start, end), kind));
  const way = `${start} to ${end}`;
  const dots = Math.max(1, width - way.length - fare.length - 2);
  return `${way} ${".".repeat(dots)} ${fare}`;
}

export function priceTable(kinds: readonly string[]) {
  const limits = { near: 1, mid: 5, far: 9 };
  return Object.fromEntries(
    (Object.keys(BAND_PRICE) as Band[]).map((band) => [
      band,
      Object.fromEntries(kinds.map((kind) => [kind, fareFor(limits[band], kind)])),
    ]),
  );
}

export function fairShare(total: number, riders: number): number[] {
  return splitEvenly(total, riders);
}
