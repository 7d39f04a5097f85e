/**
 * The answer cache: plain files kept between checks, one folder per module of a side and one file per fingerprint of
 * its code. Files are only appended to, one line per answer: a killed check loses at most the line being written. The
 * newest line for a request counts.
 */
import { appendFileSync, mkdirSync, readdirSync, rmSync, statSync, utimesSync } from "node:fs";
import { readFile } from "node:fs/promises";
import path from "node:path";
import { type Read, type Reply, readReply } from "@/engine/bridge/replies";
import type { Lines } from "@/engine/drivers/driver";
import { giveWay } from "@/engine/pace";

/** How many fingerprints of one module are kept, so that reverting a change finds its answers again. */
const STAMPS_KEPT = 3;
/** Lines that are read in one turn of the event loop. */
const PIECE = 1000;
const WRITE_AT = 1 << 16;
const WRITE_AFTER_MS = 150;
/** Beyond this size a module's answers are not cached: reading them would take longer than running again. */
const MAX_ANSWERS = 400_000;

type Line =
  | readonly ["lines", number, Lines]
  | readonly ["answer", string, Read, number]
  | readonly ["reply", string, number | null, number, Reply]
  | readonly ["gone", string]
  | readonly ["version", string];

/** The cached answers of one module of a side. */
export class KeptAnswers {
  private readonly answers = new Map<string, Read>();
  private readonly lineSets = new Map<Lines, number>();
  private buffer = "";
  /** Requests answered since it was opened. */
  private readonly added = new Set<string>();
  /** The file can no longer be written; cached answers are still used. */
  private isReadOnly = false;
  private flushedAt = performance.now();
  private toolVersion: string | null = null;

  private constructor(private readonly file: string) {}

  /** Opens the cache of one module of a side under a fingerprint; deletes the oldest other fingerprints. */
  static async open(folder: string, stamp: string): Promise<KeptAnswers> {
    mkdirSync(folder, { recursive: true });
    const file = path.join(folder, `${stamp}.jsonl`);
    const kept = new KeptAnswers(file);
    await kept.load();
    const others = readdirSync(folder)
      .filter((name) => name !== `${stamp}.jsonl`)
      .map((name) => ({ name, at: statSync(path.join(folder, name)).mtimeMs }))
      .sort((one, other) => other.at - one.at);
    for (const { name } of others.slice(STAMPS_KEPT - 1)) rmSync(path.join(folder, name), { force: true });
    return kept;
  }

  private async load(): Promise<void> {
    let text: string;
    try {
      text = await readFile(this.file, "utf8");
    } catch (error) {
      if (error instanceof Error && "code" in error && error.code === "ENOENT") return;
      throw error;
    }
    // Reuse makes a file the newest.
    utimesSync(this.file, new Date(), new Date());
    const sets = new Map<number, Lines>();
    let since = 0;
    for (const line of text.split("\n")) {
      if (++since % PIECE === 0) await giveWay();
      const read = parseLine(line);
      if (!read) continue;
      if (read[0] === "version") this.toolVersion = read[1];
      else if (read[0] === "gone") this.answers.delete(read[1]);
      else if (read[0] === "lines") {
        sets.set(read[1], read[2]);
        this.lineSets.set(read[2], read[1]);
      } else {
        const [, request] = read;
        const answer = read[0] === "answer" ? read[2] : { ...readReply(read[4]), ms: read[2] };
        const lines = sets.get(read[3]);
        this.answers.set(request, lines ? { ...answer, lines } : answer);
      }
    }
  }

  get(request: string): Read | undefined {
    return this.answers.get(request);
  }

  /** The version that the tool which answered gave of itself. */
  get version(): string | null {
    return this.toolVersion;
  }

  setVersion(version: string): void {
    if (this.toolVersion === version) return;
    this.toolVersion = version;
    this.write(["version", version]);
  }

  /** Stores an answer; broken ones are not stored, since the next try may succeed. */
  keep(request: string, read: Read): void {
    if (read.result.kind === "broken" || this.answers.size >= MAX_ANSWERS) return;
    this.answers.set(request, read);
    this.added.add(request);
    const lines = read.lines ? this.numberOf(read.lines) : -1;
    // Stores the driver's own text: parsing and writing each answer again would cost as much as comparing it.
    if (read.text) this.append(`["reply",${JSON.stringify(request)},${read.ms},${lines},{${read.text}]`);
    else {
      const { result, ms, executable } = read;
      this.write(["answer", request, executable ? { result, ms, executable } : { result, ms }, lines]);
    }
  }

  /** Forgets an answer that turned out not to be the only one. */
  forget(request: string): void {
    if (this.answers.delete(request)) this.write(["gone", request]);
  }

  /** Discards everything stored since it was opened: the code did not match its fingerprint. */
  forgetAdded(): void {
    for (const request of this.added) this.forget(request);
    this.added.clear();
  }

  private numberOf(lines: Lines): number {
    const known = this.lineSets.get(lines);
    if (known !== undefined) return known;
    const number = this.lineSets.size;
    this.lineSets.set(lines, number);
    this.write(["lines", number, lines]);
    return number;
  }

  private write(line: Line): void {
    this.append(JSON.stringify(line));
  }

  private append(line: string): void {
    this.buffer += `${line}\n`;
    if (this.buffer.length > WRITE_AT || performance.now() - this.flushedAt > WRITE_AFTER_MS) this.flush();
  }

  flush(): void {
    this.flushedAt = performance.now();
    const { buffer } = this;
    this.buffer = "";
    if (buffer === "" || this.isReadOnly) return;
    try {
      appendFileSync(this.file, buffer);
    } catch (error) {
      if (!(error instanceof Error && "code" in error)) throw error;
      // A full disk: keeping answers saves time, and a check goes on without.
      this.isReadOnly = true;
    }
  }
}

/** Null for an empty line and for the one that a killed process left half written. */
function parseLine(line: string): Line | null {
  if (line === "") return null;
  try {
    return JSON.parse(line) as Line; // written by `write` above
  } catch {
    // An incomplete line is ignored; its request runs again.
    return null;
  }
}
