/**
 * Worker threads for what would hold up the main one. They are started when there is work, and do not keep the process
 * alive; one that dies fails the jobs it had, and the next job starts another.
 */
import path from "node:path";
import { pathToFileURL } from "node:url";
import { Worker } from "node:worker_threads";
import { type ErrorRecord, SideTwinError } from "@/core/errors";
import { packageRoot } from "@/engine/package-root";
import type { JobName, Jobs } from "@/engine/workers/jobs";

type Waiting = { readonly resolve: (value: unknown) => void; readonly reject: (error: unknown) => void };
type FromWorker = {
  readonly id: number;
  readonly value?: unknown;
  readonly error?: unknown;
  readonly record?: ErrorRecord;
};
type Thread = { readonly worker: Worker; readonly waiting: Map<number, Waiting> };

/** How many threads work at a time; on two cores the ported code needs one. */
const THREADS = 2;

/** Threads that run jobs; started on demand, ended when idle. */
export class WorkerPool {
  private readonly threads: Thread[] = [];
  private count = 0;

  constructor(private readonly most = THREADS) {}

  /** Runs a job on the thread that has the least to do. Arguments and result are copied. Rejects with what the job threw. */
  async run<N extends JobName>(name: N, ...args: Parameters<Jobs[N]>): Promise<Awaited<ReturnType<Jobs[N]>>> {
    // Waited for first: those that ask meanwhile must find the threads that others started.
    const program = await workerFile();
    const thread = this.pick(program);
    const id = this.count++;
    return new Promise<unknown>((resolve, reject) => {
      thread.waiting.set(id, { resolve, reject });
      thread.worker.ref();
      thread.worker.postMessage({ id, name, args });
    }) as Promise<Awaited<ReturnType<Jobs[N]>>>; // the worker answers with what the job of that name gives
  }

  get size(): number {
    return this.threads.length;
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.splice(0).map(({ worker }) => worker.terminate()));
  }

  private pick(program: string): Thread {
    const idle = this.threads.find(({ waiting }) => waiting.size === 0);
    if (idle) return idle;
    if (this.threads.length < this.most) return this.start(program);
    return this.threads.reduce((least, thread) => (thread.waiting.size < least.waiting.size ? thread : least));
  }

  private start(file: string): Thread {
    const thread: Thread = { worker: new Worker(file), waiting: new Map() };
    const { worker, waiting } = thread;
    this.threads.push(thread);
    worker.unref();
    worker.on("message", ({ id, value, error, record }: FromWorker) => {
      const entry = waiting.get(id);
      waiting.delete(id);
      if (waiting.size === 0) worker.unref();
      if (record) entry?.reject(new SideTwinError(record));
      else if (error === undefined) entry?.resolve(value);
      else entry?.reject(error);
    });
    const end = (error: unknown) => {
      const place = this.threads.indexOf(thread);
      if (place !== -1) this.threads.splice(place, 1);
      for (const { reject } of waiting.values()) reject(error);
      waiting.clear();
    };
    worker.once("error", end);
    worker.once("exit", (code) => end(new Error(`a worker thread ended with ${code}`)));
    return thread;
  }
}

let file: Promise<string> | undefined;

/** The worker's program, bundled beside the command line's. */
function workerFile(): Promise<string> {
  file ??= (async () => {
    const bundler = pathToFileURL(path.join(packageRoot(), "scripts/bundle.mjs")).href;
    // Found from the package's own folder: what bundles the pages must not look for it.
    const { bundle } = await import(/* webpackIgnore: true */ /* turbopackIgnore: true */ bundler);
    return bundle("src/engine/workers/worker.ts");
  })();
  return file;
}

/** The threads that the whole process shares. */
export const workers = new WorkerPool();
