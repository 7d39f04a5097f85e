import { Command, Option } from "commander";
import { showStep, stopOnInterrupt, withData, withPort } from "@/cli/options";
import { WRITERS } from "@/core/handover/writers/index";
import { gatherHandover } from "@/service/handover/gather-handover";
import { prepareDataFolder, refuseUnwritable, writeOutput } from "@/service/port/output-file";

type Options = { as: string; since?: string; out?: string; data: string };

/** `side-twin report`. */
export function reportCommand(): Command {
  return withData(withPort(new Command("report")))
    .description("write what is handed over: state, evidence, decisions, what is left")
    .addOption(new Option("--as <form>", "how it is written").choices(Object.keys(WRITERS)).makeOptionMandatory())
    .option("--since <date|snapshot>", "list changes after this only")
    .option("--out <file>", "where it is written; stdout where it is left out")
    .action(async (file: string, options: Options) => {
      refuseUnwritable([options.out]);
      prepareDataFolder(options.data);
      const { since, data } = options;
      const handover = await gatherHandover(file, { since, data, signal: stopOnInterrupt(), onStep: showStep });
      const text = WRITERS[options.as]?.(handover) ?? "";
      if (options.out) await writeOutput(options.out, text);
      else process.stdout.write(text);
    });
}
