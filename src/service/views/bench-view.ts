/** One module as the Bench shows it: both texts row by row, with cases, pairs and drift. No I/O. */

import type { BenchFile, BenchView, TapeCase } from "@/api/views";
import { bareNames } from "@/core/cases/bare-names";
import { type Callback, type CallbackRelation, callbackOf, relateCallbacks } from "@/core/cases/callbacks";
import { sectionOf } from "@/core/cases/hand-over";
import { canDraftInto } from "@/core/drafting/pairs/index";
import { changeOf } from "@/core/drift/change";
import type { DriftedSection } from "@/core/drift/drift";
import type { SharedCase } from "@/core/formats/case-line";
import { emptyTotals } from "@/core/formats/report";
import { type BenchRow, benchRows } from "@/core/pairing/bench-rows";
import { findHookup } from "@/core/pairing/hookups";
import { manualPairsOf } from "@/core/pairing/manual-pairs";
import { targetFileOf } from "@/core/pairing/target-file";
import { worstOutcome } from "@/core/progress/module-state";
import { groupBy } from "@/core/values/group-by";
import { caseIndex } from "@/service/reading/case-index";
import { type ReadModule, stampOf } from "@/service/reading/reading";
import type { ReadSource } from "@/service/reading/source-reader";
import { canMakeCases } from "@/service/views/case-views";
import type { PortFacts } from "@/service/views/port-facts";
import { isStale, linesOf, moduleViews, portCard, sectionTotals } from "@/service/views/port-views";
import type { ProvenRow } from "@/store/checks";

/** Colours of the sources that are shown. */
export type Colours = ReadonlyMap<ReadSource, BenchFile["spans"]>;

/** One module as facing pages. */
export function benchView(facts: PortFacts, module: ReadModule, colours: Colours): BenchView {
  const modules = moduleViews(facts);
  const view = modules.find((entry) => entry.name === module.name);
  if (!view) throw new Error(`no view of ${module.name}`);
  const twinSources = module.twinSources[facts.twin] ?? [];
  const index = caseIndex(facts);
  const { cases } = index.of(module.name);
  const bySection = sectionTotals(facts, module);
  const bare = bareNames(module.originalSources);
  const sectionFor = (item: SharedCase) => bare.get(sectionOf(item)) ?? sectionOf(item);
  const written = groupBy(cases, sectionFor);
  const stamp = stampOf(facts.reading, module.name, facts.twin);
  const drifted = new Map((facts.drift.get(module.name) ?? []).map((change) => [change.before.section, change]));
  return {
    port: portCard(facts, modules),
    module: view,
    twin: facts.twin,
    modules: facts.reading.modules.map((entry) => entry.name),
    expected: expectedFile(facts, module),
    canDraft: canDraft(facts),
    canMake: canMakeCases(facts.reading.open.original.language),
    files: {
      original: module.originalSources.map((source) => benchFile(source, linesOf(facts, module, source), colours)),
      twin: twinSources.map((source) => benchFile(source, null, colours)),
    },
    rows: benchRows(
      module.originalSources,
      twinSources,
      module.pairs[facts.twin] ?? [],
      manualPairsOf(facts.reading.open.port.pairs, module.name, facts.twin),
    ).map((row) => {
      const totals = (row.original && bySection.get(row.name)) || emptyTotals();
      const change = row.original ? drifted.get(row.name) : undefined;
      return {
        ...row,
        totals,
        cases: (row.original && written.get(row.name)?.length) || 0,
        mark: worstOutcome(totals),
        drift: change ? driftView(change) : null,
        callback: callbackRelation(facts, module, row),
      };
    }),
    gone: [...drifted.values()]
      .filter(({ now }) => now === null)
      .map(({ before: { section, twinSection, at, text } }) => ({ section, twinSection, since: at, text })),
    cases: cases.map((item): TapeCase => {
      const verdict = index.verdictOf.get(item.id);
      const stale = verdict !== undefined && isStale(verdict, stamp, facts);
      return { id: item.id, section: sectionFor(item), mark: verdict?.outcome ?? "idle", stale };
    }),
  };
}

/** Who of a pair takes a callback. */
function callbackRelation({ reading, twin }: PortFacts, module: ReadModule, row: BenchRow): CallbackRelation | null {
  if (row.original === null || row.twin === null || row.twinName === null) return null;
  const hookup = findHookup(reading.open.port.hookups, `${module.name}.${row.name}`, twin);
  return relateCallbacks(
    callbackIn(module.originalSources, row.name),
    callbackIn(module.twinSources[twin] ?? [], row.twinName),
    hookup?.callback === "last",
  );
}

function callbackIn(sources: readonly ReadSource[], name: string): Callback | null {
  for (const source of sources) {
    const section = source.sections.find((entry) => entry.name === name);
    if (section) return callbackOf(source, section);
  }
  return null;
}

/** Null where the twin has a file of the module already. */
function expectedFile({ reading: { open }, twin }: PortFacts, module: ReadModule): string | null {
  const [first] = module.originalSources;
  const side = open.twins.find(({ name }) => name === twin);
  if (!first || !side || (module.twinSources[twin] ?? []).length > 0) return null;
  return targetFileOf(first.file, {
    moduleMap: open.port.moduleMap,
    language: side.language,
    files: side.files,
    original: module.originalSources.map(({ file }) => file),
    own: [],
  });
}

function canDraft({ reading: { open }, twin }: PortFacts): boolean {
  const language = open.twins.find(({ name }) => name === twin)?.language ?? "";
  return canDraftInto(open.original.language, language);
}

/** Lines of a section that changed since they matched the twin. */
const driftView = ({ before, now }: DriftedSection): NonNullable<BenchView["rows"][number]["drift"]> => ({
  since: before.at,
  basis: before.basis,
  lines: now ? changeOf(before.text, now.text) : [],
  from: now?.from ?? 0,
});

function benchFile(source: ReadSource, lines: ProvenRow | null, colours: Colours): BenchFile {
  const edge = new Array<string>(source.lines.length).fill("-");
  for (const line of lines?.executable ?? []) edge[line - 1] = "u";
  for (const line of lines?.proven ?? []) edge[line - 1] = "p";
  return { file: source.file, lines: source.lines, spans: colours.get(source) ?? [], edge: edge.join("") };
}
