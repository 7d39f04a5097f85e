import { Command, Option } from "commander";
import { type DocumentKind, documentKind } from "@/core/formats/document-kind";
import { compareFiles } from "@/service/check/compare-files";

/** `side-twin compare`. */
export function compareCommand(): Command {
  return new Command("compare")
    .description("compare two files as a check would")
    .argument("<original>")
    .argument("<twin>")
    .addOption(new Option("--as <kind>", "what the files are; found out when not given").choices(documentKind.options))
    .option("--json", "print the comparison as JSON")
    .action(async (original: string, twin: string, options: { as?: DocumentKind; json?: boolean }) => {
      const comparison = await compareFiles(original, twin, options.as);
      if (options.json) process.stdout.write(`${JSON.stringify(comparison)}\n`);
      else {
        for (const { at, original: one, twin: other } of comparison.divergences) {
          process.stdout.write(`${at}\n  original ${show(one)}\n  twin     ${show(other)}\n`);
        }
        if (comparison.more > 0) process.stdout.write(`and ${comparison.more} more\n`);
      }
      process.exitCode = comparison.same ? 0 : 1;
    });
}

const show = (value: unknown): string =>
  value === null ? "nothing" : typeof value === "string" ? value : JSON.stringify(value);
