/**
 * Unpacks an untrusted zip: climbing names, links, secrets, duplicate paths and excessive sizes are refused or skipped,
 * and nothing is written outside the folder.
 */
import { createWriteStream } from "node:fs";
import { mkdir } from "node:fs/promises";
import path from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { crc32 } from "node:zlib";
import yauzl, { type Entry, type ZipFile } from "yauzl";
import { SideTwinError } from "@/core/errors";

/** Limits against zips that unpack to excessive sizes. */
export type UnzipLimits = { readonly entries: number; readonly fileBytes: number; readonly totalBytes: number };

/** The limits of uploads. */
export const UNZIP_LIMITS: UnzipLimits = {
  entries: 100_000,
  fileBytes: 256 * 1024 * 1024,
  totalBytes: 2 * 1024 * 1024 * 1024,
};

/** `leftOut` are the parts of a git folder: its configuration could name programs for git to start. */
export type Unzipped = { readonly files: number; readonly links: readonly string[]; readonly leftOut: number };

/** Files unpacked so far. */
export type UnzipProgress = { readonly done: number; readonly of: number };

const LINK = 0o120000;
const TELL_EVERY = 200;

/**
 * Unpacks below `folder`, which is created. Links and git folders are skipped and counted. Throws SideTwinError, also
 * on wrong checksums; the caller removes what was written.
 */
export async function unzip(
  file: string,
  folder: string,
  limits = UNZIP_LIMITS,
  onProgress: (progress: UnzipProgress) => void = () => undefined,
): Promise<Unzipped> {
  await refuseByDirectory(file, limits);
  const zip = await openZip(file);
  const seen = new Set<string>();
  const made = new Set<string>();
  const links: string[] = [];
  let [files, leftOut, total] = [0, 0, 0];
  const count = (bytes: number) => {
    total += bytes;
    if (total > limits.totalBytes) refuse(`It unpacks to more than ${inMegabytes(limits.totalBytes)}`);
  };
  const makeFolder = async (wanted: string) => {
    if (made.has(wanted)) return;
    await mkdir(wanted, { recursive: true });
    made.add(wanted);
  };
  try {
    await makeFolder(folder);
    for await (const entry of entriesOf(zip)) {
      const name = entry.fileName;
      // Two names that some file systems take for one would overwrite each other.
      const key = path.posix.normalize(name).normalize("NFC").toLowerCase();
      if (seen.has(key)) refuse(`It has "${name}" twice`);
      seen.add(key);
      if (seen.size % TELL_EVERY === 0) onProgress({ done: seen.size, of: zip.entryCount });
      if (entry.isEncrypted()) refuse(`"${name}" is encrypted`);
      if (key.split("/").includes(".git")) leftOut++;
      else if (((entry.externalFileAttributes >>> 16) & 0o170000) === LINK) links.push(name);
      else if (key === "." || key === "./") continue;
      else if (name.endsWith("/")) await makeFolder(inside(folder, name));
      else {
        if (entry.uncompressedSize > limits.fileBytes)
          refuse(`"${name}" is larger than ${inMegabytes(limits.fileBytes)}`);
        const target = inside(folder, name);
        await makeFolder(path.dirname(target));
        await unpack(zip, entry, target, { most: limits.fileBytes, count });
        files++;
      }
    }
    return { files, links, leftOut };
  } catch (thrown) {
    throw thrown instanceof SideTwinError ? thrown : broken(thrown);
  } finally {
    zip.close();
  }
}

/** Bytes of a local header without its name and extra field (PKWARE APPNOTE 6.3, section 4.3.7). */
const LOCAL_HEADER = 30;

/**
 * The zip's directory suffices to refuse it before writing; its truth is verified while unpacking. Entries that share
 * data make a small file unpack to any size.
 */
async function refuseByDirectory(file: string, limits: UnzipLimits): Promise<void> {
  const zip = await openZip(file);
  const places: { readonly from: number; readonly to: number }[] = [];
  let total = 0;
  try {
    if (zip.entryCount > limits.entries)
      refuse(`It has ${zip.entryCount} entries; at most ${limits.entries} are unpacked`);
    for await (const entry of entriesOf(zip)) {
      total += entry.uncompressedSize;
      const from = entry.relativeOffsetOfLocalHeader;
      places.push({ from, to: from + LOCAL_HEADER + entry.compressedSize });
    }
  } catch (thrown) {
    throw thrown instanceof SideTwinError ? thrown : broken(thrown);
  } finally {
    zip.close();
  }
  if (total > limits.totalBytes) refuse(`It unpacks to more than ${inMegabytes(limits.totalBytes)}`);
  places.sort((one, other) => one.from - other.from);
  if (places.some(({ from }, index) => index > 0 && from < (places[index - 1]?.to ?? 0)))
    refuse("Its entries share their data, which no honest zip does");
}

async function unpack(
  zip: ZipFile,
  entry: Entry,
  target: string,
  { most, count }: { most: number; count: (bytes: number) => void },
): Promise<void> {
  const content = await new Promise<NodeJS.ReadableStream>((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  );
  let [bytes, checksum] = [0, 0];
  // Declared sizes may be false: count actual bytes.
  const counted = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      checksum = crc32(chunk, checksum);
      try {
        if (bytes > most) refuse(`"${entry.fileName}" is larger than ${inMegabytes(most)}`);
        count(chunk.length);
        done(null, chunk);
      } catch (thrown) {
        done(thrown as Error); // refuse throws errors only
      }
    },
    flush(done) {
      if (checksum === entry.crc32) done();
      else done(new Error(`"${entry.fileName}" is damaged: its checksum is wrong`));
    },
  });
  // `wx`: a file that is there already is never written through.
  await pipeline(content, counted, createWriteStream(target, { flags: "wx", mode: 0o644 }));
}

async function* entriesOf(zip: ZipFile): AsyncGenerator<Entry> {
  const queue: (Entry | Error | null)[] = [];
  let wake: () => void = () => undefined;
  const push = (item: Entry | Error | null) => {
    queue.push(item);
    wake();
  };
  zip.on("entry", push);
  zip.on("error", push);
  zip.once("end", () => push(null));
  for (;;) {
    if (queue.length === 0) {
      const came = new Promise<void>((resolve) => {
        wake = resolve;
      });
      zip.readEntry();
      if (queue.length === 0) await came;
    }
    const item = queue.shift();
    if (item === null || item === undefined) return;
    if (item instanceof Error) throw item;
    yield item;
  }
}

function openZip(file: string): Promise<ZipFile> {
  return new Promise((resolve, reject) => {
    // Names are checked by the library too: absolute ones, backslashes and `..` are errors of their own.
    yauzl.open(file, { lazyEntries: true, autoClose: false, strictFileNames: true }, (error, zip) =>
      error ? reject(broken(error)) : resolve(zip),
    );
  });
}

/** The path of a name below the folder. */
function inside(folder: string, name: string): string {
  const target = path.resolve(folder, name);
  if (name.includes("\0") || !target.startsWith(folder + path.sep)) refuse(`"${name}" leads out of its folder`);
  return target;
}

const inMegabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

function refuse(what: string): never {
  throw new SideTwinError({
    code: "bad-input",
    what,
    where: { file: "the zip" },
    next: "Unpack it yourself, and bring in the folder.",
  });
}

const broken = (cause: unknown): SideTwinError =>
  new SideTwinError(
    {
      code: "bad-input",
      what: `The zip cannot be read: ${cause instanceof Error ? cause.message : cause}`,
      next: "Make it again, or unpack it yourself and bring in the folder.",
    },
    cause,
  );
