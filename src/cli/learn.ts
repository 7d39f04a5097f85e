import { Command } from "commander";
import { print, withJson, withPort } from "@/cli/options";
import { learnFromPort } from "@/service/phrasebook/learn";
import { openPort } from "@/service/port/open-port";

type Options = { twin?: string; json?: boolean };

/** `side-twin learn`. */
export function learnCommand(): Command {
  return withJson(withPort(new Command("learn")))
    .description("propose phrases from what is already ported")
    .option("--twin <name>", "from this twin")
    .action(async (file: string, options: Options) => {
      const proposals = await learnFromPort(await openPort(file), options.twin);
      print(options.json, { proposals }, () =>
        proposals.length === 0
          ? "Nothing to propose: no ported file differs from its original in the same language.\n"
          : proposals
              .map(
                ({ phrase, seen, against, would }) =>
                  `${String(phrase.from)}\n  → ${String(phrase.to).replace(/\n/g, "\n    ")}\n  seen ${seen}, against ${against}, would change ${would}\n`,
              )
              .join(""),
      );
    });
}
