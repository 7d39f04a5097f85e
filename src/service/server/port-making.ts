/** Operations for making a port: phrasebook, snapshots, journal and source edits. */

import type {
  AppliedView,
  HarmView,
  JournalView,
  PhrasebookView,
  ProposalView,
  SnapshotView,
  SourceSavedView,
  SourceView,
  TrialView,
} from "@/api/making-views";
import { type ErrorRecord, SideTwinError } from "@/core/errors";
import type { JournalEntry, NewEntry } from "@/core/journal/journal";
import type { LadderFacts } from "@/core/ladder/ladder";
import { stubOf } from "@/core/pairing/stub";
import { isAgreement } from "@/core/progress/done";
import { type ProgressPoint, progressPoints } from "@/core/progress/progress-points";
import { type SnapshotRecord, Snapshots } from "@/engine/snapshots/snapshots";
import { changedSections } from "@/service/edits/callers";
import { addPhrase, exceptPlace, readTrial } from "@/service/edits/edit-phrasebook";
import { readSource, type SourceEdit, saveSource } from "@/service/edits/edit-source";
import { addEntry, closeEntry, enterDeed, readJournal } from "@/service/journal/journal-file";
import { applyPhrases } from "@/service/phrasebook/apply-phrases";
import { type Application, type AppliedPlace, findHarm, takeBack } from "@/service/phrasebook/find-harm";
import { learnFromPort } from "@/service/phrasebook/learn";
import { countLeftovers } from "@/service/phrasebook/leftovers";
import { type OpenPhrasebook, openPhrasebook } from "@/service/phrasebook/open-phrasebook";
import { PhraseCache } from "@/service/phrasebook/phrase-cache";
import { type PhraseRun, runPhrases } from "@/service/phrasebook/run-phrases";
import { twinsFor } from "@/service/port/open-port";
import type { OpenPorts } from "@/service/server/open-ports";
import type { PortNews } from "@/service/server/port-news";
import type { PortFacts } from "@/service/views/port-facts";
import { moduleViews, portCard } from "@/service/views/port-views";
import { listChecks } from "@/store/checks";
import { listComplaints } from "@/store/complaints";

/** Checks in the chart of progress. */
const MAX_CHECKS = 400;
/** Journals of ports with more entries than this are shown from the newest on. */
const MAX_ENTRIES = 2000;

/** The last application, and the cases that agreed before it. */
type LastApplied = { readonly application: Application; readonly agreed: ReadonlySet<string> };

/** Outcomes of a case that something made worse. */
const FAULTS: ReadonlySet<string> = new Set(["differ", "broken", "unsteady"]);

/** See the head of the file. */
export class PortMaking {
  private readonly phrases = new PhraseCache();
  /** Port and twin → what was applied last. */
  private readonly applied = new Map<string, LastApplied>();
  private readonly phraseRuns = new WeakMap<object, { readonly key: string; readonly run: Promise<PhraseRun> }>();

  constructor(
    private readonly ports: OpenPorts,
    private readonly news: PortNews,
    private readonly data: string,
  ) {}

  /** Every phrase with its places in the twin; a phrasebook that cannot be read is reported as the view's problem. */
  async phrasebook(id: string, twin?: string): Promise<PhrasebookView> {
    const facts = await this.ports.factsOf(id, twin);
    const { open } = facts.reading;
    const found = await this.phrasesOf(facts).catch(toProblem);
    const { book, run } = "code" in found ? NO_PHRASES : found;
    const places = new Map(run.phrases.map((phrase) => [phrase.id, phrase.occurrences]));
    const { leftovers, mixed, lapsed, unsound } = run;
    return {
      port: portCard(facts, moduleViews(facts)),
      twin: facts.twin,
      language: open.twins.find(({ name }) => name === facts.twin)?.language ?? open.original.language,
      phrases: book.phrases.map(({ id: name, kind, from, to, why = null }) => ({
        id: name,
        kind,
        from,
        to,
        why,
        places: places.get(name) ?? [],
      })),
      leftovers,
      mixed,
      lapsed,
      unsound,
      problem: "code" in found ? found : null,
      snapshot: this.snapshots(open.file).find(({ state }) => state === "done") ?? null,
    };
  }

  /** Writes all ready places but those refused, or none. Throws SideTwinError. */
  async apply(
    id: string,
    wanted: { readonly twin: string; readonly phrases?: string[] | undefined; readonly not: string[] },
  ): Promise<AppliedView> {
    const { reading, verdicts, twin } = await this.ports.factsOf(id, wanted.twin);
    const { snapshot, changed, application } = await applyPhrases(reading.open, {
      twin: wanted.twin,
      run: wanted.phrases,
      not: wanted.not,
      data: this.data,
    });
    const agreed = verdicts.filter((row) => row.twin === twin && isAgreement(row.outcome)).map(({ caseId }) => caseId);
    if (application) this.applied.set(`${id}\0${twin}`, { application, agreed: new Set(agreed) });
    this.changed(id);
    return { snapshot, files: changed.length, places: changed.reduce((sum, { places }) => sum + places, 0) };
  }

