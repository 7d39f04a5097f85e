/** Drift of the ports of a running server: remembered texts, their changes, and confirmations. */

import type { ChangesView } from "@/api/views";
import { bareNames } from "@/core/cases/bare-names";
import { sectionOf } from "@/core/cases/hand-over";
import {
  type DriftedSection,
  findDrift,
  type Remembered,
  type SectionProof,
  type SectionText,
  toRemember,
} from "@/core/drift/drift";
import { SideTwinError } from "@/core/errors";
import { isAgreement } from "@/core/progress/done";
import { findChanges, findCommit, isInRepository } from "@/engine/git/git";
import { SectionMemory } from "@/service/drift/memory";
import { sectionTexts } from "@/service/drift/section-texts";
import { caseIndex } from "@/service/reading/case-index";
import { type PortReading, type ReadModule, stampOf } from "@/service/reading/reading";
import type { PortFacts } from "@/service/views/port-facts";
import { isStale } from "@/service/views/port-views";
import type { ProvenRow } from "@/store/checks";
import type { Store } from "@/store/open";

type FactsWithoutDrift = Omit<PortFacts, "drift">;

/** Drift of the ports of a running server. */
export class DriftKeeper {
  /** Results per reading and twin, valid until something new is remembered. */
  private readonly found = new WeakMap<
    PortReading,
    Map<string, { version: number; drift: Map<string, DriftedSection[]> }>
  >();
  private readonly memories = new Map<string, Promise<SectionMemory>>();

  constructor(private readonly store: Store) {}

  forget(portId: string): void {
    this.memories.delete(portId);
  }

  /** Module → what of it drifted on a twin. */
  async driftOf(portId: string, reading: PortReading, twin: string): Promise<Map<string, DriftedSection[]>> {
    const memory = await this.memory(portId);
    await memory.refresh(reading.open);
    const ofReading = this.found.get(reading) ?? new Map();
    this.found.set(reading, ofReading);
    const known = ofReading.get(twin);
    if (known?.version === memory.version) return known.drift;
    const remembered = memory.byModule(twin);
    const found = new Map<string, DriftedSection[]>();
    for (const module of reading.modules) {
      const rows = remembered.get(module.name);
      if (!rows) continue;
      const twinSections = new Set(
        (module.twinSources[twin] ?? []).flatMap(({ sections }) => sections.map(({ name }) => name)),
      );
      const drifted = findDrift(rows, sectionTexts(module, twin), twinSections);
      if (drifted.length > 0) found.set(module.name, drifted);
    }
    ofReading.set(twin, { version: memory.version, drift: found });
    return found;
  }

  /** Remembers sections newly paired, proven or followed. Returns true if there were any. */
  async remember(facts: FactsWithoutDrift): Promise<boolean> {
    const { reading, row, twin } = facts;
    const memory = await this.memory(row.id);
    await memory.refresh(reading.open);
    const remembered = memory.byModule(twin);
    const at = new Date().toISOString();
    const provenOf = new Map(facts.proven.map((entry) => [`${entry.module}\0${entry.file}`, entry]));
    const rows = reading.modules.flatMap((module) => {
      const proof = proofs(facts, module, provenOf);
      const about = { twin, module: module.name, at, commit: null, proofOf: proof };
      return toRemember(remembered.get(module.name) ?? [], sectionTexts(module, twin), about);
    });
    if (rows.length === 0) return false;
    await memory.remember(reading.open, await withCommit(reading, rows));
    return true;
  }

  /** Confirms that the twin follows the current section. Throws SideTwinError if it has not drifted. */
  async follow(facts: PortFacts, wanted: { readonly module: string; readonly section: string }): Promise<void> {
    const drifted = driftedIn(facts, wanted);
    const memory = await this.memory(facts.row.id);
    const at = new Date().toISOString();
    const { now } = drifted;
    if (!now) {
      await memory.drop(facts.reading.open, drifted.before);
      return;
    }
    const row: Remembered = {
      ...drifted.before,
      file: now.file,
      text: now.text,
      tokens: now.tokens,
      at,
      basis: "said",
      commit: null,
    };
    await memory.remember(facts.reading.open, await withCommit(facts.reading, [row]));
  }

  /** The commits that changed a drifted section. Throws SideTwinError where it is not drifted. */
  async changes(facts: PortFacts, wanted: { readonly module: string; readonly section: string }): Promise<ChangesView> {
    const drifted = findDrifted(facts, wanted);
    // Settled since the screen was drawn.
    if (!drifted) return { commits: [], isOpen: false, isRepository: false };
    const { before, now } = drifted;
    const lines = now ? ([now.from, now.from + now.text.split("\n").length - 1] as const) : null;
    const found = await findChanges(facts.reading.open.original.folder, now?.file ?? before.file, {
      commit: before.commit,
      at: before.at,
      lines,
    });
    return found ? { ...found, isRepository: true } : { commits: [], isOpen: false, isRepository: false };
  }

  private memory(portId: string): Promise<SectionMemory> {
    const known = this.memories.get(portId) ?? SectionMemory.load(this.store, portId);
    this.memories.set(portId, known);
    return known;
  }
}

type Wanted = { readonly module: string; readonly section: string };

const findDrifted = (facts: PortFacts, { module, section }: Wanted): DriftedSection | undefined =>
  facts.drift.get(module)?.find(({ before }) => before.section === section);

function driftedIn(facts: PortFacts, wanted: Wanted): DriftedSection {
  const { module, section } = wanted;
  const found = findDrifted(facts, wanted);
  if (found) return found;
  throw new SideTwinError({
    code: "not-found",
    what: `${module}.${section} has not drifted`,
    next: "Reload the page: it may have been followed meanwhile.",
  });
}

async function withCommit(reading: PortReading, rows: readonly Remembered[]): Promise<Remembered[]> {
  const { folder } = reading.open.original;
  const commit = (await isInRepository(folder)) ? await findCommit(folder, "HEAD").catch(() => null) : null;
  return rows.map((row) => ({ ...row, commit }));
}

/** Verdicts per section of a module on the current code. `provenOf`: module and file → proven lines. */
function proofs(
  facts: FactsWithoutDrift,
  module: ReadModule,
  provenOf: ReadonlyMap<string, ProvenRow>,
): (section: SectionText) => SectionProof {
  const { reading, twin } = facts;
  const stamp = stampOf(reading, module.name, twin);
  const { verdictOf, of } = caseIndex(facts);
  const good = new Map<string, boolean>();
  const bare = bareNames(module.originalSources);
  for (const item of of(module.name).cases) {
    const verdict = verdictOf.get(item.id);
    const isGood = verdict !== undefined && isAgreement(verdict.outcome) && !isStale(verdict, stamp, facts);
    const name = bare.get(sectionOf(item)) ?? sectionOf(item);
    good.set(name, (good.get(name) ?? true) && isGood);
  }
  const lines = new Map(
    module.originalSources.map(({ file, hash }) => {
      const row = provenOf.get(`${module.name}\0${file}`);
      const isCurrent = row !== undefined && row.stamp === hash;
      return [file, isCurrent ? { executable: new Set(row.executable), proven: new Set(row.proven) } : null] as const;
    }),
  );
  return ({ section, file }) => ({
    agrees: good.get(section) ?? good.get(section.split(".")[0] ?? section) ?? false,
    lines: lines.get(file) ?? null,
  });
}
