/** Assembles what the screens show from a reading of the folders and what the store keeps. No I/O. */

import { nextModule } from "@/api/next-module";
import type { CheckView, ModuleDetail, ModuleView, OrderView, PortCard, UnprovenLines } from "@/api/views";
import { bareNames } from "@/core/cases/bare-names";
import { emptyTotals, type Totals } from "@/core/formats/report";
import { findPull, type Pull } from "@/core/order/pull";
import { findUntie } from "@/core/order/untie";
import { manualPairsOf } from "@/core/pairing/manual-pairs";
import { isDone } from "@/core/progress/done";
import type { EffortPoint } from "@/core/progress/effort";
import { moduleState, worstOutcome } from "@/core/progress/module-state";
import { type BarSegment, barSegments, twinShade } from "@/core/progress/twin-bar";
import { groupBy } from "@/core/values/group-by";
import { caseIndex } from "@/service/reading/case-index";
import { type PortReading, type ReadModule, stampOf } from "@/service/reading/reading";
import type { ReadSource } from "@/service/reading/source-reader";
import type { FolderSurvey } from "@/service/reading/survey-folder";
import { effortOf, moduleSizes } from "@/service/views/effort";
import type { PortFacts } from "@/service/views/port-facts";
import type { CheckRow, MeasureRow, ProvenRow } from "@/store/checks";
import type { VerdictRow } from "@/store/verdicts";

/** The whole port as the Order shows it. */
export function orderView(
  facts: PortFacts,
  known: Pick<OrderView, "protections"> & {
    readonly survey: FolderSurvey | null;
    readonly touches: ReadonlyMap<string, readonly number[]>;
    readonly history: readonly EffortPoint[];
  },
): OrderView {
  const modules = moduleViews(facts);
  const needs = new Map(modules.map((module) => [module.name, module.needs]));
  const knots = facts.reading.layers.knots.map((members) => ({ members, untie: findUntie(members, needs) }));
  const pull = { ...pullOf(facts, modules), wanted: facts.reading.open.port.pins };
  const sizes = moduleSizes(facts, known.survey);
  return {
    port: portCard(facts, modules),
    twin: facts.twin,
    modules,
    knots,
    sizes: Object.fromEntries(sizes),
    effort: effortOf(modules, { sizes, ...known }),
    pull,
    protections: known.protections,
  };
}

/** Every module of the port, in the order of the port file. */
export function moduleViews(facts: PortFacts): ModuleView[] {
  const { reading, twin } = facts;
  const index = caseIndex(facts);
  const knotOf = knotsByModule(reading);
  const neededBy = new Map<string, string[]>(reading.modules.map(({ name }) => [name, []]));
  for (const { name, needs } of reading.modules) for (const need of needs) neededBy.get(need)?.push(name);
  const views = new Map<string, ModuleView>();
  // In the order of the layers, so that what a module needs is known before it.
  const layerOf = (module: ReadModule) => reading.layers.layer.get(module.name) ?? 0;
  for (const module of [...reading.modules].sort((one, other) => layerOf(one) - layerOf(other))) {
    const stamp = stampOf(reading, module.name, twin);
    const { verdicts, totals } = index.of(module.name);
    const stale = verdicts.some((verdict) => isStale(verdict, stamp, facts));
    const lines = provenOf(facts, module);
    const hasTwin = (module.twinSources[twin]?.length ?? 0) > 0;
    // Members of a dependency cycle wait only for modules outside it.
    const knot = knotOf.get(module.name) ?? [];
    const needsMet = module.needs.every((name) => {
      if (knot.includes(name)) return true;
      const need = views.get(name);
      return need === undefined || isDone(need);
    });
    const state = moduleState({ leftOut: module.leftOut !== undefined, hasTwin, needsMet, totals, stale, ...lines });
    views.set(module.name, {
      name: module.name,
      state,
      mark: worstOutcome(totals),
      stale,
      bar: moduleBar(facts, module),
      ...lines,
      textLines: module.originalSources.reduce((sum, source) => sum + source.lines.length, 0),
      totals,
      needs: module.needs,
      leftOut: module.leftOut ?? null,
      drift: driftOf(facts, module, views),
      neededBy: neededBy.get(module.name) ?? [],
      layer: layerOf(module),
      pull: null,
    });
  }
  const all = reading.modules.flatMap((module) => views.get(module.name) ?? []);
  const pulled = new Set(pullOf(facts, all).modules);
  const wanted = new Set(reading.open.port.pins);
  return all.map((module) =>
    pulled.has(module.name) ? { ...module, pull: wanted.has(module.name) ? "wanted" : "pulled" } : module,
  );
}

