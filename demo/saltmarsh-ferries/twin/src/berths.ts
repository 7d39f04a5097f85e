/** Berths of a harbour: which boat lies where, and who waits outside. */

export class BerthError extends Error {}

export class Harbour {
  berths: (string | null)[];
  queue: string[] = [];
  moves = 0;

  constructor(
    count: number,
    readonly name = "Saltmarsh",
  ) {
    if (count < 1) throw new BerthError("a harbour needs a berth");
    this.berths = Array.from({ length: count }, () => null);
  }

  get free(): number {
    return this.berths.filter((boat) => boat === null).length;
  }

  assign(boat: string): number | null {
    if (this.berths.includes(boat) || this.queue.includes(boat)) throw new BerthError(`${boat} is here already`);
    this.moves++;
    const number = this.berths.indexOf(null);
    if (number === -1) {
      this.queue.push(boat);
      return null;
    }
    this.berths[number] = boat;
    return number + 1;
  }

  leave(boat: string): string | null {
    this.moves++;
    if (this.queue.includes(boat)) {
      this.queue.splice(this.queue.indexOf(boat), 1);
      return null;
    }
    const number = this.berths.indexOf(boat);
    if (number === -1) throw new BerthError(`${boat} is not here`);
    this.berths[number] = this.queue.shift() ?? null;
    return this.berths[number];
  }

  berthOf(boat: string): number {
    if (this.berths.includes(boat)) return this.berths.indexOf(boat) + 1;
    if (this.queue.includes(boat)) return 0;
    throw new BerthError(`${boat} is not here`);
  }

  swap(one: string, other: string): void {
    const first = this.berthOf(one);
    const second = this.berthOf(other);
    if (first === 0 || second === 0) throw new BerthError("only berthed boats can change places");
    this.berths[first - 1] = other;
    this.berths[second - 1] = one;
    this.moves += 2;
  }

  close(number: number): string[] {
    if (number < 1 || number > this.berths.length) throw new BerthError(`no berth ${number}`);
    const driven = this.berths.slice(number).filter((boat) => boat !== null);
    this.berths = this.berths.slice(0, number);
    this.queue = [...driven, ...this.queue];
    return driven;
  }

  plan(): string[] {
    const rows = this.berths.map((boat, index) => `${index + 1} ${boat ?? "-"}`);
    if (this.queue.length > 0) rows.push(`waiting: ${this.queue.join(", ")}`);
    return rows;
  }

  state() {
    return { name: this.name, berths: [...this.berths], queue: [...this.queue], moves: this.moves };
  }
}

export function berthsNeeded(calls: readonly (readonly [number, number])[]): number {
  const events = calls.flatMap(
    ([arrives, leaves]) =>
      [
        [arrives, 1],
        [leaves, -1],
      ] as const,
  );
  let now = 0;
  let most = 0;
  for (const [, change] of [...events].sort((one, other) => one[0] - other[0] || one[1] - other[1])) {
    now += change;
    most = Math.max(most, now);
  }
  return most;
}
