/** Where build tools keep what they fetch or make: the person's own folders are read-only in the sandbox. */

import { createHash } from "node:crypto";
import { mkdir, realpath, utimes } from "node:fs/promises";
import path from "node:path";
import { pruneBuilds } from "@/engine/drivers/prune-builds";
import { findSandbox } from "@/engine/sandbox/sandbox";
import { userCache } from "@/engine/user-cache";

/** Variables for tools; `kept` may be a folder that stays between runs. */
export const cachesIn = (scratch: string, kept = scratch): Readonly<Record<string, string>> =>
  findSandbox() === null
    ? {}
    : {
        TMPDIR: scratch,
        XDG_CACHE_HOME: path.join(kept, "cache"),
        GOCACHE: path.join(kept, "go"),
        npm_config_cache: path.join(kept, "npm"),
      };

/** The caches of a port's own commands: one folder a port, as what a port's tools write must not reach another's. */
export async function toolFolder(portFile: string): Promise<string> {
  const all = userCache("tools");
  const folder = path.join(all, `port-${createHash("sha256").update(portFile).digest("hex").slice(0, 16)}`);
  await mkdir(folder, { recursive: true });
  await utimes(folder, new Date(), new Date());
  await pruneBuilds(all);
  return realpath(folder);
}