  /**
   * The places of the last applied phrases that made cases differ, from the last check. Throws SideTwinError, `not-found`
   * where nothing was applied since the server started.
   */
  async harm(id: string, wanted: string, signal?: AbortSignal): Promise<HarmView> {
    const { reading, verdicts, twin } = await this.ports.factsOf(id, wanted);
    const { application, agreed } = this.lastApplied(id, twin);
    const worse = new Set(
      verdicts
        .filter((row) => row.twin === twin && agreed.has(row.caseId) && FAULTS.has(row.outcome))
        .map(({ caseId }) => caseId),
    );
    const cases = reading.cases.filter((item) => worse.has(item.id));
    const snapshots = Snapshots.open(this.data, reading.open.file);
    return {
      worse: cases.length,
      harms: await findHarm(reading.open, snapshots, { twin, applied: application, cases, signal }),
    };
  }

  /** Takes some of the last applied places back and leaves the others. Throws SideTwinError. */
  async takeBack(
    id: string,
    { twin, places }: { readonly twin: string; readonly places: readonly AppliedPlace[] },
  ): Promise<{ snapshot: string }> {
    const { open } = await this.ports.readingOf(id);
    const last = this.lastApplied(id, twin);
    const { snapshot, applied } = await takeBack(Snapshots.open(this.data, open.file), last.application, places);
    this.applied.set(`${id}\0${twin}`, { ...last, application: applied });
    const text = `Places of the phrasebook taken back: ${places.map(({ file, line }) => `${file}:${line}`).join(", ")}`;
    await enterDeed(open.folder, { kind: "applied", by: "side-twin", text: `${text}; snapshot ${snapshot}` });
    this.changed(id);
    return { snapshot };
  }

  private lastApplied(id: string, twin: string): LastApplied {
    const last = this.applied.get(`${id}\0${twin}`);
    if (last) return last;
    throw new SideTwinError({
      code: "not-found",
      what: "No application of phrases to this twin is known that could be taken apart",
      next: "Apply phrases, and check the twin.",
    });
  }

  async learn(id: string, twin?: string): Promise<ProposalView[]> {
    return learnFromPort((await this.ports.readingOf(id)).open, twin);
  }

  /** The places of a phrase that is not written yet, after those of the book. Throws SideTwinError `bad-input`. */
  async tryPhrase(
    id: string,
    wanted: { readonly twin: string; readonly phrase: Readonly<Record<string, unknown>> },
  ): Promise<TrialView> {
    const { open } = await this.ports.readingOf(id);
    const trial = readTrial(wanted.phrase);
    const run = await runPhrases(open, { twin: wanted.twin, trial, cache: this.phrases });
    return { places: run.phrases.find((entry) => entry.id === trial.id)?.occurrences ?? [] };
  }

  async addPhrase(id: string, phrase: Readonly<Record<string, unknown>>): Promise<void> {
    await addPhrase((await this.ports.readingOf(id)).open, phrase);
    this.changed(id);
  }

  async exceptPlace(id: string, wanted: Parameters<typeof exceptPlace>[1]): Promise<void> {
    await exceptPlace((await this.ports.readingOf(id)).open, wanted);
    this.changed(id);
  }

  /** A file of a twin to be edited. Throws SideTwinError for one that is none of its. */
  async source(
    id: string,
    {
      twin,
      file,
      module,
      section,
    }: { readonly twin: string; readonly file: string; readonly module: string; readonly section: string },
  ): Promise<SourceView> {
    const facts = await this.ports.factsOf(id, twin);
    const { open } = facts.reading;
    const found = facts.reading.modules
      .find(({ name }) => name === module)
      ?.originalSources.flatMap(({ sections }) => sections)
      .find(({ name }) => name === section);
    const language = twinsFor(open, twin)[0].language;
    return { ...(await readSource(open, twin, file)), stub: found ? stubOf(found, language, open.port.names) : "" };
  }

  /** Writes lines of a twin's file with a snapshot, unless the file is another by now. */
  async saveSource(id: string, edit: SourceEdit): Promise<SourceSavedView> {
    const reading = await this.ports.readingOf(id);
    const saved = await saveSource(reading.open, edit, this.data);
    if (saved.state === "changed") return saved;
    this.changed(id);
    const { before, after, ...rest } = saved;
    return { ...rest, changed: await changedSections(reading, { ...edit, before, after }) };
  }

