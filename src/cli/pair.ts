import { Command } from "commander";
import { pairPort } from "@/service/reading/pair-port";

/** `side-twin pair`. */
export function pairCommand(): Command {
  return new Command("pair")
    .description("pair modules and sections of the two sides")
    .argument("<file>", "the port file, or a folder with a side-twin.json")
    .option("--twin <name>", "the twin; the first one when not given")
    .option("--json", "print the pairs as JSON")
    .action(async (file: string, options: { twin?: string; json?: boolean }) => {
      const paired = await pairPort(file, options.twin);
      if (options.json) {
        process.stdout.write(`${JSON.stringify(paired)}\n`);
        return;
      }
      for (const module of paired.modules) {
        process.stdout.write(`${module.name}  ${module.twin.join(", ") || "no twin"}\n`);
        for (const pair of module.sections) {
          process.stdout.write(`  ${pair.original} -> ${pair.twin}  ${pair.relation} ${pair.score}\n`);
        }
      }
    });
}
