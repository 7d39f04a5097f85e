export type CountedFunction = {
  readonly ranges: readonly { readonly startOffset: number; readonly endOffset: number; readonly count: number }[];
};

/**
 * Lines of the source, from 1, that counted code ran; `starts` are the offsets at which the running code's lines begin. With
 * `isSince`, code outside the counted functions did not run.
 */
export function linesRun(
  functions: readonly CountedFunction[],
  made: { readonly starts: readonly number[]; readonly code?: string; readonly mappings?: string | null },
  isSince?: boolean,
): number[];

/** Offsets at which the lines of a text begin. */
export function startsOf(code: string): number[];

/** Line of the source, from 1, and the offset in the running code of the first thing on it. */
export function firstPlaces(
  starts: readonly number[],
  code: string,
  mappings: string | null,
): [line: number, offset: number][];
