import { Command } from "commander";
import { print, showStep, stopOnInterrupt, withData, withJson, withPort } from "@/cli/options";
import { answersFolderIn } from "@/service/check/run-check";
import { openPort } from "@/service/port/open-port";
import { runSuites } from "@/service/suites/run-suites";

type Options = { twin?: string; data: string; json?: boolean };

/** `side-twin tests`. */
export function testsCommand(): Command {
  return withJson(withData(withPort(new Command("tests"))))
    .description("run the test suites of both sides and compare them test by test")
    .option("--twin <name>", "only this twin")
    .action(async (file: string, options: Options) => {
      const twins = await runSuites(await openPort(file), {
        twin: options.twin,
        signal: stopOnInterrupt(),
        answersFolder: answersFolderIn(options.data),
        onSuite: (side) => showStep(`tests of ${side}`),
      });
      print(options.json, { format: "side-twin/tests", version: 1, twins }, () =>
        twins
          .map(({ name, tests }) => {
            const wrong = tests.filter(({ state }) => state !== "same");
            return [
              `${name}: ${tests.length - wrong.length} of ${tests.length} tests the same`,
              ...wrong.map(
                (test) => `  ${test.state}: ${test.original ?? test.twin} (${test.originalResult}, ${test.twinResult})`,
              ),
            ].join("\n");
          })
          .join("\n")
          .concat("\n"),
      );
      process.exitCode = twins.every(({ tests }) => tests.every(({ state }) => state === "same")) ? 0 : 1;
    });
}
