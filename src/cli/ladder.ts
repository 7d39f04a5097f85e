import { Command } from "commander";
import { print, showStep, stopOnInterrupt, withData, withJson, withPort } from "@/cli/options";
import { describeUnmet } from "@/core/ladder/ladder";
import { climbLadder } from "@/service/ladder/climb-ladder";
import { type DiagnoseRun, diagnosePort } from "@/service/ladder/diagnose";
import { sarifOf } from "@/service/ladder/diagnose-sarif";
import { openPort } from "@/service/port/open-port";
import { prepareDataFolder, refuseUnwritable, writeOutput } from "@/service/port/output-file";

type DiagnoseOptions = { side?: string; rung?: string; module?: string; json?: boolean; sarif?: string };

/** `side-twin diagnose`. */
export function diagnoseCommand(): Command {
  return withJson(withPort(new Command("diagnose")))
    .description("run the checks of the ladder and list what compilers and checkers say")
    .option("--side <name>", "original, or a twin")
    .option("--rung <name>", "only the check of this rung")
    .option("--module <name>", "only this module")
    .option("--sarif <file>", "also write them as SARIF")
    .action(async (file: string, options: DiagnoseOptions) => {
      refuseUnwritable([options.sarif]);
      const runs = await diagnosePort(await openPort(file), {
        ...options,
        signal: stopOnInterrupt(),
        onRun: (side, rung) => showStep(`${rung} on ${side}`),
      });
      if (options.sarif) await writeOutput(options.sarif, sarifOf(runs));
      print(options.json, { format: "side-twin/diagnostics", version: 1, runs }, () => describeRuns(runs));
      process.exitCode = runs.some(({ diagnostics }) => diagnostics.some(({ severity }) => severity === "error"))
        ? 1
        : 0;
    });
}

type LadderOptions = { twin?: string; data: string; json?: boolean };

/** `side-twin ladder`. */
export function ladderCommand(): Command {
  return withJson(withData(withPort(new Command("ladder"))))
    .description("work out which rungs of the ladder are reached")
    .option("--twin <name>", "only this twin")
    .action(async (file: string, options: LadderOptions) => {
      prepareDataFolder(options.data);
      const open = await openPort(file);
      const { rungs, isThere } = await climbLadder(open, {
        twin: options.twin,
        data: options.data,
        signal: stopOnInterrupt(),
        onStep: showStep,
      });
      print(options.json, { format: "side-twin/ladder", version: 1, rungs }, () =>
        rungs
          .map(({ name, twin, reached, unmet }) => {
            const gain = open.port.ladder.find((rung) => rung.name === name)?.gain;
            const words = reached ? "reached" : unmet.map(describeUnmet).join("; ");
            return `${reached ? "✓" : "·"} ${name} (${twin}): ${words}${gain ? `\n    ${gain}` : ""}\n`;
          })
          .join(""),
      );
      process.exitCode = isThere ? 0 : 1;
    });
}

function describeRuns(runs: readonly DiagnoseRun[]): string {
  const lines = runs.flatMap(({ side, rung, diagnostics, text, seconds }) => [
    `${rung} on ${side}: ${countOf(diagnostics, "error")}, ${countOf(diagnostics, "warning")}, ${seconds.toFixed(1)} s`,
    ...diagnostics.map(
      ({ file, line, column, severity, code, message }) =>
        `  ${file === "" ? "" : `${file}${line === null ? "" : `:${line}`}${column === null ? "" : `:${column}`}: `}${severity}${code ? ` ${code}` : ""}: ${message}`,
    ),
    ...text.map((line) => `  | ${line}`),
  ]);
  return `${lines.join("\n")}\n`;
}

function countOf(diagnostics: DiagnoseRun["diagnostics"], wanted: "error" | "warning"): string {
  const count = diagnostics.filter(({ severity }) => severity === wanted).length;
  return `${count} ${wanted}${count === 1 ? "" : "s"}`;
}
