/**
 * Small ported functions with one fault each, by cause, and some without: what the causes are tuned on. Both sides are
 * written here in one language; what the original's language would have done is written out.
 */
export type PortedFunction = {
  readonly call: string;
  /** The cause that must be named; null for a correct port. */
  readonly cause: string | null;
  readonly original: (...args: never[]) => unknown;
  readonly twin: (...args: never[]) => unknown;
  readonly inputs: readonly (readonly unknown[])[];
};

/** Printed output of the functions: they are given no other stream. */
export const printed: { text: string } = { text: "" };
export const say = (line: string): void => {
  printed.text += `${line}\n`;
};

export const entry = <A extends unknown[]>(
  cause: string | null,
  call: string,
  original: (...args: A) => unknown,
  twin: (...args: A) => unknown,
  inputs: readonly A[],
): PortedFunction => ({ cause, call, original, twin, inputs }) as unknown as PortedFunction; // args fit by A

export const halfEven = (value: number): number => {
  const floor = Math.floor(value);
  if (value - floor !== 0.5) return Math.round(value);
  return floor % 2 === 0 ? floor : floor + 1;
};
export const modulo = (value: number, by: number): number => ((value % by) + by) % by;
export const wait = (kind: string, message: string): never => {
  throw Object.assign(new Error(message), { kind });
};
export const points = (one: string, other: string): number => (one < other ? -1 : one > other ? 1 : 0);
export const range = (count: number): number[] => Array.from({ length: count }, (_, index) => index);
export const numbers: [number][] = [[0.5], [1.5], [2.5], [3.25], [4.5], [5.75], [7], [8.5]];
export const words: [string[]][] = [
  [["tern", "Auk", "gull"]],
  [["auk", "tern"]],
  [["Tern", "auk"]],
  [["x"]],
  [["b", "A", "c", "D"]],
];
export const day = (text: string): Date => new Date(`${text}T00:00:00Z`);
