/** Effort of a port: points of its modules, time spent, and work left. */

import type { ModuleView } from "@/api/views";
import { isDone } from "@/core/progress/done";
import {
  type Effort,
  type EffortPoint,
  type ModuleSize,
  paceOf,
  pointsLeft,
  pointsOf,
  workedHours,
} from "@/core/progress/effort";
import { placesOf } from "@/core/survey/uses-grid";
import type { FolderSurvey } from "@/service/reading/survey-folder";
import type { PortFacts } from "@/service/views/port-facts";

/** Module → parts of its points; uses are null until there is a survey. */
export function moduleSizes({ reading }: PortFacts, survey: FolderSurvey | null): Map<string, ModuleSize> {
  const moduleOf = new Map(
    reading.modules.flatMap(({ name, original }) => original.map((file) => [file, name] as const)),
  );
  const uses = survey && countUses(survey, reading.open.port.snags, moduleOf);
  return new Map(
    reading.modules.map((module) => [
      module.name,
      {
        lines: module.originalSources.reduce((sum, { lines }) => sum + lines.length, 0),
        complexity: module.originalSources
          .flatMap(({ sections }) => sections)
          .reduce(
            (sum, { kind, complexity }) => (kind === "function" || kind === "method" ? sum + complexity : sum),
            0,
          ),
        outside: uses ? (uses.outside.get(module.name) ?? 0) : null,
        snags: uses ? (uses.snags.get(module.name) ?? 0) : null,
      },
    ]),
  );
}

function countUses(
  survey: FolderSurvey,
  choices: PortFacts["reading"]["open"]["port"]["snags"],
  moduleOf: ReadonlyMap<string, string>,
) {
  const count = (places: readonly { readonly file: string }[]) => {
    const counts = new Map<string, number>();
    for (const { file } of places) {
      const module = moduleOf.get(file);
      if (module !== undefined) counts.set(module, (counts.get(module) ?? 0) + 1);
    }
    return counts;
  };
  const own = choices.filter(({ match }) => match !== undefined).flatMap(({ name }) => placesOf(survey, choices, name));
  return {
    outside: count(survey.outside.flatMap((entry) => entry.uses)),
    snags: count([...survey.snags.flatMap((snag) => snag.uses), ...own]),
  };
}

type Known = {
  readonly sizes: ReadonlyMap<string, ModuleSize>;
  readonly touches: ReadonlyMap<string, readonly number[]>;
  readonly history: readonly EffortPoint[];
};

/** Computes remaining effort; excluded modules count as zero. */
export function effortOf(modules: readonly ModuleView[], { sizes, touches, history }: Known): Effort {
  const own = modules.filter(({ state }) => state !== "left-out");
  const points = (module: ModuleView) => {
    const size = sizes.get(module.name);
    return size ? pointsOf(size) : 0;
  };
  const proven = ({ provenLines, lines }: ModuleView) =>
    provenLines === null || lines === 0 ? null : provenLines / lines;
  const sum = (of: (module: ModuleView) => number) => own.reduce((total, module) => total + of(module), 0);
  return {
    total: round(sum(points)),
    left: round(sum((module) => pointsLeft(points(module), { isDone: isDone(module), proven: proven(module) }))),
    pace: paceOf(
      own
        .filter(isDone)
        .map((module) => ({ points: points(module), hours: workedHours(touches.get(module.name) ?? []) })),
    ),
    history,
    isComplete: [...sizes.values()].every(({ outside }) => outside !== null),
  };
}

const round = (value: number): number => Math.round(value * 10) / 10;
