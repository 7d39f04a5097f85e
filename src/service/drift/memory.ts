/**
 * The memory of a port's sections: in the store, and in the file named by `memory`, which is shared through version
 * control and wins where it is newer.
 */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { Remembered } from "@/core/drift/drift";
import { formatMemoryLines, type MemoryLine, parseMemoryLines } from "@/core/formats/memory-line";
import { languageOf } from "@/core/source/language-of";
import { tokensOf } from "@/core/source/tokens";
import { writeAtomically } from "@/engine/files/write";
import type { OpenPort } from "@/service/port/open-port";
import type { Store } from "@/store/open";
import { deleteMemory, listMemory, saveMemory } from "@/store/section-memory";

/** The memory of a port's sections. */
export class SectionMemory {
  private readonly rows = new Map<string, Remembered>();
  /** Version counter, for caching derived results. */
  version = 0;
  /** The shared file's text as it was last read or written. */
  private shared: string | null = null;

  private constructor(
    private readonly store: Store,
    private readonly portId: string,
  ) {}

  static async load(store: Store, portId: string): Promise<SectionMemory> {
    const memory = new SectionMemory(store, portId);
    for (const line of await listMemory(store, portId)) memory.enter(line);
    return memory;
  }

  /** Merges newer entries of the shared file. Throws SideTwinError if it cannot be read. */
  async refresh(open: OpenPort): Promise<void> {
    const file = sharedFile(open);
    const text = file && (await readFile(file, "utf8").catch(() => null));
    if (text === null || text === this.shared) return;
    const newer = parseMemoryLines(text, path.basename(file ?? "")).filter(
      (line) => Date.parse(line.at) > Date.parse(this.rows.get(keyOf(line))?.at ?? "1970-01-01"),
    );
    // Set only now: an unreadable file must be reported each time and never overwritten.
    this.shared = text;
    for (const line of newer) this.enter(line);
    this.version++;
    if (newer.length > 0) await saveMemory(this.store, this.portId, newer);
  }

  of(module: string, twin: string): Remembered[] {
    return [...this.rows.values()].filter((row) => row.module === module && row.twin === twin);
  }

  /** All rows of a twin by module; one walk for all modules of a page. */
  byModule(twin: string): Map<string, Remembered[]> {
    const found = new Map<string, Remembered[]>();
    for (const row of this.rows.values()) {
      if (row.twin !== twin) continue;
      const list = found.get(row.module);
      if (list) list.push(row);
      else found.set(row.module, [row]);
    }
    return found;
  }

  async remember(open: OpenPort, rows: readonly Remembered[]): Promise<void> {
    if (rows.length === 0) return;
    await saveMemory(this.store, this.portId, rows.map(toLine));
    for (const row of rows) this.rows.set(keyOf(row), row);
    this.version++;
    await this.share(open);
  }

  /** Forgets a section that is gone for good. */
  async drop(open: OpenPort, row: Remembered): Promise<void> {
    await deleteMemory(this.store, this.portId, row);
    this.rows.delete(keyOf(row));
    this.version++;
    await this.share(open);
  }

  private async share(open: OpenPort): Promise<void> {
    const file = sharedFile(open);
    if (!file) return;
    this.shared = formatMemoryLines([...this.rows.values()].map(toLine));
    await writeAtomically(file, this.shared);
  }

  private enter(line: MemoryLine): void {
    this.rows.set(keyOf(line), { ...line, tokens: tokensOf(line.text, languageOf(line.file)) });
  }
}

const sharedFile = (open: OpenPort): string | null =>
  open.port.memory === undefined ? null : path.join(open.folder, open.port.memory);

const toLine = ({ tokens: _tokens, ...line }: Remembered): MemoryLine => line;

const keyOf = ({ twin, module, section }: Pick<MemoryLine, "twin" | "module" | "section">): string =>
  `${twin}\0${module}\0${section}`;
