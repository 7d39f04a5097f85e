/**
 * A platform-bound item of a language: how its places are found, and why it hinders the port. Entries are independent.
 */

export const SNAG_KINDS = {
  host: "The host: files, processes, environment, network",
  dynamic: "Code that looks at code: reflection, evaluation, patching",
  flow: "Errors and jumps as control flow",
  numbers: "Numbers of another size or kind",
  threads: "Threads, processes and event loops",
  time: "Clock, calendar and time zones",
  locale: "Locale, collation and encodings",
  state: "State that outlives a call",
  library: "Library areas without a counterpart",
} as const;

export type SnagKind = keyof typeof SNAG_KINDS;

export type SnagRule = {
  readonly kind: SnagKind;
  readonly title: string;
  /** The consideration it requires in the port. */
  readonly why: string;
  /** Packages from outside, a `*` at the end standing for any rest. */
  readonly packages?: readonly string[];
  /** Names from outside as `package.name`, a `*` at the end standing for any rest. */
  readonly names?: readonly string[];
  /** Names of the language itself, used without an import, `*` at the end as before: `eval`, `Thread.new`. */
  readonly builtins?: readonly string[];
  /** Types of nodes of the syntax tree. */
  readonly syntax?: readonly string[];
};

export const fits = (name: string, pattern: string): boolean =>
  pattern.endsWith("*") ? name.startsWith(pattern.slice(0, -1)) : name === pattern;
