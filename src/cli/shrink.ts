import { Command, InvalidArgumentError } from "commander";
import { shrinkCaseOfFile } from "@/service/check/shrink-case";

type Options = { case: string; twin?: string; seconds: number; json?: boolean };

/** `side-twin shrink`. */
export function shrinkCommand(): Command {
  return new Command("shrink")
    .description("find a smaller input that still shows what a case shows")
    .argument("<file>", "the port file, or a folder with a side-twin.json")
    .requiredOption("--case <id>", "the case that differs")
    .option("--twin <name>", "on this twin")
    .option("--seconds <n>", "how long it may take", seconds, 30)
    .option("--json", "print what was found as JSON, and nothing else, on stdout")
    .action(async (file: string, options: Options) => {
      const stop = new AbortController();
      process.once("SIGINT", () => stop.abort());
      const end = await shrinkCaseOfFile(file, {
        caseId: options.case,
        ...(options.twin ? { twin: options.twin } : {}),
        seconds: options.seconds,
        signal: stop.signal,
      });
      const [first] = end.divergences;
      process.stdout.write(
        options.json
          ? `${JSON.stringify(end)}\n`
          : [
              JSON.stringify(end.case),
              `${end.sizeBefore} characters of input became ${end.sizeAfter}, in ${end.tries} tries${end.state === "stopped" ? ", stopped before the end" : ""}`,
              first ? `${first.at}: ${JSON.stringify(first.original)} against ${JSON.stringify(first.twin)}` : "",
              "",
            ].join("\n"),
      );
    });
}

function seconds(text: string): number {
  const value = Number(text);
  if (!(value > 0 && value <= 3600)) throw new InvalidArgumentError("seconds from 1 to 3600 are wanted");
  return value;
}
