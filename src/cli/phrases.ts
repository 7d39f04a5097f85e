import { Command } from "commander";
import { print, withData, withJson, withPort } from "@/cli/options";
import { applyPhrases } from "@/service/phrasebook/apply-phrases";
import { type PhraseRun, runPhrases } from "@/service/phrasebook/run-phrases";
import { openPort } from "@/service/port/open-port";

type Options = { twin?: string; phrase?: string[]; not?: string[]; data: string; check?: boolean; json?: boolean };

const collect = (value: string, before: string[] | undefined): string[] => [...(before ?? []), value];

/** `side-twin phrases`. */
export function phrasesCommand(): Command {
  return withJson(withPort(new Command("phrases")))
    .description("list every place of the phrasebook in a twin, and what is left of the old way")
    .option("--twin <name>", "on this twin")
    .option("--phrase <id>", "only this phrase", collect)
    .action(async (file: string, options: Options) => {
      const run = await runPhrases(await openPort(file), { twin: options.twin, only: options.phrase });
      print(
        options.json,
        {
          format: "side-twin/phrases",
          version: 1,
          phrases: run.phrases.map(({ id, occurrences }) => ({
            id,
            occurrences: occurrences.map(({ file: at, line, column, before, after, state, why }) => ({
              file: at,
              line,
              column,
              before,
              after,
              state,
              ...(why === null ? {} : { why }),
            })),
          })),
          leftovers: run.leftovers,
          mixed: run.mixed,
          ...(run.lapsed.length > 0 ? { lapsed: run.lapsed } : {}),
          ...(run.unsound.length > 0 ? { unsound: run.unsound } : {}),
        },
        () => describe(run),
      );
      const open = run.phrases.flatMap(({ occurrences }) => occurrences).some(({ state }) => state !== "kept");
      process.exitCode = open || run.leftovers.length > 0 ? 1 : 0;
    });
}

/** `side-twin apply`. */
export function applyCommand(): Command {
  return withJson(withData(withPort(new Command("apply"))))
    .description("write all ready places of the phrasebook, or none; a snapshot is taken first")
    .option("--twin <name>", "on this twin")
    .option("--phrase <id>", "only this phrase; may be given several times", collect)
    .option("--not <file:line>", "leave the places of this line; may be given several times", collect)
    .option("--check", "check the twin afterwards")
    .action(async (file: string, options: Options) => {
      const { application: _, ...applied } = await applyPhrases(await openPort(file), {
        twin: options.twin,
        run: options.phrase,
        not: options.not,
        data: options.data,
        check: options.check ?? false,
      });
      print(options.json, applied, () =>
        applied.changed.length === 0
          ? "Nothing to change.\n"
          : [
              ...applied.changed.map(({ file: at, to, places }) => `${at}${to ? ` → ${to}` : ""}  ${places}`),
              `snapshot ${applied.snapshot}: side-twin undo ${file} takes it back`,
              applied.check ? `${applied.check.agree} agree, ${applied.check.differ} differ` : "",
            ]
              .filter(Boolean)
              .map((line) => `${line}\n`)
              .join(""),
      );
    });
}

function describe(run: PhraseRun): string {
  const lines: string[] = [];
  for (const { id, occurrences } of run.phrases) {
    const count = (state: string) => occurrences.filter((place) => place.state === state).length;
    const counts = ["ready", "open", "kept", "conflict"].flatMap((state) =>
      count(state) > 0 ? [`${count(state)} ${state}`] : [],
    );
    lines.push(`${id}: ${counts.join(", ") || "no place"}`);
    for (const { file, line, column, before, after, state, why } of occurrences)
      lines.push(
        `  ${file}:${line}:${column}  ${state === "ready" ? `${oneLine(before)} → ${oneLine(after)}` : `${state}: ${why ?? ""}  ${oneLine(before)}`}`,
      );
  }
  if (run.leftovers.length > 0) lines.push("", "Left of the old way:");
  for (const { file, line, text, in: where } of run.leftovers)
    lines.push(`  ${file}:${line}  (${where}) ${oneLine(text)}`);
  for (const { phrase, file, text } of run.lapsed)
    lines.push(`lapsed: the exception of "${phrase}" in ${file}${text ? ` (${text})` : ""} matches nothing`);
  for (const file of run.unsound) lines.push(`${file} has a syntax error: phrases of code and names leave it alone`);
  return `${lines.join("\n")}\n`;
}

const MAX_SHOWN = 70;

const oneLine = (text: string): string => {
  const flat = text.replace(/\s+/g, " ");
  return flat.length > MAX_SHOWN ? `${flat.slice(0, MAX_SHOWN)}…` : flat;
};
