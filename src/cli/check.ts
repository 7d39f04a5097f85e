import { homedir } from "node:os";
import path from "node:path";
import { Command, InvalidArgumentError } from "commander";
import { formatReport } from "@/cli/format-report";
import { showProgress } from "@/cli/progress";
import { hasCompared } from "@/core/report/totals";
import { formatJunit } from "@/core/report/writers/junit";
import { formatLcov } from "@/core/report/writers/lcov";
import { formatSarif } from "@/core/report/writers/sarif";
import { answersFolderIn, runCheckOfFile } from "@/service/check/run-check";
import { exitStatusOf } from "@/service/port/exit-status";
import { twinFile } from "@/service/port/open-port";
import { prepareDataFolder, refuseUnwritable, writeOutput } from "@/service/port/output-file";
import { partFamilies } from "@/service/tracing/part-families";

type Options = {
  module?: string;
  twin?: string;
  case?: string;
  jobs: number;
  data: string;
  fresh?: boolean;
  steady?: boolean;
  json?: boolean;
  junit?: string;
  lcov?: string;
  sarif?: string;
};

/** `side-twin check`. */
export function checkCommand(): Command {
  return new Command("check")
    .description("run the shared cases on both sides and compare")
    .argument("<file>", "the port file, or a folder with a side-twin.json")
    .option("--module <name>", "only this module")
    .option("--twin <name>", "only this twin")
    .option("--case <id>", "only this case")
    .option("--jobs <n>", "processes for each side", wholeNumber, 1)
    .option("--fresh", "run every case, also where an answer is kept whose code, input and toolchain are the same")
    .option("--steady", "run every case of the original again, under another hash seed, time zone, locale and clock")
    .option("--data <dir>", "where answers are kept between checks", path.join(homedir(), ".side-twin"))
    .option("--json", "print the report as JSON, and nothing else, on stdout")
    .option("--junit <file>", "also write a JUnit report", outputFile)
    .option("--lcov <file>", "also write the proven lines of the original as LCOV", outputFile)
    .option("--sarif <file>", "also write what differs as SARIF", outputFile)
    .action(async (file: string, options: Options) => {
      refuseUnwritable([options.junit, options.lcov, options.sarif]);
      prepareDataFolder(options.data);
      const progress = showProgress();
      const stop = new AbortController();
      process.once("SIGINT", () => stop.abort());
      try {
        const { report, end, open } = await runCheckOfFile(file, {
          module: options.module,
          twin: options.twin,
          caseId: options.case,
          jobs: options.jobs,
          answersFolder: answersFolderIn(options.data),
          fresh: options.fresh ?? false,
          steady: options.steady ?? false,
          signal: stop.signal,
          part: partFamilies,
          onStart: progress.start,
          onVerdict: progress.verdict,
          onPhase: progress.phase,
        });
        progress.end();
        if (options.junit) await writeOutput(options.junit, formatJunit(report));
        if (options.lcov)
          await writeOutput(
            options.lcov,
            formatLcov(
              open.original.folder,
              [...end.proven.values()].flatMap((modules) => [...modules.values()]),
            ),
          );
        if (options.sarif)
          await writeOutput(
            options.sarif,
            formatSarif(report, (...of) => twinFile(open, ...of)),
          );
        process.stdout.write(options.json ? `${JSON.stringify(report)}\n` : formatReport(report));
        process.exitCode = exitStatusOf(report);
        if (report.changed)
          process.stderr.write(
            `side-twin: sources were saved again and again meanwhile: ${report.changed.join(", ")}\n`,
          );
        else if (report.state === "complete" && !hasCompared(report.totals))
          process.stderr.write("side-twin: nothing was compared: no case has anything to run on the twin yet\n");
      } finally {
        progress.end();
      }
    });
}

function outputFile(given: string): string {
  if (given.trim() === "") throw new InvalidArgumentError("a file name is needed");
  return given;
}

function wholeNumber(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1 || value > 64)
    throw new InvalidArgumentError("a whole number from 1 to 64 is wanted");
  return value;
}
