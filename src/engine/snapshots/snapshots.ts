/**
 * Changes of several files of a person at once: a snapshot is taken first, then all files change or none, and they can be
 * put back to the byte. Contents lie under their hash in the data folder, so that equal ones lie there once.
 *
 * All new files are written beside their targets before the first is put in place. The record marks a change, an undo or
 * a redo as under way until all are: what a killed process left half done is put back when the port's snapshots are next
 * opened.
 */
import { createHash, randomBytes } from "node:crypto";
import {
  chmodSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import path from "node:path";
import { z } from "zod";
import { SideTwinError } from "@/core/errors";
import { notWritable } from "@/engine/files/write";

/** A file before or after: its content by hash and its mode; null where it is not there. */
const state = z.strictObject({ hash: z.string(), mode: z.number() }).nullable();

const recordSchema = z.strictObject({
  id: z.string(),
  at: z.string(),
  /** A description of the change. */
  what: z.string(),
  /** The folder that the paths are relative to. */
  folder: z.string(),
  state: z.enum(["under-way", "done", "undone"]),
  /** When it was last undone or made again. */
  turnedAt: z.string().optional(),
  files: z.array(z.strictObject({ file: z.string(), before: state, after: state })),
});
export type SnapshotRecord = z.infer<typeof recordSchema>;

/** A file as it is to be; `mode` is kept where it is left out, and null content takes the file away. */
export type WantedFile = { readonly file: string; readonly content: Buffer | null; readonly mode?: number };

/** Snapshots beyond this many are dropped, the oldest first. */
export const MAX_SNAPSHOTS = 200;
/** Contents of all snapshots of a port, in bytes; beyond it the oldest go. */
export const MAX_SNAPSHOT_BYTES = 512 * 1024 * 1024;

export class Snapshots {
  private constructor(private readonly store: string) {}

  /** Opens the snapshots of a port in a data folder, and puts back what a killed process left half done. */
  static open(data: string, portFile: string): Snapshots {
    const key = createHash("sha256").update(portFile).digest("hex").slice(0, 16);
    const snapshots = new Snapshots(path.join(path.resolve(data), "snapshots", key));
    snapshots.recover();
    return snapshots;
  }

  /** All snapshots, the newest first. */
  list(): SnapshotRecord[] {
    const folder = path.join(this.store, "records");
    if (!existsSync(folder)) return [];
    return readdirSync(folder)
      .filter((name) => name.endsWith(".json"))
      .flatMap((name) => {
        const read = recordSchema.safeParse(parseJson(readFileSync(path.join(folder, name), "utf8")));
        return read.success ? [read.data] : [];
      })
      .sort((a, b) => (a.id < b.id ? 1 : -1));
  }

  /**
   * Changes files below a folder, all or none. `expected` are the contents that the change was worked out from: a file
   * that is another now refuses the whole change. Throws SideTwinError `not-writable`, `bad-input`.
   */
  change(
    folder: string,
    what: string,
    wanted: readonly WantedFile[],
    expected: ReadonlyMap<string, Buffer>,
  ): SnapshotRecord {
    const files = wanted.map(({ file, content, mode }) => {
      const before = this.keep(path.join(folder, file));
      const known = expected.get(file);
      if (known && before && before.hash !== hashOf(known)) throw changedMeanwhile(file);
      const after = content === null ? null : { hash: this.put(content), mode: mode ?? before?.mode ?? 0o644 };
      return { file, before, after };
    });
    const id = `${new Date().toISOString().replace(/[-:.]/g, "").slice(0, 18)}-${randomBytes(3).toString("hex")}`;
    const record: SnapshotRecord = { id, at: new Date().toISOString(), what, folder, state: "under-way", files };
    this.write(record);
    this.place(record, "after");
    const done: SnapshotRecord = { ...record, state: "done" };
    this.write(done);
    this.prune();
    return done;
  }

  /**
   * Puts the files of a snapshot back, the newest that still holds where no id is given. Throws SideTwinError `not-found`,
   * and `bad-input` naming the files that changed since; then nothing is put back.
   */
  undo(id?: string): SnapshotRecord {
    const all = this.list();
    const record = all.find((entry) => (id === undefined ? entry.state === "done" : entry.id === id));
    if (!record)
      throw new SideTwinError({
        code: "not-found",
        what: id === undefined ? "There is nothing to undo" : `There is no snapshot "${id}"`,
        next:
          all.length > 0
            ? `Snapshots: ${all
                .slice(0, 5)
                .map((entry) => entry.id)
                .join(", ")}.`
            : "Nothing was changed by Side Twin yet.",
      });
    if (record.state === "undone")
      throw new SideTwinError({
        code: "bad-input",
        what: `The snapshot "${record.id}" is undone already`,
        next: "Choose another one.",
      });
    return this.turn(record, "before");
  }

  /**
   * Makes the change of an undone snapshot again: the one that was undone last where no id is given, as long as no later
   * change holds. Throws SideTwinError `not-found`, and `bad-input` naming the files that changed since the undo; then
   * nothing is written.
   */
  redo(id?: string): SnapshotRecord {
    const all = this.list();
    const record = id === undefined ? undoneLast(all) : all.find((entry) => entry.id === id);
    if (!record)
      throw new SideTwinError({
        code: "not-found",
        what: id === undefined ? "There is nothing to redo" : `There is no snapshot "${id}"`,
        next: "Only an undone change can be made again, as long as nothing was changed after it.",
      });
    if (record.state !== "undone")
      throw new SideTwinError({
        code: "bad-input",
        what: `The snapshot "${record.id}" is not undone`,
        next: "Choose another one.",
      });
    return this.turn(record, "after");
  }

  /** Puts the files of a record into their state before or after it, if they are in the other one now. */
  private turn(record: SnapshotRecord, to: "before" | "after"): SnapshotRecord {
    const from = to === "before" ? "after" : "before";
    const changed = record.files.filter(
      (entry) => hashAt(path.join(record.folder, entry.file)) !== (entry[from]?.hash ?? null),
    );
    if (changed.length > 0)
      throw new SideTwinError({
        code: "bad-input",
        what: `Changed since the ${to === "before" ? "snapshot" : "undo"}: ${changed.map(({ file }) => file).join(", ")}`,
        next: "Nothing was put back. Take your changes out, or put the files back by hand.",
      });
    this.write({ ...record, state: "under-way" });
    try {
      this.place(record, to);
    } catch (refused) {
      this.write(record);
      throw refused;
    }
    const state = to === "before" ? "undone" : "done";
    const turned: SnapshotRecord = { ...record, state, turnedAt: new Date().toISOString() };
    this.write(turned);
    return turned;
  }

  /** The content of a file before a snapshot; null where it was not there. */
  contentBefore(record: SnapshotRecord, file: string): Buffer | null {
    const found = record.files.find((entry) => entry.file === file)?.before;
    return found ? this.get(found.hash) : null;
  }

  /** Puts all files of a record in place: parts first, then the renames one after another. */
  private place({ folder, files }: SnapshotRecord, which: "before" | "after"): void {
    const parts: { readonly part: string; readonly target: string }[] = [];
    try {
      for (const entry of files) {
        const wanted = entry[which];
        if (!wanted) continue;
        const target = path.join(folder, entry.file);
        const part = `${target}.${process.pid}.${randomBytes(6).toString("hex")}.part`;
        parts.push({ part, target });
        // Found before the first rename: after it, some files would be new and others old.
        if (statSync(target, { throwIfNoEntry: false })?.isDirectory())
          throw Object.assign(new Error("a folder is in its place"), { code: "EISDIR", path: target });
        mkdirSync(path.dirname(target), { recursive: true });
        writeFileSync(part, this.get(wanted.hash));
        chmodSync(part, wanted.mode);
      }
    } catch (cause) {
      for (const { part } of parts) rmSync(part, { force: true });
      throw notWritable(parts.at(-1)?.target ?? folder, cause);
    }
    const gone = files.filter((entry) => entry[which] === null && existsSync(path.join(folder, entry.file)));
    for (const { part, target } of parts) renameSync(part, target);
    for (const { file } of gone) {
      // On a file system without case the old name may be that of the new file.
      const isSame = parts.some(
        ({ target }) => target !== path.join(folder, file) && sameFile(target, path.join(folder, file)),
      );
      if (!isSame) rmSync(path.join(folder, file), { force: true });
      removeEmpty(path.dirname(path.join(folder, file)), folder);
    }
  }

  private recover(): void {
    for (const record of this.list()) {
      if (record.state !== "under-way") continue;
      this.place(record, "before");
      this.write({ ...record, state: "undone" });
    }
  }

  private write(record: SnapshotRecord): void {
    const folder = path.join(this.store, "records");
    const file = path.join(folder, `${record.id}.json`);
    try {
      mkdirSync(folder, { recursive: true });
      writeFileSync(`${file}.part`, JSON.stringify(record));
      renameSync(`${file}.part`, file);
    } catch (cause) {
      throw notWritable(file, cause);
    }
  }

  /** The state of a file on disk, its content kept; null where it is not there. */
  private keep(file: string): SnapshotRecord["files"][number]["before"] {
    const facts = statSync(file, { throwIfNoEntry: false });
    return facts?.isFile() ? { hash: this.put(readFileSync(file)), mode: facts.mode & 0o777 } : null;
  }

  private put(content: Buffer): string {
    const hash = hashOf(content);
    const file = path.join(this.store, "contents", hash.slice(0, 2), hash);
    if (existsSync(file)) return hash;
    try {
      mkdirSync(path.dirname(file), { recursive: true });
      writeFileSync(`${file}.part`, content);
      renameSync(`${file}.part`, file);
    } catch (cause) {
      rmSync(`${file}.part`, { force: true });
      throw notWritable(file, cause);
    }
    return hash;
  }

  private get(hash: string): Buffer {
    return readFileSync(path.join(this.store, "contents", hash.slice(0, 2), hash));
  }

  /** Drops what lies beyond the limits, with contents that no record names any more. */
  private prune(): void {
    const all = this.list();
    const sizes = new Map<string, number>();
    let total = 0;
    const kept: SnapshotRecord[] = [];
    for (const record of all) {
      for (const { before, after } of record.files)
        for (const hash of [before?.hash, after?.hash]) {
          if (hash === undefined || sizes.has(hash)) continue;
          const size =
            statSync(path.join(this.store, "contents", hash.slice(0, 2), hash), { throwIfNoEntry: false })?.size ?? 0;
          sizes.set(hash, size);
          total += size;
        }
      if (kept.length > 0 && (kept.length >= MAX_SNAPSHOTS || total > MAX_SNAPSHOT_BYTES)) break;
      kept.push(record);
    }
    if (kept.length === all.length) return;
    const used = new Set(
      kept.flatMap(({ files }) => files.flatMap(({ before, after }) => [before?.hash, after?.hash])),
    );
    for (const record of all.slice(kept.length))
      rmSync(path.join(this.store, "records", `${record.id}.json`), { force: true });
    for (const hash of sizes.keys())
      if (!used.has(hash)) rmSync(path.join(this.store, "contents", hash.slice(0, 2), hash), { force: true });
  }
}

/** Returns the snapshot undone last, unless something was changed since. `all` is newest first. */
function undoneLast(all: readonly SnapshotRecord[]): SnapshotRecord | undefined {
  const undone = all.filter(({ state, turnedAt }) => state === "undone" && turnedAt !== undefined);
  const last = undone.sort((a, b) => ((a.turnedAt ?? "") <= (b.turnedAt ?? "") ? 1 : -1))[0];
  return last && all.every(({ at }) => at <= (last.turnedAt ?? "")) ? last : undefined;
}

const hashOf = (content: Buffer): string => createHash("sha256").update(content).digest("hex");

const hashAt = (file: string): string | null =>
  statSync(file, { throwIfNoEntry: false })?.isFile() ? hashOf(readFileSync(file)) : null;

function sameFile(one: string, other: string): boolean {
  const [a, b] = [statSync(one, { throwIfNoEntry: false }), statSync(other, { throwIfNoEntry: false })];
  return a !== undefined && b !== undefined && a.ino === b.ino && a.dev === b.dev;
}

/** Folders that are empty now, up to `top`, which stays. */
function removeEmpty(folder: string, top: string): void {
  for (let at = folder; at.startsWith(`${top}${path.sep}`); at = path.dirname(at)) {
    try {
      rmdirSync(at);
    } catch {
      // Not empty: it and those around it stay.
      return;
    }
  }
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    // A record that was cut short; the change it was for did not begin.
    return null;
  }
}

const changedMeanwhile = (file: string): SideTwinError =>
  new SideTwinError({
    code: "bad-input",
    what: `${file} was saved while the change was worked out`,
    where: { file },
    next: "Nothing was written. Run the command again.",
  });
