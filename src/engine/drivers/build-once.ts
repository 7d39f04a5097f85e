/** Makes a build atomic, even when two checks build at once. */
import { existsSync } from "node:fs";
import { mkdir, rename, rm, utimes } from "node:fs/promises";

/** Calls `work` with an empty folder that becomes `home` when it is done; does nothing where `home` is there. */
export async function buildOnce(home: string, work: (folder: string) => Promise<void>): Promise<void> {
  if (existsSync(home)) {
    // Marks it as used for prune-builds.ts.
    await utimes(home, new Date(), new Date()).catch(() => undefined);
    return;
  }
  const folder = `${home}.${process.pid}.${Math.random().toString(36).slice(2)}`;
  await mkdir(folder, { recursive: true });
  try {
    await work(folder);
    await rename(folder, home).catch((error: unknown) => {
      // Another build finished first.
      if (!existsSync(home)) throw error;
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
