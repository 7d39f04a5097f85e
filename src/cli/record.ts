import { Command, InvalidArgumentError } from "commander";
import { print, showStep, stopOnInterrupt, withJson, withPort } from "@/cli/options";
import type { ExploreEnd } from "@/service/exploring/explore";
import { recordCases } from "@/service/exploring/record";

type Options = { module?: string[]; into?: string; most?: number; all?: boolean; json?: boolean };

/** `side-twin record`. */
export function recordCommand(): Command {
  return withJson(withPort(new Command("record")))
    .description("run a program of the original, and turn its calls into shared cases")
    .argument("<command...>", "the program and its arguments, behind --")
    .option("--module <names...>", "only calls into these modules")
    .option("--into <file>", "the case file to write to")
    .option("--most <n>", "keep at most so many cases", count)
    .option("--all", "keep calls that reach no new line or kind of value too")
    .action(async (file: string, command: string[], options: Options) => {
      const end = await recordCases(file, {
        command,
        modules: options.module ?? [],
        into: options.into,
        most: options.most,
        all: options.all,
        signal: stopOnInterrupt(),
        onStep: showStep,
      });
      const { program, ...figures } = end;
      if (program.printed) process.stderr.write(program.printed);
      print(options.json, figures, () => `${program.end}\n${describeEnd(end, "calls were seen")}`);
    });
}

/** The figures of recording or generating, for people. */
export function describeEnd({ seen, kept, leftOut, lines }: ExploreEnd, what: string): string {
  return [
    `${seen} ${what}; ${kept} cases kept`,
    `${lines.after} of ${lines.of} lines run by cases, ${lines.before} before`,
    ...leftOut.map(({ why, count }) => `  left out ${count}: ${why}`),
    "",
  ].join("\n");
}

/** A whole number from 1 on. */
export function count(text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 1) throw new InvalidArgumentError("a whole number from 1 on is needed");
  return value;
}
