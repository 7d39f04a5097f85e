/** Edits of a port's files from the screens: each changes the port file or a file of cases. */
import type { DroppedCase } from "@/api/views";
import { unknownSections } from "@/core/cases/unknown-sections";
import { SideTwinError } from "@/core/errors";
import type { SharedCase } from "@/core/formats/case-line";
import type { Json } from "@/core/formats/json";
import type { Way } from "@/core/formats/ways";
import { type AgreedCase, agreeToCases, requireReason } from "@/service/edits/agree-to-case";
import { removeAllowance, tightenAllowance } from "@/service/edits/allowances";
import { type CallbackChoice, handCallback } from "@/service/edits/hand-callback";
import { importCases, keepCases, replaceCase, restoreCases } from "@/service/edits/keep-cases";
import { leaveOut } from "@/service/edits/leave-out";
import { type ManualPair, pairByHand } from "@/service/edits/pair-by-hand";
import { pinModule } from "@/service/edits/pin-module";
import { changeSetting } from "@/service/edits/settings";
import { enterDeed } from "@/service/journal/journal-file";
import type { ReadSource } from "@/service/reading/source-reader";
import type { OpenPorts } from "@/service/server/open-ports";
import type { PortNews } from "@/service/server/port-news";
import type { PortRuns } from "@/service/server/port-runs";
import { casesView } from "@/service/views/case-views";
import { addSnag, decideWay, removeSnag } from "@/service/views/survey-port";

/** Rejects a pairing that names a section which does not exist. */
function requireSection(name: string | null, sources: readonly ReadSource[], side: string): void {
  if (name === null || sources.some(({ sections }) => sections.some((section) => section.name === name))) return;
  throw new SideTwinError({
    code: "not-found",
    what: `${side} has no section "${name}" in this module`,
    next: "Reload the page: it may have been renamed.",
  });
}

/** Edits of a port's files from the screens. */
export class PortEditor {
  constructor(
    private readonly ports: OpenPorts,
    private readonly runs: PortRuns,
    private readonly news: PortNews,
  ) {}

  /** Notes that a module is wanted soon, or no longer. Throws SideTwinError. */
  async pin(id: string, wanted: { module: string; pinned: boolean }): Promise<void> {
    await pinModule((await this.ports.readingOf(id)).open, wanted);
  }

  /** Leaves a module out with a reason, or takes it in again. Throws SideTwinError. */
  async leaveOut(id: string, wanted: { module: string; reason: string | null }): Promise<void> {
    const { open } = await this.ports.readingOf(id);
    await leaveOut(open, wanted);
    const { module, reason } = wanted;
    await enterDeed(open.folder, { kind: "left-out", module, text: reason?.trim() ?? "Taken in again." });
  }

  /** Writes a person's word on a pair into the port file. Throws SideTwinError. */
  async pairByHand(id: string, pair: ManualPair): Promise<void> {
    const { open, modules } = await this.ports.readingOf(id);
    const module = modules.find(({ name }) => name === pair.module);
    if (module && !pair.forget && open.twins.some(({ name }) => name === pair.on)) {
      requireSection(pair.original, module.originalSources, "The original");
      requireSection(pair.twin, module.twinSources[pair.on] ?? [], "The twin");
    }
    await pairByHand(open, pair);
  }

  /** Hands the twin of a section a callback, or no longer. Throws SideTwinError. */
  async handCallback(id: string, wanted: CallbackChoice): Promise<void> {
    const { open, modules } = await this.ports.readingOf(id);
    requireSection(
      wanted.section,
      modules.find(({ name }) => name === wanted.module)?.originalSources ?? [],
      "The original",
    );
    await handCallback(open, wanted);
  }

  /** Records that the twin already follows a changed section of the original. Throws SideTwinError. */
  async follow(id: string, wanted: { module: string; section: string; twin: string }): Promise<void> {
    await this.ports.drift.follow(await this.ports.factsOf(id, wanted.twin), wanted);
    this.news.emit(id, { type: "files", paths: [] });
  }

  /** Writes the way round a snag into the port file. Throws SideTwinError. */
  async decideWay(id: string, wanted: { name: string; way: Way | null; note: string }): Promise<void> {
    await decideWay((await this.ports.readingOf(id)).open, wanted);
  }

  /** Adds a snag of the person's own to the port file. Throws SideTwinError. */
  async addSnag(id: string, wanted: { name: string; match: string }): Promise<void> {
    await addSnag((await this.ports.readingOf(id)).open, wanted);
  }

