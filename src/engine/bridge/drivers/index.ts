/** The drivers that ship, one line a language. A driver is one program in its own folder; see docs/formats.md, section 7. */

export type DriverEntry = {
  readonly title: string;
  /** The program, relative to this folder in the package. */
  readonly program: string;
  /** Extra arguments of the interpreter, given the memory limit. */
  readonly flags: (memoryMb: number) => readonly string[];
  /** How it tells the lines that were run: with each answer when `hello` asks for it, or counted from a start to an end. */
  readonly lines: "each" | "counted" | null;
};

const python: DriverEntry = { title: "Python", program: "python/driver.py", flags: () => ["-u"], lines: "each" };
const node: DriverEntry = {
  title: "JavaScript and TypeScript",
  program: "node/driver.mjs",
  flags: (memoryMb) => [`--max-old-space-size=${memoryMb}`, "--stack-size=980"],
  lines: "counted",
};

export const DRIVERS: Readonly<Record<string, DriverEntry>> = { python, javascript: node, typescript: node };
