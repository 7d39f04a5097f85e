/** Landings, the water between them, and the shortest way by boat. */

export const EARTH_RADIUS_KM = 6371.0;
export const KM_PER_SEA_MILE = 1.852;

export const LANDINGS: Record<string, readonly [number, number]> = {
  Saltmarsh: [53.1042, 0.3317],
  "Gannet Point": [53.1508, 0.4421],
  "Oyster Hard": [53.0615, 0.2874],
  "Low Light": [53.2017, 0.399],
  "Eel Creek": [53.0288, 0.3711],
  Sandholm: [53.1893, 0.5502],
  "Wrack Island": [53.254, 0.4803],
};

export const LEGS: readonly (readonly [string, string])[] = [
  ["Saltmarsh", "Gannet Point"],
  ["Saltmarsh", "Oyster Hard"],
  ["Saltmarsh", "Low Light"],
  ["Oyster Hard", "Eel Creek"],
  ["Gannet Point", "Sandholm"],
  ["Low Light", "Wrack Island"],
  ["Sandholm", "Wrack Island"],
];

export class RouteError extends Error {}

const radians = (degrees: number) => (degrees * Math.PI) / 180;
const remainder = (value: number, by: number) => ((value % by) + by) % by;

export function position(landing: string): readonly [number, number] {
  const found = LANDINGS[landing];
  if (!found) throw new RouteError(`no landing called ${landing}`);
  return found;
}

export function distanceKm(start: string, end: string): number {
  const [startLat, startLon] = position(start);
  const [endLat, endLon] = position(end);
  const lat = radians(endLat - startLat);
  const lon = radians(endLon - startLon);
  const chord =
    Math.sin(lat / 2) ** 2 + Math.cos(radians(startLat)) * Math.cos(radians(endLat)) * Math.sin(lon / 2) ** 2;
  return 2 * EARTH_RADIUS_KM * Math.asin(Math.sqrt(chord));
}

export function seaMiles(start: string, end: string): number {
  return Math.ceil((distanceKm(start, end) / KM_PER_SEA_MILE) * 10) / 10;
}

export function neighbours(landing: string): string[] {
  position(landing);
  return LEGS.flatMap(([one, other]) => (one === landing ? [other] : other === landing ? [one] : [])).sort();
}

export function shortestWay(start: string, end: string): { way: string[]; tenths: number } {
  position(start);
  position(end);
  const best = new Map([[start, 0]]);
  const before = new Map<string, string>();
  const left = new Set([start]);
  while (left.size > 0) {
    const landing = [...left].sort((one, other) => best.get(one)! - best.get(other)! || (one < other ? -1 : 1))[0]!;
    left.delete(landing);
    if (landing === end) break;
    for (const following of neighbours(landing)) {
      const through = best.get(landing)! + Math.round(seaMiles(landing, following) * 10);
      if (through < (best.get(following) ?? Number.POSITIVE_INFINITY)) {
        best.set(following, through);
        before.set(following, landing);
        left.add(following);
      }
    }
  }
  const tenths = best.get(end);
  if (tenths === undefined) throw new RouteError(`no way from ${start} to ${end}`);
  const way = [end];
  while (way[0] !== start) way.unshift(before.get(way[0]!)!);
  return { way, tenths };
}

export function runningMinutes(start: string, end: string, knots: number): number {
  if (knots <= 0) throw new RouteError(`a boat must move: ${knots} knots`);
  const { way, tenths } = shortestWay(start, end);
  return Math.ceil((tenths * 6) / knots) + 6 * (way.length - 1);
}

export function bearing(start: string, end: string): number {
  const [startLat, startLon] = position(start).map(radians) as [number, number];
  const [endLat, endLon] = position(end).map(radians) as [number, number];
  const east = Math.sin(endLon - startLon) * Math.cos(endLat);
  const north =
    Math.cos(startLat) * Math.sin(endLat) - Math.sin(startLat) * Math.cos(endLat) * Math.cos(endLon - startLon);
  return remainder(Math.floor((Math.atan2(east, north) * 180) / Math.PI + 360.5), 360);
}

export const COMPASS = ["N", "NE", "E", "SE", "S", "SW", "W", "NW"];

export function compassPoint(degrees: number): string {
  return COMPASS[remainder(Math.floor(remainder(degrees, 360) / 45 + 0.5), 8)]!;
}

export function roundTrip(landings: readonly string[]): number {
  if (landings.length < 2) return 0;
  const next = [...landings.slice(1), landings[0]!];
  return landings.reduce((sum, landing, index) => sum + shortestWay(landing, next[index]!).tenths, 0);
}