  /** Takes a snag of the person's own out of the port file. Throws SideTwinError. */
  async removeSnag(id: string, name: string): Promise<void> {
    await removeSnag((await this.ports.readingOf(id)).open, name);
  }

  /** Adds a case to the port's files. Throws SideTwinError. */
  async addCase(id: string, item: SharedCase): Promise<{ file: string }> {
    const { open, cases } = await this.ports.readingOf(id);
    return keepCases(open, cases, [item], item.from ?? "hand");
  }

  /** Adds cases from JSON Lines, all or none. Throws SideTwinError with the line. */
  async importCases(id: string, text: string): Promise<{ file: string; ids: string[]; unknown: string[] }> {
    const { open, cases, modules } = await this.ports.readingOf(id);
    const { items, ...added } = await importCases(open, cases, text);
    return { ...added, unknown: unknownSections(items, modules) };
  }

  /** Writes another case in the place of one. Throws SideTwinError. */
  async editCase(id: string, wanted: { id: string; item: SharedCase }): Promise<{ file: string }> {
    const { open, cases } = await this.ports.readingOf(id);
    return replaceCase(open, cases, wanted);
  }

  /** Puts dropped cases back where they were. Throws SideTwinError. */
  async restoreCases(id: string, dropped: readonly DroppedCase[]): Promise<void> {
    const { open, cases } = await this.ports.readingOf(id);
    await restoreCases(open, cases, dropped);
    this.news.emit(id, { type: "files", paths: [] });
  }

  /** Writes a setting of the port file. Throws SideTwinError. */
  async changeSetting(id: string, wanted: { path: readonly (string | number)[]; text: string }): Promise<void> {
    await changeSetting((await this.ports.readingOf(id)).open, wanted);
    this.news.emit(id, { type: "files", paths: [] });
  }

  /** Agrees to all that some cases of one section show now, with a reason, and checks them again. Throws SideTwinError. */
  async agree(
    id: string,
    wanted: { cases: readonly string[]; twin: string; reason: string },
  ): Promise<{ allowances: string[] }> {
    await this.runs.becomeIdle(id);
    requireReason(wanted.reason);
    const { open, cases } = await this.ports.readingOf(id);
    const book = await this.ports.store.verdicts(id);
    const shown: AgreedCase[] = [];
    for (const caseId of wanted.cases) {
      const item = cases.find((entry) => entry.id === caseId);
      const kept = await book.find(wanted.twin, caseId);
      if (!item || kept?.outcome !== "differ") {
        throw new SideTwinError({
          code: "bad-input",
          what: `The case "${caseId}" does not differ`,
          next: "Only what differs can be agreed to.",
        });
      }
      const divergences = kept.divergences
        .filter(({ allowance }) => allowance === null)
        .map(({ at, original, twin }) => ({ at, original: (original ?? null) as Json, twin: (twin ?? null) as Json })); // as they were written
      shown.push({ item, divergences });
    }
    const agreed = await agreeToCases(open, shown, wanted);
    const [first] = shown;
    const others = shown.length > 1 ? ` (${shown.length} cases)` : "";
    if (first)
      await enterDeed(open.folder, {
        kind: "agreed",
        module: first.item.module,
        case: first.item.id,
        text: `${wanted.reason.trim()}${others}`,
      });
    await this.runs.startCheck(id, {
      twin: wanted.twin,
      ...(shown.length === 1 && first
        ? { caseId: first.item.id }
        : { module: shown.every(({ item }) => item.module === first?.item.module) ? first?.item.module : undefined }),
    });
    return agreed;
  }

  /** Writes the tighter allowance that is proposed into the port file, and checks the port again. Throws SideTwinError. */
  async tighten(id: string, wanted: { allowance: string; twin: string }): Promise<void> {
    await this.runs.becomeIdle(id);
    const facts = await this.ports.factsOf(id, wanted.twin);
    const view = casesView(facts, []).allowances.find((entry) => entry.id === wanted.allowance);
    if (!view) {
      throw new SideTwinError({
        code: "not-found",
        what: `There is no allowance "${wanted.allowance}"`,
        next: "It may have been taken out of the port file.",
      });
    }
    await tightenAllowance(facts.reading.open, view);
    await this.runs.startCheck(id, { twin: wanted.twin });
  }

  /** Takes an allowance out of the port file, and checks the port again. Throws SideTwinError. */
  async removeAllowance(id: string, allowance: string): Promise<void> {
    await this.runs.becomeIdle(id);
    const { open } = await this.ports.readingOf(id);
    await removeAllowance(open, allowance);
    await this.runs.startCheck(id, {});
  }
}