/** Own drifted sections, and drifted modules below: proofs through them are for older text. */
function driftOf(
  { drift }: PortFacts,
  module: ReadModule,
  below: ReadonlyMap<string, ModuleView>,
): ModuleView["drift"] {
  const sections = (drift.get(module.name) ?? []).map(({ before }) => before.section);
  const through = module.needs.filter((need) => {
    const under = below.get(need)?.drift;
    return under !== null && under !== undefined;
  });
  const hasTwin = Object.values(module.twins).some((files) => files.length > 0);
  return sections.length > 0 || (hasTwin && through.length > 0) ? { sections, through } : null;
}

const knotsByModule = ({ layers }: PortReading): Map<string, readonly string[]> =>
  new Map(layers.knots.flatMap((knot) => knot.map((name) => [name, knot] as const)));

/** Modules that pinned ones pull along; lines are those left to prove. */
function pullOf({ reading }: PortFacts, modules: readonly ModuleView[]): Pull {
  const byName = new Map(modules.map((module) => [module.name, module]));
  return findPull(reading.open.port.pins, {
    needs: new Map(modules.map((module) => [module.name, module.needs])),
    layer: (name) => byName.get(name)?.layer ?? 0,
    isDone: (name) => {
      const module = byName.get(name);
      return module !== undefined && isDone(module);
    },
    lines: (name) => {
      const module = byName.get(name);
      return module ? module.lines - (module.provenLines ?? 0) : 0;
    },
  });
}

/** A run case's verdict rests on the whole of both sides. */
export function isStale(verdict: VerdictRow, moduleStamp: string, facts: Pick<PortFacts, "reading" | "twin">): boolean {
  if (verdict.section !== "run") return verdict.stamp !== moduleStamp;
  return verdict.stamp !== stampOf(facts.reading, null, facts.twin);
}

const provenIndexes = new WeakMap<readonly ProvenRow[], Map<string, ProvenRow[]>>();

/** Module → proven lines of its files; computed once per page. */
function provenRows({ proven }: PortFacts): Map<string, ProvenRow[]> {
  const known = provenIndexes.get(proven) ?? groupBy(proven, (row) => row.module);
  provenIndexes.set(proven, known);
  return known;
}

function provenOf(facts: PortFacts, module: ReadModule): { lines: number; provenLines: number | null } {
  const rows = provenRows(facts).get(module.name) ?? [];
  if (rows.length === 0) {
    const lines = module.originalSources.reduce(
      (sum, source) => sum + source.lines.filter((line) => line.trim() !== "").length,
      0,
    );
    return { lines, provenLines: null };
  }
  // Lines proven for an older text of a file do not count for the current one.
  const current = rows.filter((row) => hashOf(module, row.file) === row.stamp);
  const isDropped = droppedLines(facts, module);
  const count = (file: string, lines: readonly number[]) => lines.filter((line) => !isDropped(file, line)).length;
  return {
    lines: rows.reduce((sum, row) => sum + count(row.file, row.executable), 0),
    provenLines: current.reduce((sum, row) => sum + count(row.file, row.proven), 0),
  };
}

/** Excludes lines of sections dropped with a reason: they need no proof. */
function droppedLines({ reading, twin }: PortFacts, module: ReadModule): (file: string, line: number) => boolean {
  const { dropped } = manualPairsOf(reading.open.port.pairs, module.name, twin);
  const reasoned = new Set([...dropped].flatMap(([name, why]) => (why === "" ? [] : [name])));
  if (reasoned.size === 0) return () => false;
  const ranges = module.originalSources.flatMap(({ file, sections }) =>
    sections.filter(({ name }) => reasoned.has(name)).map(({ from, to }) => ({ file, from, to })),
  );
  return (file, line) => ranges.some((range) => range.file === file && range.from <= line && line <= range.to);
}

const hashOf = (module: ReadModule, file: string): string | undefined =>
  module.originalSources.find((source) => source.file === file)?.hash;

function moduleBar(facts: PortFacts, module: ReadModule): BarSegment[] {
  const bySection = sectionTotals(facts, module);
  const paired = new Set((module.pairs[facts.twin] ?? []).map((pair) => `${pair.original}:${pair.originalFrom}`));
  return module.originalSources.flatMap((source) => {
    const sections = source.sections.map((section) => ({
      ...section,
      hasTwin: paired.has(`${section.name}:${section.from}`),
      totals: bySection.get(section.name) ?? emptyTotals(),
    }));
    return barSegments(sections, linesOf(facts, module, source));
  });
}

/** Executable and proven lines of a source; null if not measured or out of date. */
export function linesOf(facts: PortFacts, module: ReadModule, source: ReadSource) {
  const row = provenRows(facts)
    .get(module.name)
    ?.find((entry) => entry.file === source.file);
  return row && row.stamp === source.hash ? row : null;
}

