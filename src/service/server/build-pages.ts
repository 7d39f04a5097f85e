/** Builds the web pages when that has not been done since their sources changed. */
import { createHash } from "node:crypto";
import { readdirSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { isSideTwinError, SideTwinError } from "@/core/errors";
import { packageRoot } from "@/engine/package-root";
import { describeEnd, runToEnd } from "@/engine/process/run";
import { takeLock } from "@/store/lock";

const SOURCES = ["src/app", "src/ui", "src/api", "src/core", "next.config.ts", "package-lock.json"];

/** The folder of the built pages. Throws SideTwinError with what the build printed. */
export async function buildPages(report: (line: string) => void): Promise<string> {
  const home = packageRoot();
  if (isBuilt(home)) return home;
  report("Building the web pages; this is done once after each change …");
  const release = await waitForLock(home);
  try {
    // Another server may have built them while this one waited.
    if (!isBuilt(home)) await build(home);
    return home;
  } finally {
    release();
  }
}

function isBuilt(home: string): boolean {
  const built = statSync(path.join(home, ".next/BUILD_ID"), { throwIfNoEntry: false })?.mtimeMs ?? 0;
  return built > Math.max(...SOURCES.map((name) => newest(path.join(home, name))));
}

const BUILD_TIME_MS = 15 * 60_000;
const LOOK_EVERY_MS = 200;

/** Two builds in one folder would write over each other. A lock of a process that is gone is taken over. */
async function waitForLock(home: string): Promise<() => void> {
  // Not in the folder that is built, which a build empties.
  const name = createHash("sha256").update(home).digest("hex").slice(0, 16);
  const file = path.join(tmpdir(), `side-twin-build-${name}.lock`);
  const until = performance.now() + BUILD_TIME_MS;
  for (;;) {
    try {
      return takeLock(file, home);
    } catch (error) {
      if (!isSideTwinError(error) || performance.now() > until) throw error;
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
    }
  }
}

async function build(home: string): Promise<void> {
  const record = await runToEnd([process.execPath, path.join(home, "node_modules/next/dist/bin/next"), "build"], {
    cwd: home,
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" },
    limits: { timeMs: BUILD_TIME_MS, outputKb: 16 * 1024 },
  });
  if (record.end.kind === "exited" && record.end.code === 0) return;
  const output = `${record.stdout.toString("utf8")}\n${record.stderr.toString("utf8")}`.trim().slice(-3000);
  throw new SideTwinError({
    code: "prepare-failed",
    what: `Building the web pages failed: ${describeEnd(record.end)}\n${output}\n`,
    next: "Fix it and start again.",
  });
}

function newest(file: string): number {
  const facts = statSync(file, { throwIfNoEntry: false });
  if (!facts) return 0;
  if (!facts.isDirectory()) return /\.test\.tsx?$/.test(file) ? 0 : facts.mtimeMs;
  return Math.max(0, ...readdirSync(file).map((name) => newest(path.join(file, name))));
}
