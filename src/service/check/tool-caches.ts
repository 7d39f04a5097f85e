import path from "node:path";
import { findSandbox } from "@/engine/sandbox/sandbox";

/** Where build tools keep what they fetched or made: the person's own folders are read-only in the sandbox. */
export const cachesIn = (scratch: string): Readonly<Record<string, string>> =>
  findSandbox() === null
    ? {}
    : {
        TMPDIR: scratch,
        XDG_CACHE_HOME: path.join(scratch, "cache"),
        GOCACHE: path.join(scratch, "go"),
        npm_config_cache: path.join(scratch, "npm"),
      };
