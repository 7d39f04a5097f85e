import { WorkerPool } from "@/engine/workers/worker-pool";

/** Threads for phrases alone: a large twin takes long, and neither a check nor a phrase that is being typed may wait for it. */
export const phraseThreads = new WorkerPool(2);
