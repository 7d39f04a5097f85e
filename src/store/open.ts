/** The database in its data folder: locked, migrated, and put in order after a server that was killed. */
import { mkdirSync } from "node:fs";
import path from "node:path";
import type { z } from "zod";
import { SideTwinError } from "@/core/errors";
import { Database, type Statement } from "@/store/database";
import { layDown } from "@/store/empty-database";
import { takeLock } from "@/store/lock";
import { hashMigrations, migrate, readMigrations } from "@/store/migrate";
import { VerdictBook } from "@/store/verdicts";

const RETRY_MS = 2000;

/** The open data folder. */
export class Store {
  private readonly books = new Map<string, Promise<VerdictBook>>();

  private constructor(
    private readonly database: Database,
    private readonly unlock: () => void,
    readonly folder: string,
  ) {}

  /** Opens or makes the store. Throws SideTwinError `folder-in-use`, `newer-version`. */
  static async open(folder: string, migrations: string): Promise<Store> {
    mkdirSync(folder, { recursive: true });
    const unlock = takeLock(path.join(folder, "server.lock"), folder);
    try {
      const program = path.join(path.dirname(migrations), "database-worker.mjs");
      const database = await openDatabase(folder, program, readMigrations(migrations));
      const store = new Store(database, unlock, folder);
      // Checks still marked as running were interrupted by the end of their server; their verdicts remain.
      await store.run("update check_run set state = 'interrupted', ended_at = now() where state = 'running'");
      return store;
    } catch (error) {
      unlock();
      throw error;
    }
  }

  /** Verdicts of a port, read once. */
  verdicts(portId: string): Promise<VerdictBook> {
    const known = this.books.get(portId) ?? VerdictBook.open(this, portId);
    this.books.set(portId, known);
    return known;
  }

  /** Discards what was read of a removed port. */
  forget(portId: string): void {
    this.books.delete(portId);
  }

  /** Rows of a statement, each read by its schema. Values only ever travel as parameters. */
  async rows<T>(schema: z.ZodType<T>, sql: string, values: readonly unknown[] = []): Promise<T[]> {
    const rows = await this.database.ask({ operation: "query", sql, values });
    return rows.map((row) => schema.parse(row));
  }

  /** Errors of the machine behind a failed statement: a full disk, a read-only folder. */
  explain(thrown: unknown): unknown {
    const code = thrown instanceof Error && "code" in thrown ? thrown.code : undefined;
    const text = thrown instanceof Error ? thrown.message : "";
    const reason =
      code === "53100" || /No space left|ENOSPC/.test(text)
        ? "the disk is full"
        : /Read-only file system|EROFS/.test(text)
          ? "the file system is read-only"
          : null;
    if (reason === null) return thrown;
    return new SideTwinError(
      {
        code: "not-writable",
        what: `The data folder ${this.folder} cannot be written: ${reason}`,
        next: "Make room, then run the check again.",
      },
      thrown,
    );
  }

  private readonly later = new Set<NodeJS.Timeout>();

  /** Tries a write again and again until it succeeds or the store is closed. */
  saveLater(write: () => Promise<void>): void {
    const timer = setTimeout(() => {
      this.later.delete(timer);
      write().catch(() => this.saveLater(write));
    }, RETRY_MS);
    timer.unref();
    this.later.add(timer);
  }

  async run(sql: string, values: readonly unknown[] = []): Promise<void> {
    await this.database.ask({ operation: "query", sql, values });
  }

  /** Runs several statements in one transaction. */
  async transaction(statements: readonly Statement[]): Promise<void> {
    await this.database.ask({ operation: "transaction", statements });
  }

  async close(): Promise<void> {
    for (const timer of this.later) clearTimeout(timer);
    await this.database.close();
    this.unlock();
  }
}

async function openDatabase(
  dataFolder: string,
  program: string,
  migrations: ReturnType<typeof readMigrations>,
): Promise<Database> {
  const openMigrated = async (folder: string): Promise<Database> => {
    const database = await Database.open(folder, program);
    try {
      await migrate(database, migrations, dataFolder);
      return database;
    } catch (error) {
      await database.close();
      throw error;
    }
  };
  const folder = path.join(dataFolder, "database");
  await layDown(folder, {
    key: hashMigrations(migrations),
    program,
    make: async (made) => (await openMigrated(made)).close(),
  });
  return openMigrated(folder);
}
