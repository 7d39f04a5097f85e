/**
 * The journal beside the port file: one entry a line, added and closed, never rewritten (formats, section 15). A line
 * with the id of an earlier one closes it: it records whether the assumption holds.
 */
import { z } from "zod";
import { SideTwinError } from "@/core/errors";

export const ENTRY_KINDS = [
  "decision",
  "assumption",
  "note",
  "agreed",
  "rung",
  "applied",
  "left-out",
  "checked",
  "drafted",
  "released",
] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

export const HOLDS = ["open", "true", "false"] as const;

const text = z.string().nullable().optional();

/** Keys that a later version adds are kept and shown as they are. */
export const entrySchema = z.looseObject({
  id: z.string().min(1),
  at: z.string().min(1),
  kind: z.enum(ENTRY_KINDS),
  text: z.string(),
  module: text,
  section: text,
  case: text,
  by: text,
  /** Of an assumption: whether it holds. */
  holds: z.enum(HOLDS).optional(),
  /** Of an assumption that turned out false: the ids of entries that rested on it. */
  rests: z.array(z.string()).optional(),
});
export type JournalEntry = z.infer<typeof entrySchema>;

/** Describes the fault of a line that is not an entry; a last line without a line end was cut short by a crash. */
export type JournalProblem = { readonly line: number; readonly what: string };

export type Journal = { readonly entries: readonly JournalEntry[]; readonly problems: readonly JournalProblem[] };

/**
 * Reads the lines of a journal, oldest first; a later line of the same id changes the earlier one. Lines that are not
 * entries are reported and left alone. Linear in the text.
 */
export function parseJournal(content: string): Journal {
  const entries = new Map<string, JournalEntry>();
  const problems: JournalProblem[] = [];
  const lines = content.replace(/^\uFEFF/, "").split("\n");
  const isTorn = (lines.at(-1) ?? "") !== "";
  for (const [index, raw] of lines.entries()) {
    const line = raw.replace(/\r$/, "");
    if (line.trim() === "") continue;
    const read = parseLine(line);
    if (read.entry) {
      const before = entries.get(read.entry.id);
      entries.set(read.entry.id, before ? { ...before, ...read.entry, at: before.at } : read.entry);
    } else {
      const torn = isTorn && index === lines.length - 1 ? "The last line is incomplete" : read.what;
      problems.push({ line: index + 1, what: torn });
    }
  }
  return { entries: [...entries.values()], problems };
}

function parseLine(line: string): { readonly entry: JournalEntry | null; readonly what: string } {
  let value: unknown;
  try {
    value = JSON.parse(line);
  } catch {
    // Reported with its line number.
    return { entry: null, what: "Not JSON" };
  }
  const read = entrySchema.safeParse(value);
  if (read.success) return { entry: read.data, what: "" };
  const [issue] = read.error.issues;
  return { entry: null, what: `${issue?.path.join(".") || "The line"}: ${issue?.message ?? "not an entry"}` };
}

/** The fields of a new entry; id and time are added. */
export type NewEntry = Pick<JournalEntry, "kind" | "text"> &
  Partial<Pick<JournalEntry, "module" | "section" | "case" | "by" | "holds">>;

/** The entry as it is written. Throws SideTwinError `bad-input` for a text that is empty. */
export function makeEntry(given: NewEntry, { id, at }: { readonly id: string; readonly at: string }): JournalEntry {
  if (given.text.trim() === "")
    throw new SideTwinError({
      code: "bad-input",
      what: "A journal entry needs a text",
      next: "Write what was decided.",
    });
  const { kind, text: words, holds, ...place } = given;
  const set = Object.fromEntries(Object.entries(place).filter(([, value]) => value !== undefined && value !== null));
  return {
    id,
    at,
    kind,
    ...set,
    text: words.trim(),
    ...(kind === "assumption" ? { holds: holds ?? "open" } : {}),
  };
}

/** The text to append for one more line; completes a last line that has no end. */
export const lineToAdd = (content: string, entry: JournalEntry): string =>
  `${content !== "" && !content.endsWith("\n") ? "\n" : ""}${JSON.stringify(entry)}\n`;
