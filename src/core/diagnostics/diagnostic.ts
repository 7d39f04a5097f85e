/** Diagnostics: what compilers and checkers print about code. */

export const SEVERITIES = ["error", "warning", "note"] as const;
/** `note` belongs to the diagnostic before it. */
export type Severity = (typeof SEVERITIES)[number];

/** Line and column count from 1; null where the tool gives none. `file` as the tool writes it, empty where it names none. */
export type Diagnostic = {
  readonly file: string;
  readonly line: number | null;
  readonly column: number | null;
  readonly endLine: number | null;
  readonly endColumn: number | null;
  readonly severity: Severity;
  readonly code: string | null;
  readonly message: string;
};

/** Output of a command. */
export type Printed = { readonly stdout: string; readonly stderr: string };

/** The diagnostics in an output, and the lines that no reader understood. */
export type ReadOutput = { readonly diagnostics: readonly Diagnostic[]; readonly rest: readonly string[] };

/** Options of a reader: `root` is the absolute folder that files are relative to, `pattern` the person's own expression. */
export type ReaderTerms = { readonly root: string; readonly pattern?: string | undefined };

/** The contract of a reader. Entries are pure, and know no other entry. Cost: linear in the output. */
export type DiagnosticsReader = {
  readonly name: string;
  readonly title: string;
  readonly read: (printed: Printed, terms: ReaderTerms) => ReadOutput;
  /** Codes of what only this language or its tools ask for, such as a type: no fault of the code as such. */
  readonly isOfTwinAlone?: (code: string) => boolean;
  /** Output that it understands, and one line that it leaves as text. */
  readonly example: { readonly text: string; readonly finds: Partial<Diagnostic>; readonly leaves: string };
};

/** Whether it counts: a note belongs to the one before it. */
export const isComplaint = ({ severity }: Pick<Diagnostic, "severity">): boolean => severity !== "note";

/** A diagnostic with defaults for what a tool does not give. */
export const diagnostic = (found: Partial<Diagnostic> & Pick<Diagnostic, "message">): Diagnostic => ({
  file: "",
  line: null,
  column: null,
  endLine: null,
  endColumn: null,
  severity: "error",
  code: null,
  ...found,
});

const ESCAPES = new RegExp(
  `${String.fromCharCode(27)}\\[[0-9;?]*[A-Za-z]|${String.fromCharCode(27)}\\][^\\u0007]*\\u0007`,
  "g",
);

/** Lines of an output without colours and carriage returns. */
export const linesOf = (text: string): string[] =>
  text === "" ? [] : text.replace(ESCAPES, "").replace(/\r\n?/g, "\n").replace(/\n$/, "").split("\n");

/** Both streams, errors last; most tools use only one. */
export const allLines = ({ stdout, stderr }: Printed): string[] => [...linesOf(stdout), ...linesOf(stderr)];

/** A number, or null. */
export const numberOr = (text: string | undefined): number | null =>
  text === undefined || text === "" ? null : Number(text);

/** JSON documents in an output: the whole text, or one a line. Lines that are not JSON come back as text. */
export function jsonLines(printed: Printed): { readonly values: readonly unknown[]; readonly rest: readonly string[] } {
  const values: unknown[] = [];
  const rest: string[] = [];
  for (const stream of [printed.stdout, printed.stderr]) {
    const whole = parse(stream.trim());
    if (whole !== undefined) {
      values.push(whole);
      continue;
    }
    for (const line of linesOf(stream)) {
      const value = /^\s*[[{]/.test(line) ? parse(line) : undefined;
      if (value === undefined) rest.push(line);
      else values.push(value);
    }
  }
  return { values, rest };
}

function parse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    // Not JSON: the caller keeps it as text.
    return undefined;
  }
}
