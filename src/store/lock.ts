/** One server on a data folder: a lock file that names the process, taken over when that process is gone. */
import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { SideTwinError } from "@/core/errors";

/** Takes the lock and returns how to give it back. Throws SideTwinError `folder-in-use`. */
export function takeLock(file: string, folder: string): () => void {
  for (let attempt = 0; attempt < 3; attempt++) {
    try {
      writeFileSync(file, JSON.stringify({ pid: process.pid, started: startOf(process.pid) }), { flag: "wx" });
      return () => rmSync(file, { force: true });
    } catch (error) {
      if (!(error instanceof Error && "code" in error && error.code === "EEXIST")) throw error;
    }
    const holder = readHolder(file);
    if (holder && isAlive(holder)) {
      throw new SideTwinError({
        code: "folder-in-use",
        what: `Another Side Twin (process ${holder.pid}) is using the data folder ${folder}`,
        next: "Stop it first, or start this one with another --data folder.",
      });
    }
    // A killed server leaves its lock behind; its process no longer exists.
    rmSync(file, { force: true });
  }
  throw new SideTwinError({
    code: "folder-in-use",
    what: `The data folder ${folder} could not be locked`,
    next: "Try again.",
  });
}

type Holder = { readonly pid: number; readonly started: string };

function readHolder(file: string): Holder | null {
  try {
    const { pid, started } = JSON.parse(readFileSync(file, "utf8"));
    return typeof pid === "number" ? { pid, started: String(started) } : null;
  } catch {
    // Half written or gone: the lock is free.
    return null;
  }
}

/** Process ids are reused; the start time identifies the process. */
function isAlive({ pid, started }: Holder): boolean {
  try {
    process.kill(pid, 0);
  } catch (error) {
    if (error instanceof Error && "code" in error && error.code === "ESRCH") return false;
  }
  return startOf(pid) === started;
}

function startOf(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? "";
  } catch {
    // No /proc here: the process number alone must do.
    return "";
  }
}
