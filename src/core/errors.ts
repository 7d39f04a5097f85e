/**
 * The single error record of the product. Screens, HTTP, command line and JSON output render the same four facts: what
 * is wrong, where, and what to do next.
 */

/** All codes. HTTP and exit statuses are complete tables over them. */
export const ERROR_CODES = [
  "bad-input",
  "not-found",
  "not-readable",
  "not-writable",
  "too-large",
  "outside-folder",
  "toolchain-missing",
  "folder-in-use",
  "newer-version",
  "already-running",
  "prepare-failed",
  "internal",
] as const;

/** A closed set, so that the tables stay complete. */
export type ErrorCode = (typeof ERROR_CODES)[number];

/** A place in a text file or document. `line` and `column` count from 1; `key` is a path such as `twins.0.root`. */
export type Place = {
  readonly file?: string;
  readonly line?: number;
  readonly column?: number;
  readonly key?: string;
};

/** The fault, its place, and what to do next. */
export type ErrorRecord = {
  readonly code: ErrorCode;
  readonly what: string;
  readonly where?: Place;
  readonly next?: string;
};

/** Thrown for every problem a person should see. `message` is the record in one sentence. */
export class SideTwinError extends Error {
  readonly code: ErrorCode;
  readonly what: string;
  readonly where: Place | undefined;
  readonly next: string | undefined;

  constructor(record: ErrorRecord, cause?: unknown) {
    super(formatError(record), cause === undefined ? undefined : { cause });
    this.name = "SideTwinError";
    this.code = record.code;
    this.what = record.what;
    this.where = record.where;
    this.next = record.next;
  }

  toRecord(): ErrorRecord {
    return {
      code: this.code,
      what: this.what,
      ...(this.where ? { where: this.where } : {}),
      ...(this.next ? { next: this.next } : {}),
    };
  }
}

/** The record as one sentence: `Unknown key "twinz" in side-twin.json, line 7. Rename or remove it.` */
export function formatError(record: ErrorRecord): string {
  const place = record.where ? formatPlace(record.where) : "";
  const what = record.what.replace(/[.\s]+$/, "");
  return `${what}${place ? ` in ${place}` : ""}.${record.next ? ` ${record.next}` : ""}`;
}

/** Formats a place as `file, line 7, column 3, key a.b`, omitting unknown parts. */
export function formatPlace(place: Place): string {
  const parts: string[] = [];
  if (place.file) parts.push(place.file);
  if (place.line !== undefined) parts.push(`line ${place.line}`);
  if (place.column !== undefined) parts.push(`column ${place.column}`);
  if (place.key) parts.push(`key ${place.key}`);
  return parts.join(", ");
}

/** Pages and server are bundled separately, each with its own copy of the class: test the name, not the identity. */
export const isSideTwinError = (thrown: unknown): thrown is SideTwinError =>
  thrown instanceof Error && thrown.name === "SideTwinError" && "toRecord" in thrown;

/** Returns the record of anything thrown; foreign errors become `internal` with their message. */
export function toErrorRecord(thrown: unknown): ErrorRecord {
  if (isSideTwinError(thrown)) return thrown.toRecord();
  return { code: "internal", what: thrown instanceof Error ? thrown.message : String(thrown) };
}

/** Ends every `switch` over a discriminated union: the compiler refuses it while a variant is left. */
export function assertNever(value: never): never {
  throw new Error(`Unexpected variant: ${JSON.stringify(value)}`);
}
