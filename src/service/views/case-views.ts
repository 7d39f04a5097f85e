/** Assembles what the Cases view and the reader show of the shared cases. */
import { toColumns } from "@/api/case-columns";
import type { CaseListing } from "@/api/case-listing";
import type { CallableSection, CasesView, CaseView } from "@/api/views";
import { callbackOf } from "@/core/cases/callbacks";
import { orderForOriginal, orderForTwin, sectionOf, twinTerms } from "@/core/cases/hand-over";
import { formatReproducer, type ReproducerSide } from "@/core/cases/reproducer";
import { type Aligned, alignAnswers } from "@/core/compare/aligned";
import type { Answer } from "@/core/compare/answer";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import { MEND_LANGUAGES } from "@/core/mending/languages/index";
import { findLanguage } from "@/core/source/languages/index";
import { equalityOn } from "@/core/values/equality";
import { DRIVERS } from "@/engine/drivers/index";
import { workers } from "@/engine/workers/worker-pool";
import { isLarge, kindsFor } from "@/service/check/verdict";
import { allowanceViews } from "@/service/edits/allowances";
import { caseIndex } from "@/service/reading/case-index";
import { type ReadModule, stampOf } from "@/service/reading/reading";
import { familyViews } from "@/service/views/family-views";
import type { PortFacts } from "@/service/views/port-facts";
import { isStale, moduleViews, portCard } from "@/service/views/port-views";
import { stackPlaces } from "@/service/views/stack-places";
import type { FamilyRow } from "@/store/families";
import type { CaseDetail, VerdictRow } from "@/store/verdicts";

/** All cases of a port and the families of those that differ. */
export function casesView(facts: PortFacts, families: readonly FamilyRow[]): CasesView {
  const modules = moduleViews(facts);
  return {
    port: portCard(facts, modules),
    twin: facts.twin,
    modules: modules.map(({ name }) => name),
    families: familyViews(facts, families),
    cases: toColumns(caseListings(facts)),
    allowances: allowanceViews(facts.reading.open.port.allowances, facts.reading.cases, facts.verdicts, facts.twin),
    sections: facts.reading.modules.flatMap(callableSections),
    canMake: canMakeCases(facts.reading.open.original.language),
  };
}

/** Whether cases can be recorded and generated for an original in the language. */
export const canMakeCases = (language: string): boolean => (DRIVERS[language]?.recording ?? null) !== null;

/** All cases in the order of their files. */
export function caseListings(facts: PortFacts): CaseListing[] {
  const { verdictOf } = caseIndex(facts);
  const stamps = new Map(facts.reading.modules.map(({ name }) => [name, stampOf(facts.reading, name, facts.twin)]));
  return facts.reading.cases.map((item) => {
    const verdict = verdictOf.get(item.id);
    return {
      id: item.id,
      module: item.module ?? null,
      section: sectionOf(item),
      mark: verdict?.outcome ?? "idle",
      from: item.from ?? null,
      stale: verdict !== undefined && isStale(verdict, stamps.get(item.module ?? "") ?? "", facts),
    };
  });
}

/** Sections a case can be written for: exported functions and methods of the original, and classes for steps. */
const callableSections = (module: ReadModule): CallableSection[] =>
  module.originalSources.flatMap((source) => {
    const exported = findLanguage(source.language ?? "")?.exportsOf?.(source.lines.join("\n")) ?? null;
    return source.sections
      .filter(({ kind, name }) => kind !== "constant" && (exported?.has(name.split(".")[0] ?? "") ?? true))
      .map((section) => {
        const { name, kind, params } = section;
        return { module: module.name, name, kind, params, callback: callbackOf(source, section) };
      });
  });

function reproducerOf({ reading, twin }: PortFacts, item: SharedCase): string {
  const { open } = reading;
  const side = open.twins.find(({ name }) => name === twin);
  if (!side || isRunCase(item)) return formatReproducer(open.file, item, twin, []);
  const terms = twinTerms(
    open.port,
    twin,
    reading.modules.map(({ name }) => name),
  );
  const sides = [
    { name: "original", language: open.original.language, folder: open.original.folder, order: orderForOriginal(item) },
    { name: twin, language: side.language, folder: side.folder, order: orderForTwin(item, terms) },
  ].flatMap(({ name, language, folder, order }): ReproducerSide[] => {
    if (order.kind !== "call") return [];
    const module = reading.modules.find((entry) => entry.name === order.module);
    const sources = name === "original" ? module?.originalSources : module?.twinSources[twin];
    const file = sources?.[0]?.file ?? null;
    // Picks the candidate name that the file has.
    const known = new Set(sources?.flatMap(({ sections }) => sections.map((section) => section.name)) ?? []);
    const callName = order.names.find((candidate) => known.has(candidate)) ?? order.names[0] ?? "";
    return [{ name, language, folder, file, call: callName, args: order.args, kwargs: order.kwargs }];
  });
  return formatReproducer(open.file, item, twin, sides);
}

