/** Brings a database to this version's tables. */
import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { Database } from "@/store/database";

type Migration = { readonly version: number; readonly file: string; readonly sql: string };

/** Migrations in order, from files such as `0001-ports.sql`. */
export const readMigrations = (folder: string): Migration[] =>
  readdirSync(folder)
    .filter((file) => file.endsWith(".sql"))
    .sort()
    .map((file) => ({
      version: Number(file.slice(0, 4)),
      file,
      sql: readFileSync(path.join(folder, file), "utf8"),
    }));

/** Fingerprint of migrations, in hexadecimal. */
export const hashMigrations = (migrations: readonly Migration[]): string =>
  createHash("sha256").update(JSON.stringify(migrations)).digest("hex").slice(0, 16);

/** Runs the migrations that a database lacks. Throws SideTwinError `newer-version` with the data folder's name. */
export async function migrate(database: Database, migrations: readonly Migration[], dataFolder: string): Promise<void> {
  await database.ask({
    operation: "query",
    sql: "create table if not exists migration (version integer primary key, name text not null)",
  });
  const [found] = await database.ask({
    operation: "query",
    sql: "select coalesce(max(version), 0)::text as version from migration",
  });
  const current = Number((found as { readonly version: string }).version);
  const latest = migrations.at(-1)?.version ?? 0;
  if (current > latest) {
    throw new SideTwinError({
      code: "newer-version",
      what: `The data folder ${dataFolder} was written by a newer Side Twin (data version ${current}, this one knows ${latest})`,
      next: "Update Side Twin, or start with another --data folder.",
    });
  }
  for (const { version, file, sql } of migrations) {
    if (version <= current) continue;
    await database.ask({
      operation: "transaction",
      statements: [{ sql }, { sql: "insert into migration (version, name) values ($1, $2)", values: [version, file] }],
    });
  }
}
