/**
 * The workbench of the running server. Pages are bundled apart from the server that opened the data folder, so the one
 * instance is handed over through the process; only its type is imported here, which keeps the engine out of the pages.
 */
import type { Workbench } from "@/service/server/workbench";

const HOLDER = Symbol.for("side-twin.workbench");
type Holder = { [HOLDER]?: Workbench };

/** Called once, when the server starts. */
export function setCurrentWorkbench(workbench: Workbench): void {
  (globalThis as Holder)[HOLDER] = workbench; // a key of our own, read only below
}

/** Throws when pages are served without `side-twin serve`. */
export function currentWorkbench(): Workbench {
  const workbench = (globalThis as Holder)[HOLDER]; // set by the server before it listens
  if (!workbench) throw new Error("Start Side Twin with `side-twin serve`: these pages need its data folder.");
  return workbench;
}
