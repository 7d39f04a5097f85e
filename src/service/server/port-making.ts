/** What helps to make a port: its phrasebook, snapshots, journal, and drafts of source. */

import type {
  AppliedView,
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
import { Snapshots } from "@/engine/snapshots/snapshots";
import { changedSections } from "@/service/edits/callers";
import { addPhrase, exceptPlace, readTrial } from "@/service/edits/edit-phrasebook";
import { readSource, type SourceEdit, saveSource } from "@/service/edits/edit-source";
import { addEntry, closeEntry, readJournal } from "@/service/journal/journal-file";
import { applyPhrases } from "@/service/phrasebook/apply-phrases";
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

/** Journals of ports with more entries than this are shown from the newest on. */
const MAX_ENTRIES = 2000;

/** See the head of the file. */
export class PortMaking {
  private readonly phrases = new PhraseCache();
  private readonly phraseRuns = new WeakMap<object, { readonly key: string; readonly run: Promise<PhraseRun> }>();

  constructor(
    private readonly ports: OpenPorts,
    private readonly news: PortNews,
    private readonly data: string,
  ) {}

  /** Every phrase with its places in the twin; a phrasebook that cannot be read is told as the view's problem. */
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
    const { open } = await this.ports.readingOf(id);
    const { snapshot, changed } = await applyPhrases(open, {
      twin: wanted.twin,
      run: wanted.phrases,
      not: wanted.not,
      data: this.data,
    });
    this.changed(id);
    return { snapshot, files: changed.length, places: changed.reduce((sum, { places }) => sum + places, 0) };
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
    const { open } = await this.ports.readingOf(id);
    const record = Snapshots.open(this.data, open.file).undo(snapshot);
    await addEntry(open.folder, { kind: "applied", text: `Undone: ${record.what}`, by: "side-twin" });
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
    };
  }

  async addEntry(id: string, entry: NewEntry): Promise<void> {
    await addEntry((await this.ports.readingOf(id)).open.folder, entry);
    this.changed(id);
  }

  async closeEntry(id: string, wanted: { readonly id: string; readonly holds: "true" | "false" }): Promise<void> {
    await closeEntry((await this.ports.readingOf(id)).open.folder, wanted.id, wanted.holds);
    this.changed(id);
  }

  /** Null where the phrasebook cannot be read or run: the Phrasebook says why. */
  async leftoversOf(facts: PortFacts): Promise<LadderFacts["leftovers"]> {
    const found = await this.phrasesOf(facts).catch(toProblem);
    return "code" in found ? null : countLeftovers(facts.reading.open, found.run);
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
