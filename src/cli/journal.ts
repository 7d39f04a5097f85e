import path from "node:path";
import { Command, InvalidArgumentError } from "commander";
import { print, withJson, withPort } from "@/cli/options";
import { ENTRY_KINDS, type EntryKind } from "@/core/journal/journal";
import { addEntry, closeEntry, readJournal } from "@/service/journal/journal-file";
import { openPort } from "@/service/port/open-port";

type Options = {
  add?: EntryKind;
  text?: string;
  module?: string;
  section?: string;
  case?: string;
  close?: string;
  holds?: "true" | "false";
  json?: boolean;
};

/** `side-twin journal`. */
export function journalCommand(): Command {
  return withJson(withPort(new Command("journal")))
    .description("list the journal, or add an entry")
    .option("--add <kind>", `add an entry: ${ENTRY_KINDS.join(", ")}`, kindOf)
    .option("--text <text>", "the text of the entry")
    .option("--module <name>", "the module it is about")
    .option("--section <name>", "the section it is about")
    .option("--case <id>", "the case it is about")
    .option("--close <id>", "close an assumption")
    .option("--holds <answer>", "whether it holds: true or false", holdsOf)
    .action(async (file: string, options: Options) => {
      const { folder } = await openPort(file);
      if (options.add) {
        const entry = await addEntry(folder, {
          kind: options.add,
          text: options.text ?? "",
          module: options.module,
          section: options.section,
          case: options.case,
        });
        print(options.json, entry, () => `${entry.id} added\n`);
        return;
      }
      if (options.close) {
        const closed = await closeEntry(folder, options.close, options.holds ?? "true");
        print(options.json, closed, () => `${closed.id}: ${closed.holds}\n`);
        return;
      }
      const { entries, problems } = await readJournal(folder);
      for (const { line, what } of problems)
        process.stderr.write(
          `side-twin: ${path.join(folder, "journal.jsonl")}, line ${line}: ${what}; it is left as it is\n`,
        );
      print(options.json, entries, () =>
        entries.length === 0
          ? "The journal is empty.\n"
          : entries
              .map(
                ({ at, kind, holds, module, section, text }) =>
                  `${at.slice(0, 16).replace("T", " ")}  ${kind}${holds ? ` (${holds})` : ""}  ${[module, section].filter(Boolean).join(".")}${module ? ": " : ""}${text}\n`,
              )
              .join(""),
      );
    });
}

function kindOf(text: string): EntryKind {
  const kind = ENTRY_KINDS.find((entry) => entry === text);
  if (!kind) throw new InvalidArgumentError(`one of ${ENTRY_KINDS.join(", ")} is expected`);
  return kind;
}

function holdsOf(text: string): "true" | "false" {
  if (text !== "true" && text !== "false") throw new InvalidArgumentError("true or false is expected");
  return text;
}