type KeptCase = VerdictRow & CaseDetail;

/** Both answers to a case, level; large ones are aligned on another thread. */
export async function alignedCase(facts: PortFacts, item: SharedCase, kept: KeptCase | null): Promise<Aligned> {
  const original = answerFrom(kept?.original);
  const twin =
    answerFrom(kept?.twinAnswer) ??
    (kept && ["agree", "allowed", "differ", "unsteady"].includes(kept.outcome) ? original : null);
  if (!original && !twin) return { rows: [], tables: [], pictures: [] };
  const { port } = facts.reading.open;
  const given = "call" in item ? item.args : [];
  const terms = [original, twin, equalityOn(port, facts.twin), kindsFor(item, port), given] as const;
  return isLarge(original) || isLarge(twin) ? workers.run("alignAnswers", ...terms) : alignAnswers(...terms);
}

/** The places that errors of a case name: of a broken side's last output, of both programs' error output where they differ. */
export async function stackOf({ reading, twin }: PortFacts, kept: KeptCase | null): Promise<CaseView["stack"]> {
  const { open } = reading;
  const other = open.twins.find(({ name }) => name === twin);
  const errors = (answer: Answer | null) => (answer?.kind === "run" ? answer.stderr : "");
  const [original, own] = [answerFrom(kept?.original), answerFrom(kept?.twinAnswer)];
  const texts = [
    { side: "original", text: kept?.side === "twin" ? "" : (kept?.lastOutput ?? "") },
    { side: twin, text: kept?.side === "original" ? "" : (kept?.lastOutput ?? "") },
    ...(own && errors(own) !== errors(original) ? [{ side: twin, text: errors(own) }] : []),
  ];
  const found = await Promise.all(
    texts.map(async ({ side, text }) => {
      const of = side === "original" ? open.original : other;
      return of && text !== "" ? (await stackPlaces(text, of)).map((place) => ({ side, ...place })) : [];
    }),
  );
  return found.flat();
}

/** One case for the reader. */
export function caseView(
  facts: PortFacts,
  item: SharedCase,
  kept: KeptCase | null,
  shown: {
    readonly families: readonly FamilyRow[];
    readonly aligned: Aligned;
    readonly stack: CaseView["stack"];
  },
): CaseView {
  const { families, aligned, stack } = shown;
  const { port } = facts.reading.open;
  const stamp = stampOf(facts.reading, isRunCase(item) ? null : (item.module ?? null), facts.twin);
  const divergences = (kept?.divergences ?? []).map((divergence) => ({
    ...divergence,
    original: (divergence.original ?? null) as Json, // jsonb of what we wrote
    twin: (divergence.twin ?? null) as Json,
  }));
  const used = new Set(divergences.flatMap((divergence) => divergence.allowance ?? []));
  return {
    reproducer: reproducerOf(facts, item),
    canMend: MEND_LANGUAGES.has(port.twins.find(({ name }) => name === facts.twin)?.language ?? ""),
    families: familyViews(facts, families).filter(({ cases, mark }) => mark === "differ" && cases.includes(item.id)),
    id: item.id,
    item,
    section: sectionOf(item),
    mark: kept?.outcome ?? "idle",
    stale: kept !== null && kept.stamp !== stamp,
    side: kept?.side ?? null,
    why: kept?.why ?? null,
    lastOutput: kept?.lastOutput ?? null,
    stack,
    ms: { original: kept?.msOriginal ?? null, twin: kept?.msTwin ?? null },
    divergences,
    reasons: port.allowances.filter(({ id }) => used.has(id)).map(({ id, reason }) => ({ allowance: id, reason })),
    ...aligned,
  };
}

/** Restores a stored answer; the driver's own text omits named arguments if there are none. */
function answerFrom(kept: unknown): Answer | null {
  const answer = (kept ?? null) as Answer | null; // written by a check
  return answer?.kind === "call" ? { ...answer, kwargs: answer.kwargs ?? {} } : answer;
}
