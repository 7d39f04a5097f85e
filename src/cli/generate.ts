import { Command } from "commander";
import { print, showStep, stopOnInterrupt, withJson, withPort } from "@/cli/options";
import { count, describeEnd } from "@/cli/record";
import { generateCases } from "@/service/exploring/generate";

type Options = {
  module?: string[];
  call?: string[];
  seconds?: number;
  most?: number;
  seed?: number;
  twins?: boolean;
  json?: boolean;
};

/** `side-twin generate`. */
export function generateCommand(): Command {
  return withJson(withPort(new Command("generate")))
    .description("look for inputs that run lines of the original which no case runs, and keep the few that do")
    .option("--module <names...>", "only these modules")
    .option("--call <names...>", "only these functions and classes")
    .option("--seconds <n>", "how long it may look", count)
    .option("--most <n>", "keep at most so many cases", count)
    .option("--seed <n>", "the same seed gives the same cases", Number)
    .option("--twins", "keep inputs on which a twin differs too")
    .action(async (file: string, options: Options) => {
      const { module = [], call = [], seconds, most, seed, twins } = options;
      const end = await generateCases(file, {
        modules: module,
        calls: call,
        seconds,
        most,
        seed,
        twins,
        signal: stopOnInterrupt(),
        onStep: showStep,
      });
      print(options.json, end, () => describeEnd(end, "inputs were tried"));
    });
}
