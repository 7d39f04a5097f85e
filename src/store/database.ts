/** The door to the database's thread: statements with their values in, rows out. */
import path from "node:path";
import { Worker } from "node:worker_threads";
import type { z } from "zod";

/** A statement with its parameters. */
export type Statement = { readonly sql: string; readonly values?: readonly unknown[] };

type Request =
  | ({ readonly operation: "query" } & Statement)
  | { readonly operation: "script"; readonly sql: string }
  | { readonly operation: "transaction"; readonly statements: readonly Statement[] }
  | { readonly operation: "close" };

type Answer = {
  readonly id: number;
  readonly rows?: readonly unknown[];
  readonly error?: { readonly message: string; readonly code?: string };
};

type Waiting = { readonly resolve: (rows: readonly unknown[]) => void; readonly reject: (error: Error) => void };

/** Database access of a table family: parameterised statements, and rows read by a schema. */
export type Connection = {
  readonly rows: <T>(schema: z.ZodType<T>, sql: string, values?: readonly unknown[]) => Promise<T[]>;
  readonly run: (sql: string, values?: readonly unknown[]) => Promise<void>;
};

/** The connection to the database's thread. */
export class Database {
  private readonly waiting = new Map<number, Waiting>();
  private last = 0;
  private ended: Error | null = null;

  private constructor(private readonly worker: Worker) {
    worker.on("message", (answer: Answer) => this.settle(answer));
    worker.on("error", (error) => this.fail(error instanceof Error ? error : new Error(String(error))));
    worker.on("exit", () => this.fail(new Error("the database's thread has ended")));
  }

  /** `program` is the worker's file; the folder is made when it is not there. */
  static async open(folder: string, program: string): Promise<Database> {
    const worker = new Worker(program, { workerData: { folder: path.resolve(folder) } });
    const database = new Database(worker);
    await database.wait(0);
    return database;
  }

  private wait(id: number): Promise<readonly unknown[]> {
    if (this.ended) return Promise.reject(this.ended);
    return new Promise((resolve, reject) => this.waiting.set(id, { resolve, reject }));
  }

  private settle({ id, rows, error }: Answer): void {
    const waiting = this.waiting.get(id);
    this.waiting.delete(id);
    if (error) waiting?.reject(Object.assign(new Error(error.message), { code: error.code }));
    else waiting?.resolve(rows ?? []);
  }

  private fail(error: Error): void {
    this.ended ??= error;
    for (const { reject } of this.waiting.values()) reject(this.ended);
    this.waiting.clear();
  }

  /** Rejects with the database's error, its SQLSTATE in `code`. */
  ask(request: Request): Promise<readonly unknown[]> {
    const id = ++this.last;
    const answer = this.wait(id);
    if (!this.ended) this.worker.postMessage({ id, ...request });
    return answer;
  }

  async close(): Promise<void> {
    if (this.ended) return;
    await this.ask({ operation: "close" });
    await this.worker.terminate();
  }
}
