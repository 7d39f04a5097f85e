/** A worker thread: jobs come in as messages and are answered in order. */
import { parentPort } from "node:worker_threads";
import { isSideTwinError } from "@/core/errors";
import { JOBS, type JobName } from "@/engine/workers/jobs";

type Request = { readonly id: number; readonly name: JobName; readonly args: readonly unknown[] };

parentPort?.on("message", async ({ id, name, args }: Request) => {
  try {
    const job = JOBS[name] as (...given: readonly unknown[]) => unknown; // The pool's types guarantee the message
    parentPort?.postMessage({ id, value: await job(...args) });
  } catch (error) {
    // A copied error loses its class; the record of one of ours is what the pool recreates it from.
    parentPort?.postMessage(isSideTwinError(error) ? { id, record: error.toRecord() } : { id, error });
  }
});
