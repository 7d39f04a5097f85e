/** How the clock and the random numbers of a whole program are fixed: by what its runtime loads before it. */
import { SideTwinError } from "@/core/errors";
import type { FixedTerms } from "@/engine/drivers/driver";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";

/** Whether the clock of programs in a language can be fixed. */
export const canFix = (language: string): boolean => Boolean(DRIVERS[language]?.fix);

/** Empty when nothing is fixed. Throws SideTwinError for a language without a driver. */
export function fixedEnvironment(language: string, terms: FixedTerms): Readonly<Record<string, string>> {
  if (terms.now === undefined && terms.seed === undefined) return {};
  const fix = DRIVERS[language]?.fix;
  if (fix) return fix(driversFolder(), terms);
  throw new SideTwinError({
    code: "bad-input",
    what: `The clock and the random numbers of a ${language} program cannot be fixed`,
    next: 'Leave "now" and "seed" out for its runs.',
  });
}