  /** Puts files back; the newest snapshot where none is named. Throws SideTwinError naming files that changed since. */
  async undo(id: string, snapshot?: string): Promise<SnapshotView> {
    return this.turn(id, "Undone", (snapshots) => snapshots.undo(snapshot));
  }

  /** Makes an undone change again, the one undone last where none is named. Throws SideTwinError as `undo` does. */
  async redo(id: string, snapshot?: string): Promise<SnapshotView> {
    return this.turn(id, "Done again", (snapshots) => snapshots.redo(snapshot));
  }

  private async turn(id: string, how: string, act: (snapshots: Snapshots) => SnapshotRecord): Promise<SnapshotView> {
    const { open } = await this.ports.readingOf(id);
    const record = act(Snapshots.open(this.data, open.file));
    for (const key of [...this.applied.keys()]) if (key.startsWith(`${id}\0`)) this.applied.delete(key);
    await addEntry(open.folder, { kind: "applied", text: `${how}: ${record.what}`, by: "side-twin" });
    this.changed(id);
    return { ...record, files: record.files.map(({ file }) => file) };
  }

  async journal(id: string): Promise<JournalView> {
    const facts = await this.ports.factsOf(id);
    const { open } = facts.reading;
    const { entries, problems } = await readJournal(open.folder);
    return {
      port: portCard(facts, moduleViews(facts)),
      older: Math.max(0, entries.length - MAX_ENTRIES),
      // Assumptions stay open until a person closes them, however old they are.
      entries: entries.filter((entry, index) => index >= entries.length - MAX_ENTRIES || isOpen(entry)),
      problems,
      snapshots: this.snapshots(open.file),
      progress: await this.progress(id, facts.twin),
    };
  }

  private async progress(id: string, twin: string): Promise<ProgressPoint[]> {
    const checks = (await listChecks(this.ports.store, id, MAX_CHECKS)).flatMap(
      ({ endedAt, module, state, scope, ...check }) =>
        state === "complete" &&
        module === null &&
        scope?.caseId === undefined &&
        endedAt !== null &&
        (scope?.twin ?? twin) === twin
          ? [{ ...check, at: endedAt.toISOString() }]
          : [],
    );
    return progressPoints(checks.reverse(), await listComplaints(this.ports.store, id, twin));
  }

  async addEntry(id: string, entry: NewEntry): Promise<void> {
    await addEntry((await this.ports.readingOf(id)).open.folder, entry);
    this.changed(id);
  }

  async closeEntry(id: string, wanted: { readonly id: string; readonly holds: "true" | "false" }): Promise<void> {
    await closeEntry((await this.ports.readingOf(id)).open.folder, wanted.id, wanted.holds);
    this.changed(id);
  }

  /** Null where the phrasebook cannot be read or run; the Phrasebook view shows why. */
  async leftoversOf(facts: PortFacts): Promise<LadderFacts["leftovers"]> {
    const found = await this.phrasesOf(facts).catch(toProblem);
    return "code" in found ? null : countLeftovers(facts.reading.open, found.run);
  }

  /** Modules of a twin that have both the old way and the new; none where the phrasebook cannot be run. */
  async mixedIn(facts: PortFacts): Promise<readonly string[]> {
    if (facts.reading.open.port.phrasebook.length === 0) return [];
    const found = await this.phrasesOf(facts).catch(toProblem);
    return "code" in found ? [] : found.run.mixed.map(({ module }) => module);
  }

  /** The places of the phrasebook; the same run while neither the phrasebook nor a file that was read changes. */
  private async phrasesOf({ reading, twin }: PortFacts): Promise<{ book: OpenPhrasebook; run: PhraseRun }> {
    const book = await openPhrasebook(reading.open, twin);
    const key = JSON.stringify([twin, book.phrases, book.scales]);
    const known = this.phraseRuns.get(reading);
    const run = known?.key === key ? known.run : runPhrases(reading.open, { twin, book, cache: this.phrases });
    this.phraseRuns.set(reading, { key, run });
    return { book, run: await run };
  }

  private snapshots(file: string): SnapshotView[] {
    return Snapshots.open(this.data, file)
      .list()
      .map(({ id, at, what, state, files }) => ({ id, at, what, state, files: files.map((entry) => entry.file) }));
  }

  private changed(id: string): void {
    this.news.emit(id, { type: "files", paths: [] });
  }
}

const isOpen = ({ kind, holds = "open" }: JournalEntry): boolean => kind === "assumption" && holds === "open";

/** The record of an error that a person can mend; throws all others. */
function toProblem(thrown: unknown): ErrorRecord {
  if (thrown instanceof SideTwinError) return thrown.toRecord();
  throw thrown;
}

const NO_PHRASES = {
  book: { phrases: [] },
  run: { phrases: [], leftovers: [], mixed: [], lapsed: [], unsound: [] },
} as const;
