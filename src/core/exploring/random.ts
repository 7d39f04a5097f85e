/** Random choices that are the same for a seed. */
export class Random {
  private state: number;

  constructor(seed: number) {
    this.state = seed >>> 0;
  }

  /** From 0 up to 1. Mulberry32 (Tommy Ettinger, 2017, public domain). */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let mixed = this.state;
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  }

  /** A whole number from 0 to `end`, which is not among them. */
  below(end: number): number {
    return Math.floor(this.next() * end);
  }

  /** One of a list. Throws RangeError for an empty one. */
  of<T>(items: readonly T[]): T {
    const item = items[this.below(items.length)];
    if (item === undefined && items.length === 0) throw new RangeError("nothing to choose from");
    return item as T; // within the list
  }

  /** True with probability `share`, from 0 to 1. */
  chance(share: number): boolean {
    return this.next() < share;
  }
}
