/** How the clock and the random numbers of a whole program are fixed: by what its runtime loads before it. */
import path from "node:path";
import { pathToFileURL } from "node:url";
import { SideTwinError } from "@/core/errors";
import { DRIVERS } from "@/engine/bridge/drivers/index";
import { packageRoot } from "@/engine/files/package-root";

type Terms = { readonly now: string | undefined; readonly seed: number | undefined };

/** Whether the clock of programs in a language can be set. */
export const canFix = (language: string): boolean => DRIVERS[language] !== undefined;

/** Nothing when nothing is fixed. Throws SideTwinError for a language whose runtime cannot be told. */
export function fixedEnvironment(language: string, { now, seed }: Terms): Record<string, string> {
  if (now === undefined && seed === undefined) return {};
  const drivers = path.join(packageRoot(), "src/engine/bridge/drivers");
  const terms = {
    ...(now === undefined ? {} : { SIDE_TWIN_NOW: now }),
    ...(seed === undefined ? {} : { SIDE_TWIN_SEED: String(seed) }),
  };
  switch (DRIVERS[language]?.title) {
    case DRIVERS.python?.title:
      return { ...terms, PYTHONPATH: joinPath(path.join(drivers, "python/fixed_run"), process.env.PYTHONPATH) };
    case DRIVERS.javascript?.title:
      return { ...terms, NODE_OPTIONS: `--import=${pathToFileURL(path.join(drivers, "node/fixed-run.mjs")).href}` };
    default:
      throw new SideTwinError({
        code: "bad-input",
        what: `The clock and the random numbers of a ${language} program cannot be fixed`,
        next: 'Leave "now" and "seed" out for its runs.',
      });
  }
}

const joinPath = (first: string, rest: string | undefined): string =>
  rest ? `${first}${path.delimiter}${rest}` : first;
