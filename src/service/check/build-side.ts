/** Builds what the driver of a compiled side runs. */

import { mkdirSync } from "node:fs";
import { mkdtemp, realpath, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { BuildSide, Built, Driver } from "@/engine/drivers/driver";
import { driversFolder } from "@/engine/drivers/index";
import { pruneBuilds } from "@/engine/drivers/prune-builds";
import { decodeOutput } from "@/engine/files/text";
import { environmentFor } from "@/engine/process/environment";
import { describeEnd, runToEnd } from "@/engine/process/run";
import { resolveProgram } from "@/engine/toolchains/toolchains";
import { userCache } from "@/engine/user-cache";
import { cachesIn } from "@/service/check/tool-caches";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

const BUILD_TIME_MS = 10 * 60_000;
const PRUNE_EVERY_MS = 60 * 60_000;
let prunedAt = 0;

/** Builds what a compiled side's driver runs; what was built of the same sources before is taken again. */
export async function buildSide(
  open: OpenPort,
  side: OpenSide,
  terms: {
    readonly build: NonNullable<Driver["build"]>;
    readonly runtime: readonly string[];
    readonly lines: boolean;
    readonly signal: AbortSignal | undefined;
  },
): Promise<Built> {
  const { build, runtime, lines, signal } = terms;
  const cache = userCache("builds");
  mkdirSync(cache, { recursive: true });
  if (Date.now() - prunedAt > PRUNE_EVERY_MS) {
    prunedAt = Date.now();
    await pruneBuilds(cache);
  }
  const made = build({
    folder: side.folder,
    files: side.files,
    call: side.call ?? {},
    shapes: shapesIn(open),
    memoryMb: open.port.limits.memoryMb,
    lines,
    home: driversFolder(),
    runtime,
    cache: await realpath(cache),
    run: async (command, ...writable) => {
      const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-build-")));
      try {
        const record = await runToEnd(await resolveProgram(command), {
          cwd: side.folder,
          env: { ...environmentFor({ ...open.port.env, ...side.env }), ...cachesIn(scratch) },
          writable: [...writable, scratch],
          isOwn: true,
          limits: { timeMs: BUILD_TIME_MS, outputKb: 16 * 1024 },
          ...(signal ? { signal } : {}),
        });
        const isOk = record.end.kind === "exited" && record.end.code === 0;
        const printed = `${decodeOutput(record.stdout)}${decodeOutput(record.stderr)}`;
        return { isOk, printed: isOk || printed !== "" ? printed : describeEnd(record.end) };
      } finally {
        await rm(scratch, { recursive: true, force: true });
      }
    },
  });
  return made.catch((error: unknown) => {
    if (error instanceof SideTwinError || signal?.aborted) throw error;
    throw new SideTwinError({
      code: "prepare-failed",
      what: `The build of ${side.root} failed: ${error instanceof Error ? error.message : String(error)}`,
      next: 'Mend them, or say in "call" what they need (compiler, flags, include, link); a build has no network: fetch dependencies first.',
    });
  });
}

/** The port's shapes of a function, by a file of its module. */
function shapesIn(open: OpenPort): BuildSide["shapes"] {
  const moduleOf = new Map(
    open.modules.flatMap(({ name, original, twins }) =>
      [...original, ...Object.values(twins).flat()].map((file) => [file, name] as const),
    ),
  );
  const { shapes } = open.port;
  return { of: (file, name) => shapes[`${moduleOf.get(file)}.${name}`], key: JSON.stringify(shapes) };
}