/** Totals by section; the steps on an object count for its class and every method of it. */
export function sectionTotals(facts: PortFacts, module: ReadModule): Map<string, Totals> {
  const { bySection } = caseIndex(facts).of(module.name);
  const totals = new Map<string, Totals>();
  const names = module.originalSources.flatMap(({ sections }) => sections.map(({ name }) => name));
  for (const name of names)
    totals.set(name, bySection.get(name) ?? bySection.get(name.split(".")[0] ?? name) ?? emptyTotals());
  for (const [bare, name] of bareNames(module.originalSources)) {
    const own = bySection.get(bare);
    if (own) totals.set(name, own);
  }
  return totals;
}

/** Summarises the port from its modules. */
export function portCard(facts: PortFacts, modules: readonly ModuleView[]): PortCard {
  const { reading, row } = facts;
  const measured = modules.filter((module) => module.provenLines !== null);
  const totals = modules.reduce((sum, module) => addTotals(sum, module.totals), emptyTotals());
  const last = facts.checks[0];
  return {
    id: row.id,
    name: reading.open.port.name,
    file: row.file,
    original: reading.open.original.language,
    twins: reading.open.twins.map(({ name, language }) => ({ name, language })),
    twin: facts.twin,
    bar: modules.map(moduleSegment),
    lines: modules.reduce((sum, module) => sum + module.lines, 0),
    provenLines: measured.length === 0 ? null : measured.reduce((sum, module) => sum + (module.provenLines ?? 0), 0),
    totals,
    modules: modules.length,
    modulesDone: modules.filter(isDone).length,
    modulesDrifted: modules.filter(({ drift }) => drift !== null && drift.sections.length > 0).length,
    lastCheck: last ? checkView(last) : null,
    next: nextModule(modules, knotsByModule(reading)),
  };
}

/** A whole module as one segment of the port's bar. */
function moduleSegment(module: ModuleView): BarSegment {
  const hasTwin = module.bar.some((segment) => segment.twin !== "none");
  return {
    name: module.name,
    lines: module.textLines,
    proven: module.provenLines === null ? null : module.lines === 0 ? 1 : module.provenLines / module.lines,
    twin: hasTwin ? twinShade(module.totals) : "none",
  };
}

function addTotals(one: Totals, other: Totals): Totals {
  const sum = { ...one };
  for (const key of ["cases", "agree", "allowed", "differ", "broken", "unsteady", "skipped"] as const)
    sum[key] += other[key];
  return sum;
}

function checkView(row: CheckRow): CheckView {
  const { id, state, module, startedAt, seconds, totals } = row;
  const problem = row.problem
    ? { what: row.problem.what, ...(row.problem.next ? { next: row.problem.next } : {}) }
    : null;
  const { scope, reused, mended, worsened } = row;
  return {
    id,
    state,
    module,
    startedAt: startedAt.toISOString(),
    seconds,
    totals,
    problem,
    scope: scope ?? {},
    reused,
    mended,
    worsened,
  };
}

/** The lines that no agreeing case reaches, in runs, and what checks measured of both sides. */
export function moduleDetail(facts: PortFacts, module: ReadModule, measures: readonly MeasureRow[]): ModuleDetail {
  const isDropped = droppedLines(facts, module);
  const unproven = module.originalSources.flatMap((source) => {
    const lines = linesOf(facts, module, source);
    const executable = lines?.executable.filter((line) => !isDropped(source.file, line)) ?? [];
    return lines ? unprovenRuns(source, { ...lines, executable }) : [];
  });
  return {
    module: module.name,
    unproven,
    measures: measures.map(({ startedAt, size, seconds, peakMb }) => ({
      at: startedAt.toISOString(),
      size,
      seconds,
      peakMb,
    })),
  };
}

/** Executable lines that follow each other without a proven one between them. */
function unprovenRuns(source: ReadSource, { executable, proven }: ProvenRow): UnprovenLines[] {
  const isProven = new Set(proven);
  const runs: { from: number; to: number; section: string | null }[] = [];
  let open: (typeof runs)[number] | null = null;
  for (const line of executable) {
    if (isProven.has(line)) {
      open = null;
      continue;
    }
    const section = source.sections.findLast(({ from, to }) => from <= line && line <= to)?.name ?? null;
    if (open && open.section === section) open.to = line;
    else {
      open = { from: line, to: line, section };
      runs.push(open);
    }
  }
  return runs.map((run) => ({ ...run, file: source.file, text: (source.lines[run.from - 1] ?? "").trim() }));
}
