import { Command } from "commander";
import { print, withData, withJson, withPort } from "@/cli/options";
import { draftModule } from "@/service/drafting/draft";

type Options = {
  module: string;
  section?: string[];
  twin?: string;
  over?: boolean;
  data: string;
  json?: boolean;
};

/** `side-twin draft`. */
export function draftCommand(): Command {
  return withJson(withData(withPort(new Command("draft"))))
    .description("write a first version of what is not ported, where original and twin are in one language")
    .requiredOption("--module <name>", "the module")
    .option("--section <names...>", "only these sections of the original")
    .option("--twin <name>", "this twin; the first where it is left out")
    .option("--over", "write sections anew that are ported already")
    .action(async (file: string, { section, ...options }: Options) => {
      const { files, snapshot } = await draftModule(file, { ...options, sections: section });
      print(options.json, { format: "side-twin/drafts", version: 1, files, snapshot }, () =>
        [
          ...files.flatMap(({ file: target, sections }) =>
            sections.flatMap(({ original, twin, state, unsaid }) => [
              `${target}: ${original}${twin === original ? "" : ` as ${twin}`}, ${state}`,
              ...unsaid.map(({ line, text, why }) => `  line ${line}: ${text}  (${why})`),
            ]),
          ),
          ...(files.length === 0 ? ["No section is left to draft; --over drafts what is ported anew."] : []),
          ...(snapshot === null ? [] : [`snapshot ${snapshot}: side-twin undo ${file} takes it back`]),
          "",
        ].join("\n"),
      );
      const isWhole = files.every(({ sections }) => sections.every(({ state }) => state === "drafted"));
      process.exitCode = isWhole ? 0 : 1;
    });
}
