/** Small ported classes with one fault each, and what is done with their objects: the other half of the corpus. */

/** One step on objects by name: a new one, or a call of a method with its arguments. */
export type PortedStep =
  | { readonly new: string; readonly args?: readonly unknown[] }
  | { readonly on: string; readonly call: string; readonly args?: readonly unknown[] };

/** A small class with one fault, and what is done with its objects. */
export type PortedClass = {
  readonly name: string;
  readonly cause: string;
  readonly original: new (...args: never[]) => object;
  readonly twin: new (...args: never[]) => object;
  readonly scripts: readonly (readonly PortedStep[])[];
};

class Bag {
  items: string[] = [];
  put(item: string): string[] {
    this.items.push(item);
    return [...this.items];
  }
}
const shelf: string[] = [];
class SharedBag {
  put(item: string): string[] {
    shelf.push(item);
    return [...shelf];
  }
}
class Ticket {
  number = 1;
  next(): number {
    return this.number++;
  }
}
class SharedTicket {
  static number = 1;
  next(): number {
    return SharedTicket.number++;
  }
}

/** State that is each object's own on one side, and of all objects together on the other. */
export const PORTED_CLASSES: readonly PortedClass[] = [
  {
    name: "Bag",
    cause: "shared-state",
    original: Bag,
    twin: SharedBag,
    scripts: [
      [{ new: "a" }, { on: "a", call: "put", args: ["x"] }, { new: "b" }, { on: "b", call: "put", args: ["y"] }],
      [{ new: "c" }, { on: "c", call: "put", args: ["z"] }, { new: "d" }, { on: "d", call: "put", args: ["w"] }],
    ],
  },
  {
    name: "Ticket",
    cause: "shared-state",
    original: Ticket,
    twin: SharedTicket,
    scripts: [
      [{ new: "a" }, { on: "a", call: "next" }, { on: "a", call: "next" }, { new: "b" }, { on: "b", call: "next" }],
      [{ new: "a" }, { new: "b" }, { on: "b", call: "next" }, { on: "a", call: "next" }],
    ],
  },
];

/** Every script sees freshly loaded modules, as a case does. */
export function freshState(): void {
  shelf.length = 0;
  SharedTicket.number = 1;
}
