/**
 * Finds processes that ported code leaves behind outside its process group: by the mark in their environment, as known
 * children, by working folder, and by open pipes and files. A process that drops all of these within a fraction of a
 * second is not found; that needs the sandbox.
 */
import { readdirSync, readFileSync, readlinkSync } from "node:fs";
import path from "node:path";

/** Clock ticks since the machine started. */
type StartTime = number;

/** Facts about the processes of one owner. */
export class Left {
  /** Process → when it started: a number that was given away again is another process. */
  readonly children = new Map<number, StartTime>();
  readonly folders = new Set<string>();
  /** Open files of the started processes: `socket:[inode]` and similar. */
  readonly held = new Set<string>();
  since: StartTime = Number.POSITIVE_INFINITY;

  /** `mark` is a whole entry of an environment. */
  constructor(readonly mark: string) {}

  /** Notes a process right after it was started. */
  started(pid: number | undefined, folders: readonly string[]): void {
    if (pid === undefined) return;
    for (const folder of folders) this.folders.add(folder);
    this.since = Math.min(this.since, startTimeOf(pid) ?? Number.POSITIVE_INFINITY);
    // Files that this process holds too are inherited by everything it starts, and identify nothing.
    const handedOn = new Set(linksOf(process.pid));
    for (const link of linksOf(pid)) if (!handedOn.has(link) && isOwn(link, this.folders)) this.held.add(link);
  }

  seen(pids: readonly number[]): void {
    for (const pid of pids) {
      if (this.children.has(pid)) continue;
      const started = startTimeOf(pid);
      if (started !== null) this.children.set(pid, started);
    }
  }
}

/** Ends the processes that an owner's left behind. Cost: one small file a process of the machine, more for new ones. */
export function killLeft(left: Left): void {
  for (const pid of processes()) {
    const started = startTimeOf(pid);
    if (started === null || started < left.since || pid === process.pid || !belongs(pid, started, left)) continue;
    try {
      process.kill(pid, "SIGKILL");
    } catch {
      // Ended in the meantime, or another user's.
    }
  }
}

function belongs(pid: number, started: StartTime, left: Left): boolean {
  if (left.children.get(pid) === started) return true;
  if (environmentOf(pid).includes(left.mark)) return true;
  const folder = linkOf(`/proc/${pid}/cwd`);
  if (folder !== null && isBelow(folder, left.folders)) return true;
  return linksOf(pid).some((link) => left.held.has(link) || (link.startsWith("/") && isBelow(link, left.folders)));
}

const isOwn = (link: string, folders: ReadonlySet<string>): boolean =>
  /^(socket|pipe):/.test(link) || isBelow(link, folders);

const isBelow = (file: string, folders: ReadonlySet<string>): boolean =>
  [...folders].some((folder) => file === folder || file.startsWith(folder + path.sep));

function processes(): number[] {
  try {
    return readdirSync("/proc")
      .filter((name) => /^\d+$/.test(name))
      .map(Number);
  } catch {
    // No /proc: the process group was all that could be ended.
    return [];
  }
}

/** Field 22 of /proc/PID/stat; the second field, a name in brackets, may hold anything. */
function startTimeOf(pid: number): StartTime | null {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, "latin1");
    return Number(text.slice(text.lastIndexOf(")") + 2).split(" ")[19]);
  } catch {
    return null;
  }
}

function environmentOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/environ`, "latin1");
  } catch {
    return "";
  }
}

function linksOf(pid: number): string[] {
  try {
    return readdirSync(`/proc/${pid}/fd`).flatMap((name) => linkOf(`/proc/${pid}/fd/${name}`) ?? []);
  } catch {
    return [];
  }
}

function linkOf(file: string): string | null {
  try {
    return readlinkSync(file);
  } catch {
    return null;
  }
}
