/** The ports of a running server as they are read now: their files, what the store knows of them, and their surveys. */
import { SideTwinError } from "@/core/errors";
import { DriftKeeper } from "@/service/drift/drift-keeper";
import type { OpenPort } from "@/service/port/open-port";
import { PortReader, type PortReading } from "@/service/reading/reading";
import { FactsCache, type FolderSurvey } from "@/service/reading/survey-folder";
import type { PortFacts } from "@/service/views/port-facts";
import { surveyOriginal } from "@/service/views/survey-port";
import { listChecks, listProven } from "@/store/checks";
import type { Store } from "@/store/open";
import { findPort, type PortRow } from "@/store/ports";

/** The readings of listed ports. */
export class OpenPorts {
  private readonly readers = new Map<string, PortReader>();
  private readonly surveys = new Map<string, FactsCache>();
  private readonly surveying = new Map<string, Promise<FolderSurvey>>();
  readonly drift: DriftKeeper;

  constructor(readonly store: Store) {
    this.drift = new DriftKeeper(store);
  }

  /** Throws SideTwinError `not-found`. */
  async row(id: string): Promise<PortRow> {
    const row = await findPort(this.store, id);
    if (!row)
      throw new SideTwinError({
        code: "not-found",
        what: "There is no such port",
        next: "Choose one on the first page.",
      });
    return row;
  }

  /** All that is known of a port on one twin, its first where none is named. Throws SideTwinError. */
  async facts(row: PortRow, twin?: string): Promise<PortFacts> {
    const reading = await this.read(row);
    const name = twin ?? reading.open.twins[0]?.name ?? "";
    if (!reading.open.twins.some((entry) => entry.name === name)) {
      throw new SideTwinError({ code: "not-found", what: `There is no twin "${name}"`, next: "Choose another." });
    }
    const [book, proven, checks] = await Promise.all([
      this.store.verdicts(row.id),
      listProven(this.store, row.id, name),
      listChecks(this.store, row.id, 1),
    ]);
    const known = { row, reading, twin: name, verdicts: book.list(), proven, checks };
    return { ...known, drift: await this.drift.driftOf(row.id, reading, name) };
  }

  /** The same, by the port's id. */
  async factsOf(id: string, twin?: string): Promise<PortFacts> {
    return this.facts(await this.row(id), twin);
  }

  async readingOf(id: string): Promise<PortReading> {
    return this.read(await this.row(id));
  }

  read(row: PortRow): Promise<PortReading> {
    const reader = this.readers.get(row.id) ?? new PortReader(this.factsKept(row.id));
    this.readers.set(row.id, reader);
    return reader.read(row.file);
  }

  /** Adopts a reading made before the port was listed. */
  adopt(id: string, reader: PortReader, survey: FactsCache): void {
    this.readers.set(id, reader);
    this.surveys.set(id, survey);
  }

  private factsKept(id: string): FactsCache {
    const known = this.surveys.get(id) ?? new FactsCache();
    this.surveys.set(id, known);
    return known;
  }

  surveyOf(id: string, open: OpenPort): Promise<FolderSurvey> {
    const known = this.factsKept(id);
    // Concurrent requests share one reading.
    const asked = this.surveying.get(id) ?? surveyOriginal(open, known).finally(() => this.surveying.delete(id));
    this.surveying.set(id, asked);
    return asked;
  }

  /** Discards the reading of a removed port. */
  forget(id: string): void {
    this.readers.delete(id);
    this.surveys.delete(id);
    this.drift.forget(id);
  }
}
