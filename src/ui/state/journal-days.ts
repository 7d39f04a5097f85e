/** The journal as it is shown: by day, the newest first, and filtered. Pure. */
import type { JournalView } from "@/api/making-views";

export type Entry = JournalView["entries"][number];

/** Days, the newest first, each with its entries, the newest first. `dayOf` turns an ISO time into a day. */
export function byDay(
  entries: readonly Entry[],
  dayOf: (iso: string) => string,
): (readonly [string, readonly Entry[]])[] {
  const days = new Map<string, Entry[]>();
  for (const entry of [...entries].sort((a, b) => (a.at < b.at ? 1 : -1))) {
    const day = dayOf(entry.at);
    days.set(day, [...(days.get(day) ?? []), entry]);
  }
  return [...days];
}

/** Entries that hold every word, in their kind, place or text. */
export function filterEntries(entries: readonly Entry[], words: string): readonly Entry[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return entries.filter(({ kind, text, module, section, holds }) => {
    const all = [kind, text, module, section, holds].filter(Boolean).join(" ").toLowerCase();
    return wanted.every((word) => all.includes(word));
  });
}

/** The kind of an entry, shown before its text. */
export function describeKind({ kind, holds }: Pick<Entry, "kind" | "holds">): string {
  if (kind === "assumption") return holds === "true" ? "Holds:" : holds === "false" ? "No longer assumed:" : "Assumed:";
  return {
    decision: "Decided:",
    note: "Note:",
    applied: "Applied:",
    agreed: "Allowed:",
    rung: "Rung:",
    "left-out": "Excluded:",
    checked: "Checked:",
    drafted: "Drafted:",
    released: "Released:",
  }[kind];
}
