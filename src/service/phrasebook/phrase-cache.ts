/** The places of phrases that were found before: a file is read and looked at again only when it or a phrase changed. */
import { readFile } from "node:fs/promises";
import path from "node:path";
import type { Phrase } from "@/core/formats/phrasebook";
import type { BookFile, FilePlaces, FileTerms } from "@/core/phrasebook/run-book";
import { parseTemplate, wordsOf } from "@/core/phrasebook/template";
import { languageIn } from "@/core/source/language-of";
import { statNow } from "@/engine/files/tree";
import { phraseThreads } from "@/service/phrasebook/threads";

/** A text with what it was written in. */
export type DecodedFile = BookFile & {
  /** Bytes that are not UTF-8 are read one by one, so that every byte outside of places stays. */
  readonly encoding: BufferEncoding;
};

/** A file of a twin; the object stays the same while the file does. */
export type TwinFile = DecodedFile & { readonly bytes: Buffer };

/** Larger files are data. */
const MAX_BYTES = 2 * 1024 * 1024;
/** Twins whose places are kept. */
const MAX_TWINS = 4;
/** Characters that one thread takes at a time: so that both have work until the end. */
const SHARE = 500_000;

/** The places of one twin's files. */
class TwinPlaces {
  private readonly files = new Map<string, { readonly stamp: string; readonly read: TwinFile | null }>();
  private found = new WeakMap<TwinFile, FilePlaces>();
  private key = "";

  /** The files that hold text, in their order. */
  async read(folder: string, names: readonly string[]): Promise<TwinFile[]> {
    const known = new Set(names);
    for (const name of this.files.keys()) if (!known.has(name)) this.files.delete(name);
    const read: TwinFile[] = [];
    for (const name of names) {
      const about = statNow(path.join(folder, name));
      const stamp = about ? `${about.size}:${about.mtimeMs}` : "";
      let entry = this.files.get(name);
      if (entry?.stamp !== stamp) {
        entry = { stamp, read: about?.isFile() ? await readTwinFile(folder, name) : null };
        this.files.set(name, entry);
      }
      if (entry.read) read.push(entry.read);
    }
    return read;
  }

  /** The places in each file, in their order; `trial` runs after the phrases. Throws SideTwinError. */
  async places(files: readonly TwinFile[], terms: FileTerms, trial: Phrase | undefined): Promise<FilePlaces[]> {
    const { not: refused, phrases, book, scales } = terms;
    // Refused and tried places belong to this run only.
    const isKept = refused.length === 0;
    const key = JSON.stringify([phrases, book, scales]);
    if (isKept && key !== this.key) {
      this.key = key;
      this.found = new WeakMap();
    }
    const found = isKept ? this.found : new WeakMap<TwinFile, FilePlaces>();
    await fill(found, files, terms);
    const all = inOrder(files, found);
    if (!trial) return all;
    const tried = new WeakMap<TwinFile, FilePlaces>();
    const holding = files.filter((file, index) => mayHold(trial, [file.disk, all[index]?.text ?? ""]));
    await fill(tried, holding, { ...terms, phrases: [...phrases, trial] });
    return files.map((file, index) => tried.get(file) ?? (all[index] as FilePlaces)); // one for each file
  }
}

/** The places of the twins that were looked at last. */
export class PhraseCache {
  /** The least recently used first. */
  private readonly twins = new Map<string, TwinPlaces>();

  of(portFile: string, twin: string): TwinPlaces {
    const key = `${portFile}\0${twin}`;
    const places = this.twins.get(key) ?? new TwinPlaces();
    this.twins.delete(key);
    this.twins.set(key, places);
    for (const oldest of this.twins.keys()) {
      if (this.twins.size <= MAX_TWINS) break;
      this.twins.delete(oldest);
    }
    return places;
  }
}

/** Looks at the files that are not known, on both threads. */
async function fill(found: WeakMap<TwinFile, FilePlaces>, files: readonly TwinFile[], terms: FileTerms): Promise<void> {
  const shares: TwinFile[][] = [];
  let size = SHARE;
  for (const file of files) {
    if (found.has(file)) continue;
    if (size >= SHARE) {
      shares.push([]);
      size = 0;
    }
    shares.at(-1)?.push(file);
    size += file.disk.length;
  }
  await Promise.all(
    shares.map(async (share) => {
      const plain = share.map(({ file, disk, language }) => ({ file, disk, language }));
      const places = await phraseThreads.run("findPlaces", plain, terms);
      for (const [index, file] of share.entries()) {
        const own = places[index];
        if (own) found.set(file, own);
      }
    }),
  );
}

const inOrder = (files: readonly TwinFile[], found: WeakMap<TwinFile, FilePlaces>): FilePlaces[] =>
  files.flatMap((file) => found.get(file) ?? []);

/** Whether a place of a phrase may be in a text: all its words are. Phrases of files look at no text. */
function mayHold(phrase: Phrase, texts: readonly string[]): boolean {
  if (phrase.kind === "file") return true;
  const words = parseTemplate(phrase.from).flatMap((part) => (part.kind === "text" ? wordsOf(part.text) : []));
  return texts.some((text) => words.every((word) => text.includes(word)));
}

/** Null for what is not text: pictures and archives hold zero bytes. */
async function readTwinFile(folder: string, file: string): Promise<TwinFile | null> {
  const bytes = await readFile(path.join(folder, file)).catch(() => null);
  if (!bytes || bytes.length > MAX_BYTES || bytes.subarray(0, 8000).includes(0)) return null;
  return { file, bytes, ...decode(file, bytes) };
}

/** The text of some bytes: UTF-8, or else a character a byte. */
export function decode(file: string, bytes: Buffer): Omit<DecodedFile, "file"> {
  const utf8 = bytes.toString("utf8");
  const encoding: BufferEncoding = Buffer.from(utf8, "utf8").equals(bytes) ? "utf8" : "latin1";
  const disk = encoding === "utf8" ? utf8 : bytes.toString("latin1");
  return { disk, language: languageIn(file, disk), encoding };
}
