/** The journal's file: read as a whole, added to at its end. */
import { randomBytes } from "node:crypto";
import { existsSync } from "node:fs";
import { userInfo } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import {
  type Journal,
  type JournalEntry,
  lineToAdd,
  makeEntry,
  type NewEntry,
  parseJournal,
} from "@/core/journal/journal";
import { readText } from "@/engine/files/text";
import { editFile } from "@/engine/files/write";

/** Beside the port file. */
export const journalFile = (folder: string): string => path.join(folder, "journal.jsonl");

/** An empty journal where there is no file. Throws SideTwinError for a file that cannot be read. */
export async function readJournal(folder: string): Promise<Journal> {
  const file = journalFile(folder);
  return existsSync(file) ? parseJournal(await readText(file)) : { entries: [], problems: [] };
}

/** Adds an entry; lines that other programs append concurrently are kept. Throws SideTwinError. */
export async function addEntry(folder: string, given: NewEntry): Promise<JournalEntry> {
  const at = new Date().toISOString();
  const entry = makeEntry({ by: userName(), ...given }, { id: `j${randomBytes(5).toString("hex")}`, at });
  await editFile(journalFile(folder), (before) => `${before ?? ""}${lineToAdd(before ?? "", entry)}`);
  return entry;
}

/** Enters a deed that is done and kept elsewhere: a journal that cannot be written fails nothing. */
export async function enterDeed(folder: string, entry: NewEntry): Promise<void> {
  await addEntry(folder, entry).catch(() => undefined);
}

/** Closes an assumption as true or false by a line of its own. Throws SideTwinError `not-found`, `bad-input`. */
export async function closeEntry(folder: string, id: string, holds: "true" | "false"): Promise<JournalEntry> {
  const { entries } = await readJournal(folder);
  const found = entries.find((entry) => entry.id === id);
  if (found?.kind !== "assumption")
    throw new SideTwinError({
      code: found ? "bad-input" : "not-found",
      what: found ? `The entry "${id}" is not an assumption` : `There is no entry "${id}" in the journal`,
      next: "Only assumptions are closed, by their id.",
    });
  const closed: JournalEntry = { ...found, holds, at: new Date().toISOString() };
  await editFile(journalFile(folder), (before) => `${before ?? ""}${lineToAdd(before ?? "", closed)}`);
  return { ...closed, at: found.at };
}

function userName(): string | undefined {
  try {
    return userInfo().username;
  } catch {
    // A user without an entry in the system's list has no name.
    return undefined;
  }
}
