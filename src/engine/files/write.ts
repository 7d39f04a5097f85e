/**
 * Changes to a person's files. Each write is all or nothing: the new text goes to a temporary file beside the target, which is
 * then renamed over it. Edits of one file queue up, and a file that another program saved in the meantime is read
 * again instead of being overwritten.
 */
import { randomBytes } from "node:crypto";
import {
  closeSync,
  fsyncSync,
  openSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { chmod, mkdir, readFile } from "node:fs/promises";
import path from "node:path";
import { setTimeout as sleep } from "node:timers/promises";
import { SideTwinError } from "@/core/errors";
import { decodeText, HALF_WRITTEN_MS } from "@/engine/files/text";

/** The temporary files of this process that are still being written. */
const inProgress = new Set<string>();
const queues = new Map<string, Promise<unknown>>();

const PART = /^(?<target>.+)\.(?<pid>\d+)(?<random>\.[0-9a-f]{12})?\.part$/;
/** Earlier versions named the parts of these after the process alone. */
const OWN_FORMAT = /\.jsonl?$/;
const MAX_ATTEMPTS = 50;

/** Replaces the text of a file, whatever it was. Creates its folder. Throws SideTwinError `not-writable`. */
export async function writeAtomically(file: string, text: string): Promise<void> {
  await editFile(file, () => text);
}

/**
 * Changes a text file. `change` gets the current text (null if there is no file) and returns the new one; it is called
 * again if another program saved the file in the meantime. Keeps the mode, follows links. Throws whatever `change`
 * throws, and SideTwinError `not-writable` or `bad-input` for a file that is not UTF-8, leaving the file as it was.
 */
export async function editFile(file: string, change: (before: string | null) => string): Promise<void> {
  const target = resolveLinks(file);
  const before = queues.get(target) ?? Promise.resolve();
  const turn = before.then(() => editNow(target, change));
  // The next in the queue starts whether this one succeeded or not.
  const settled = turn.catch(() => undefined);
  queues.set(target, settled);
  try {
    await turn;
  } finally {
    if (queues.get(target) === settled) queues.delete(target);
  }
}

/** Resolved synchronously, so that edits keep the order of their requests. */
function resolveLinks(file: string): string {
  try {
    return realpathSync(file);
  } catch {
    return path.resolve(file);
  }
}

async function editNow(target: string, change: (before: string | null) => string): Promise<void> {
  for (let attempt = 0; attempt < MAX_ATTEMPTS; attempt++) {
    const before = await readIfThere(target);
    let after: string;
    try {
      after = change(before === null ? null : decodeText(before, target));
    } catch (error) {
      await sleep(HALF_WRITTEN_MS);
      if (isSame(before, await readIfThere(target))) throw error;
      continue;
    }
    if (before?.equals(Buffer.from(after))) return;
    if (await replace(target, before, after)) return;
  }
  throw new SideTwinError({
    code: "not-writable",
    what: `${path.basename(target)} is being saved by another program again and again`,
    where: { file: path.basename(target) },
    next: "Try again; nothing was changed.",
  });
}

/** Returns whether the new text is in place; false if the file has changed in the meantime. */
async function replace(target: string, before: Buffer | null, after: string): Promise<boolean> {
  const part = `${target}.${process.pid}.${randomBytes(6).toString("hex")}.part`;
  inProgress.add(part);
  try {
    await mkdir(path.dirname(target), { recursive: true });
    const mode = before === null ? 0o644 : statSync(target).mode & 0o7777;
    const opened = openSync(part, "wx", mode);
    try {
      // Loop to the end: a single write on a nearly full disk is cut short without an error.
      writeFileSync(opened, after);
      fsyncSync(opened);
    } finally {
      closeSync(opened);
    }
    // The process's mask may have taken bits away.
    if (before !== null) await chmod(part, mode);
    // Nothing may come between the comparison and the rename.
    if (!isSame(before, readIfThereNow(target))) return false;
    renameSync(part, target);
    return true;
  } catch (cause) {
    throw notWritable(target, cause);
  } finally {
    rmSync(part, { force: true });
    inProgress.delete(part);
  }
}

const isSame = (before: Buffer | null, now: Buffer | null): boolean =>
  before === null ? now === null : now !== null && before.equals(now);

async function readIfThere(file: string): Promise<Buffer | null> {
  try {
    return await readFile(file);
  } catch (cause) {
    if (isMissing(cause)) return null;
    throw notReadable(file, cause);
  }
}

function readIfThereNow(file: string): Buffer | null {
  try {
    return readFileSync(file);
  } catch (cause) {
    if (isMissing(cause)) return null;
    throw cause;
  }
}

const isMissing = (error: unknown): boolean => error instanceof Error && "code" in error && error.code === "ENOENT";

const REASONS: Readonly<Record<string, string>> = {
  ENOSPC: "the disk is full",
  EDQUOT: "the disk quota is used up",
  EROFS: "the file system is read-only",
  EACCES: "permission is denied",
  EPERM: "permission is denied",
  EISDIR: "it is a folder",
  ENOTDIR: "a part of its path is a file",
  ENOENT: "its folder is not there",
  ENAMETOOLONG: "its name is too long",
  EMFILE: "too many files are open",
  EFBIG: "it would be larger than files may be here",
};

/** Why the system refused to read or write, in plain words. */
export const describeSystemError = (cause: unknown): string => {
  const code = cause instanceof Error && "code" in cause && typeof cause.code === "string" ? cause.code : "";
  return REASONS[code] ?? (code || (cause instanceof Error ? cause.message : String(cause)));
};

/** The error for a file that cannot be written; names the file, never a temporary one. */
export const notWritable = (file: string, cause: unknown): SideTwinError =>
  new SideTwinError(
    {
      code: "not-writable",
      what: `${path.basename(file)} cannot be written: ${describeSystemError(cause)}`,
      where: { file },
      next: "Nothing was changed. Make room or change the permissions, then try again.",
    },
    cause,
  );

const notReadable = (file: string, cause: unknown): SideTwinError =>
  new SideTwinError(
    {
      code: "not-readable",
      what: `${path.basename(file)} cannot be read: ${describeSystemError(cause)}`,
      where: { file },
    },
    cause,
  );

/** Deletes the temporary files that a killed process left in a folder. Those of a process that still runs stay. */
export function removeLeftParts(folder: string): void {
  let names: string[];
  try {
    names = readdirSync(folder);
  } catch {
    // The folder is gone or cannot be read: there is nothing to clean up.
    return;
  }
  for (const name of names) {
    const { target = "", pid, random } = PART.exec(name)?.groups ?? {};
    const file = path.join(folder, name);
    // A person's own file may have a similar name: only parts beside their target count.
    if (pid === undefined || (random === undefined && !(OWN_FORMAT.test(target) && names.includes(target)))) continue;
    if (inProgress.has(file) || (Number(pid) !== process.pid && isRunning(Number(pid)))) continue;
    rmSync(file, { force: true });
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error instanceof Error && "code" in error && error.code === "EPERM";
  }
}
