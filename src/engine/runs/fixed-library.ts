/** The library that fixes the clock and the random numbers of programs that use the C library; compiled once a machine. */

import { mkdir } from "node:fs/promises";
import path from "node:path";
import { buildKey } from "@/engine/drivers/build-key";
import { buildOnce } from "@/engine/drivers/build-once";
import { driversFolder } from "@/engine/drivers/index";
import { findProgram } from "@/engine/find-program";
import { environmentFor } from "@/engine/process/environment";
import { runToEnd } from "@/engine/process/run";
import { userCache } from "@/engine/user-cache";

/** The library's path, or why there is none. */
export type FixedLibrary =
  | { readonly file: string; readonly why: null }
  | { readonly file: null; readonly why: string };

const SOURCE = "c/fixed_run.c";
const COMPILE_MS = 60_000;

/** Compiles the library, unless that was done before. Never rejects. */
export async function fixedLibrary(): Promise<FixedLibrary> {
  if (process.platform !== "linux") return none("that needs Linux");
  const compiler = ["cc", "gcc", "clang"].map((name) => findProgram(name)).find((found) => found !== null);
  if (!compiler) return none("that needs a C compiler (Debian: apt-get install gcc)");
  const builds = userCache("builds");
  await mkdir(builds, { recursive: true });
  const home = path.join(builds, `fixed-run-${await buildKey(driversFolder(), [SOURCE], [compiler])}`);
  try {
    await buildOnce(home, async (folder) => {
      const source = path.join(driversFolder(), SOURCE);
      const { end, stderr } = await runToEnd(
        [compiler, "-O2", "-w", "-shared", "-fPIC", "-o", path.join(folder, "fixed_run.so"), source, "-ldl"],
        { cwd: folder, env: environmentFor(), limits: { timeMs: COMPILE_MS, outputKb: 1024 } },
      );
      if (end.kind !== "exited" || end.code !== 0) throw new Error(stderr.toString("utf8").trim().slice(0, 500));
    });
  } catch (error) {
    return none(`${SOURCE} does not compile here: ${error instanceof Error ? error.message : String(error)}`);
  }
  return { file: path.join(home, "fixed_run.so"), why: null };
}

const none = (why: string): FixedLibrary => ({ file: null, why });
