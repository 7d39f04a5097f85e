import { Command } from "commander";
import { print, stopOnInterrupt, withJson, withPort } from "@/cli/options";
import { traceCase } from "@/service/tracing/trace";

type Options = { case: string; twin?: string; json?: boolean };

const MARKS = { same: " ", differs: "≠", "only-original": "<", "only-twin": ">", "cannot-be-written": "?" } as const;

/** `side-twin trace`. */
export function traceCommand(): Command {
  return withJson(withPort(new Command("trace")))
    .description("run a case on both sides with its calls observed, and find where they first part")
    .requiredOption("--case <id>", "the case")
    .option("--twin <name>", "on this twin")
    .action(async (file: string, options: Options) => {
      const end = await traceCase(file, { caseId: options.case, twin: options.twin, signal: stopOnInterrupt() });
      print(options.json, { format: "side-twin/trace", version: 1, ...end }, () =>
        [
          ...end.calls.map(({ section, depth, state }) => `${MARKS[state]} ${"  ".repeat(depth)}${section}`),
          end.inner ? `they part in ${end.inner.section}: ${end.inner.why}` : "no call of paired sections parts",
          ...(end.inner?.case ? [JSON.stringify(end.inner.case)] : []),
          "",
        ].join("\n"),
      );
    });
}
