/** The boats: what they carry and how they are told apart. */

export class VesselError extends Error {}

export type Vessel = { kind: string; knots: number; seats: number; bicycles: number; draughtDm: number };

const FLEET: Record<string, Vessel> = {
  Tern: { kind: "ferry", knots: 11, seats: 84, bicycles: 12, draughtDm: 18 },
  Dunlin: { kind: "launch", knots: 14, seats: 24, bicycles: 2, draughtDm: 9 },
  Knot: { kind: "launch", knots: 13, seats: 28, bicycles: 4, draughtDm: 10 },
  Bittern: { kind: "barge", knots: 6, seats: 8, bicycles: 0, draughtDm: 12 },
  Avocet: { kind: "ferry", knots: 10, seats: 120, bicycles: 20, draughtDm: 22 },
};

export function vessel(name: string): Vessel & { name: string } {
  const facts = FLEET[name];
  if (!facts) throw new VesselError(`no boat called ${name}`);
  return { ...facts, name };
}

export function ofKind(kind: string): string[] {
  return Object.keys(FLEET)
    .filter((name) => FLEET[name]!.kind === kind)
    .sort((one, other) => FLEET[other]!.knots - FLEET[one]!.knots);
}

export function smallestFor(seats: number, bicycles = 0): string {
  const fitting = Object.entries(FLEET).filter(([, facts]) => facts.seats >= seats && facts.bicycles >= bicycles);
  if (fitting.length === 0) throw new VesselError(`no boat for ${seats} with ${bicycles} bicycles`);
  return fitting.sort(([, one], [, other]) => one.seats - other.seats)[0]![0];
}

export function clearance(name: string, depthDm: number): number {
  return depthDm - vessel(name).draughtDm;
}

export function canFloat(depthDm: number, keelDm = 5): string[] {
  return Object.keys(FLEET)
    .filter((name) => clearance(name, depthDm) >= keelDm)
    .sort((one, other) => FLEET[one]!.draughtDm - FLEET[other]!.draughtDm || (one < other ? -1 : 1));
}

export function capacity(names: readonly string[]) {
  const boats = names.map(vessel);
  return {
    seats: boats.reduce((sum, boat) => sum + boat.seats, 0),
    bicycles: boats.reduce((sum, boat) => sum + boat.bicycles, 0),
  };
}

export function callSign(name: string, number: number): string {
  vessel(name);
  const letters = name.slice(0, 2).toUpperCase();
  const weights = [...[...letters].map((letter) => letter.charCodeAt(0) - 64), ...[...String(number)].map(Number)];
  const check = weights.reduce((sum, weight, index) => sum + weight * (index + 2), 0) % 9;
  return `${letters}${String(number).padStart(3, "0")}-${check}`;
}

export function loadPlan(partySizes: readonly number[], name: string) {
  let seatsLeft = vessel(name).seats;
  const aboard: number[] = [];
  const ashore: number[] = [];
  for (const size of partySizes) {
    if (size <= seatsLeft) {
      seatsLeft -= size;
      aboard.push(size);
    } else {
      ashore.push(size);
    }
  }
  return { aboard, ashore, seatsLeft };
}
