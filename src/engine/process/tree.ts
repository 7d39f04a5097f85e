/** Counts a process with its descendants and their memory, where the system reports it. */
import { readdirSync, readFileSync } from "node:fs";

const PAGE_BYTES = 4096;
/** Looking at more of them takes longer than the time between two looks. */
const MAX_LOOKED_AT = 512;

/** The processes of a tree, and their resident memory. */
export type TreeUse = { readonly processes: number; readonly memoryMb: number; readonly pids: readonly number[] };

/** Null if the process has ended or there is no /proc. Linear in descendants. */
export function measureTree(pid: number | undefined): TreeUse {
  if (pid === undefined) return { processes: 0, memoryMb: 0, pids: [] };
  const queue = [pid];
  const pids: number[] = [];
  let pages = 0;
  for (let next = queue.pop(); next !== undefined && pids.length < MAX_LOOKED_AT; next = queue.pop()) {
    const resident = residentPages(next);
    if (resident === null) continue;
    pids.push(next);
    pages += resident;
    queue.push(...childrenOf(next));
  }
  return { processes: pids.length, memoryMb: (pages * PAGE_BYTES) / (1024 * 1024), pids };
}

function residentPages(pid: number): number | null {
  try {
    return Number(readFileSync(`/proc/${pid}/statm`, "utf8").split(" ")[1]);
  } catch {
    // It ended between two reads: no memory is resident.
    return null;
  }
}

function childrenOf(pid: number): number[] {
  try {
    return readdirSync(`/proc/${pid}/task`).flatMap((task) =>
      readFileSync(`/proc/${pid}/task/${task}/children`, "utf8").split(" ").filter(Boolean).map(Number),
    );
  } catch {
    // Ended in the meantime, or a kernel that does not list children.
    return [];
  }
}
