/** Which module to do next, with the reason in words. */
import type { ModuleView, PortCard } from "@/api/views";

/** Differing modules that are under way come first, then ready ones, those with the most dependents first. */
export function nextModule(
  all: readonly ModuleView[],
  knots: ReadonlyMap<string, readonly string[]>,
): PortCard["next"] {
  // Pinned modules come first, with everything they need.
  const pulled = all.filter((module) => module.pull !== null);
  const modules = pulled.length > 0 ? pulled : all;
  const broken = modules
    .filter((module) => module.state === "under-way" && module.totals.differ + module.totals.broken > 0)
    .sort((one, other) => one.layer - other.layer || other.neededBy.length - one.neededBy.length)[0];
  if (broken) {
    const count = broken.totals.differ + broken.totals.broken;
    const holds =
      broken.neededBy.length > 0
        ? `; ${broken.neededBy.join(", ")} ${broken.neededBy.length === 1 ? "rests" : "rest"} on it`
        : "";
    return { module: broken.name, reason: `${count} of its ${broken.totals.cases} cases differ or are broken${holds}` };
  }
  const drifted = modules.find(({ drift }) => drift !== null && drift.sections.length > 0);
  if (drifted) {
    const names = drifted.drift?.sections ?? [];
    return {
      module: drifted.name,
      reason: `the original changed ${names.slice(0, 3).join(", ")}${names.length > 3 ? " and more" : ""} after ${names.length === 1 ? "it was" : "they were"} ported`,
    };
  }
  const ready = modules
    .filter((module) => module.state === "ready")
    .sort((one, other) => other.neededBy.length - one.neededBy.length || one.textLines - other.textLines)[0];
  return ready ? { module: ready.name, reason: whyReady(ready, all, knots.get(ready.name) ?? []) } : null;
}

/** Why a module that is ready is the one to do now. */
function whyReady(module: ModuleView, all: readonly ModuleView[], knot: readonly string[]): string {
  const needs = all.filter(({ name }) => module.needs.includes(name) && !knot.includes(name));
  const waiting = module.neededBy.filter((name) => !knot.includes(name));
  const others = knot.filter((name) => name !== module.name);
  const held = needs.every(({ state }) => state === "proven") ? "is proven" : "agrees";
  const lines = [...all].map(({ textLines }) => textLines).sort((one, other) => one - other);
  const isSmall = module.textLines <= (lines[Math.floor(lines.length / 3)] ?? 0);
  const { cases } = module.totals;
  return [
    needs.length === 0 ? (others.length > 0 ? "" : "it needs nothing of the port") : `all it needs ${held}`,
    others.length > 0
      ? `it is done together with ${others.slice(0, 3).join(", ")}${others.length > 3 ? ` and ${others.length - 3} more` : ""}, as they need each other`
      : "",
    waiting.length > 0
      ? `${waiting.length === 1 ? `${waiting[0]} waits` : `${waiting.length} modules wait`} for it`
      : "",
    isSmall ? `it is small (${module.textLines} lines)` : "",
    cases > 0 ? `${cases} ${cases === 1 ? "case waits" : "cases wait"}` : "it has no case yet",
  ]
    .filter(Boolean)
    .join("; ");
}
