import { Command } from "commander";
import { print, showStep, stopOnInterrupt, withData, withJson, withPort } from "@/cli/options";
import { count } from "@/cli/record";
import { mendPort } from "@/service/mending/mend";

type Options = {
  module?: string;
  twin?: string;
  family?: string;
  seconds?: number;
  jobs?: number;
  write?: boolean;
  data: string;
  json?: boolean;
};

/** `side-twin mend`. */
export function mendCommand(): Command {
  return withJson(withData(withPort(new Command("mend"))))
    .description("try small changes of the twin that make differing cases agree and harm nothing")
    .option("--module <name>", "only families of this module")
    .option("--twin <name>", "only this twin")
    .option("--family <id>", "only this family of the check")
    .option("--seconds <n>", "how long it may try", count)
    .option("--jobs <n>", "how many changes are tried at once", count)
    .option("--write", "write the mends that were found; a snapshot is taken first")
    .action(async (file: string, options: Options) => {
      const { families, snapshot } = await mendPort(file, { ...options, signal: stopOnInterrupt(), onStep: showStep });
      print(options.json, { format: "side-twin/mends", version: 1, families }, () =>
        [
          ...families.flatMap(({ id, module, call, cases, tried, best, why, places }) => [
            `${id} ${module}.${call}, ${cases.length} cases: ${best ? `${best.what} (${best.file}:${best.line})` : (why ?? "no mend found")}, ${tried} changes tried`,
            ...(best ? [best.diff] : places.slice(0, 3).map((place) => `  look at ${place.file}:${place.line}`)),
          ]),
          ...(families.length === 0 ? ["No case differs."] : []),
          ...(snapshot === null ? [] : [`snapshot ${snapshot}: side-twin undo ${file} takes it back`]),
          "",
        ].join("\n"),
      );
      process.exitCode = families.every(({ best }) => best !== null) ? 0 : 1;
    });
}
