/** A kind of allowance: what one key of `allow` in the port file means. Its shape is in `formats/allowance.ts`. */
import type { Needed } from "@/core/allowances/needed";
import type { Allow } from "@/core/formats/allowance";
import type { Equality } from "@/core/values/equality";
import type { Value } from "@/core/values/value";

/** Two values that differ at a path; `kind` as in a report's divergences. Null is a side that has none. */
export type Difference = {
  readonly at: readonly string[];
  readonly kind: string;
  readonly original: Value | null;
  readonly twin: Value | null;
  readonly measure?: Measure;
};

/** Measures how far two pictures differ: the share of pixels with a channel off by more than `channel` of 255 steps. */
export type Measure = { readonly shareOver: (channel: number) => number };

/** Context of a kind: the other keys of the same `allow`, and the port's equality. */
export type Terms = { readonly allow: Allow; readonly equality: Equality };

/** Both values as a whole, and a test whether they are the same except for their order. */
export type Whole = {
  readonly original: Value | null;
  readonly twin: Value | null;
  readonly sameUnordered: (how: NonNullable<Allow["unordered"]>) => boolean;
};

/** A narrower setting that excuses the same, and why it is proposed. */
export type Tightened<Setting> = { readonly setting: Setting; readonly advice: string };

/** The contract of a kind. Entries are data and pure functions, and know no other entry. */
export type AllowanceKind<Key extends keyof Allow> = {
  readonly key: Key;
  readonly title: string;
  /** As a sentence's predicate: "numbers may differ by 0.5". */
  readonly describe: (setting: NonNullable<Allow[Key]>) => string;
  /** How much of the setting a difference needs; null where it does not excuse it. */
  readonly excuses?: (setting: NonNullable<Allow[Key]>, difference: Difference, terms: Terms) => Needed | null;
  /**
   * Called before a whole value or document is taken apart: the kind of divergence under which it is excused, or null.
   */
  readonly settles?: (setting: NonNullable<Allow[Key]>, whole: Whole, terms: Terms) => "agreed" | "order" | null;
  /** Null where nothing much would be won, given the most that was needed. */
  readonly tighten?: (setting: NonNullable<Allow[Key]>, needed: Needed) => Tightened<NonNullable<Allow[Key]>> | null;
  /** Pairs in value notation that it excuses and that it does not, under a setting. */
  readonly examples: readonly {
    readonly setting: NonNullable<Allow[Key]>;
    readonly excuses: readonly (readonly [unknown, unknown])[];
    readonly leaves: readonly (readonly [unknown, unknown])[];
    /** The answers are errors, compared as such. */
    readonly thrown?: boolean;
  }[];
};
