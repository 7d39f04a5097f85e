/**
 * Runs the database on its own thread, so that it never blocks a page or a check. Statements arrive as messages and are
 * answered in order; a batch is committed whole or not at all.
 */
import { parentPort, workerData } from "node:worker_threads";
import { PGlite } from "@electric-sql/pglite";

const database = await PGlite.create(workerData.folder);

const operations = {
  query: async ({ sql, values }) => (await database.query(sql, values)).rows,
  script: async ({ sql }) => {
    await database.exec(sql);
    return [];
  },
  transaction: ({ statements }) =>
    database.transaction(async (inner) => {
      for (const { sql, values } of statements) {
        if (values) await inner.query(sql, values);
        else await inner.exec(sql);
      }
      return [];
    }),
  close: async () => {
    await database.close();
    return [];
  },
};

parentPort.on("message", async ({ id, operation, ...request }) => {
  try {
    parentPort.postMessage({ id, rows: await operations[operation](request) });
  } catch (error) {
    parentPort.postMessage({ id, error: { message: String(error?.message ?? error), code: error?.code } });
  }
  if (operation === "close") process.exit(0);
});
parentPort.postMessage({ id: 0, rows: [] });
