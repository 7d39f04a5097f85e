/** The command line: `side-twin COMMAND …`. Each command is a file; it parses, calls one service function, renders. */
import { Command, CommanderError } from "commander";
import { checkCommand } from "@/cli/check";
import { compareCommand } from "@/cli/compare";
import { draftCommand } from "@/cli/draft";
import { generateCommand } from "@/cli/generate";
import { journalCommand } from "@/cli/journal";
import { diagnoseCommand, ladderCommand } from "@/cli/ladder";
import { learnCommand } from "@/cli/learn";
import { mendCommand } from "@/cli/mend";
import { pairCommand } from "@/cli/pair";
import { applyCommand, phrasesCommand } from "@/cli/phrases";
import { recordCommand } from "@/cli/record";
import { reportCommand } from "@/cli/report";
import { shrinkCommand } from "@/cli/shrink";
import { redoCommand, snapshotsCommand, undoCommand } from "@/cli/snapshots";
import { surveyCommand } from "@/cli/survey";
import { testsCommand } from "@/cli/tests";
import { traceCommand } from "@/cli/trace";
import { formatError, toErrorRecord } from "@/core/errors";
import { EXIT_STATUS } from "@/service/port/exit-status";
import { readVersion } from "@/service/port/version";

async function main(argv: readonly string[]): Promise<void> {
  const program = new Command("side-twin")
    .description("Port code module by module, with evidence.")
    .version(readVersion())
    .exitOverride()
    .configureOutput({ outputError: (text, write) => write(text) });
  // The server brings in the web framework and the database, which the other commands must not wait for.
  const wantsServer = argv[2] === "serve" || argv[2] === "demo";
  const server = wantsServer || argv.length < 4 ? await import("@/cli/serve") : null;
  for (const command of server ? [server.serveCommand(), server.demoCommand()] : [])
    program.addCommand(command.exitOverride());
  for (const command of [
    checkCommand(),
    compareCommand(),
    surveyCommand(),
    pairCommand(),
    shrinkCommand(),
    reportCommand(),
    diagnoseCommand(),
    ladderCommand(),
    testsCommand(),
    phrasesCommand(),
    applyCommand(),
    learnCommand(),
    snapshotsCommand(),
    undoCommand(),
    redoCommand(),
    journalCommand(),
    recordCommand(),
    generateCommand(),
    mendCommand(),
    draftCommand(),
    traceCommand(),
  ])
    program.addCommand(command.exitOverride());
  await program.parseAsync([...argv]);
}

// A reader that stops early (`| head`) closes the pipe; that is not an error.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit(process.exitCode ?? 0);
  throw error;
});

process.on("unhandledRejection", (thrown) => {
  fail(thrown);
  process.exit();
});
main(process.argv).catch(fail);

function fail(thrown: unknown): void {
  if (thrown instanceof CommanderError) {
    process.exitCode = thrown.exitCode === 0 ? 0 : 2;
    return;
  }
  const record = toErrorRecord(thrown);
  process.stderr.write(`side-twin: ${formatError(record)}\n`);
  // For debugging Side Twin itself.
  if (record.code === "internal" && process.env.SIDE_TWIN_DEBUG && thrown instanceof Error)
    process.stderr.write(`${thrown.stack}\n`);
  process.exitCode = EXIT_STATUS[record.code];
}
