/** Live drivers for tests, over a folder of sources. */
import path from "node:path";
import { type BridgeRequest, Pool, type PoolAnswer } from "@/engine/bridge/pool";
import { DRIVERS, driversFolder } from "@/engine/drivers/index";
import { environmentFor } from "@/engine/process/environment";
import { findRuntime } from "@/engine/toolchains/toolchains";

export const POOL_LIMITS = { timeMs: 5000, memoryMb: 512, outputKb: 64, processes: 64 };

/** One driver process of a language; the caller stops it. */
export async function poolFor(language: string, cwd: string, limits: Partial<typeof POOL_LIMITS> = {}): Promise<Pool> {
  const driver = DRIVERS[language];
  if (!driver) throw new Error(`no driver for ${language}`);
  const program = path.join(driversFolder(), driver.program);
  const command = [...(await findRuntime(language)), ...driver.flags(POOL_LIMITS.memoryMb), program];
  return new Pool({
    command,
    cwd,
    env: environmentFor(),
    hello: { root: cwd, path: ["."], outputKb: POOL_LIMITS.outputKb },
    limits: { ...POOL_LIMITS, ...limits },
    jobs: 1,
  });
}

export const askPool = (pool: Pool, request: BridgeRequest): Promise<PoolAnswer> =>
  new Promise((done) => pool.add([{ request: { op: "call", ...request }, done, tries: 0 }]));
