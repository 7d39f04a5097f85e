/** Builds the web pages when that has not been done since their sources changed. */
import { readdirSync, statSync } from "node:fs";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import { packageRoot } from "@/engine/package-root";
import { describeEnd, runToEnd } from "@/engine/process/run";

const SOURCES = ["src/app", "src/ui", "src/core", "next.config.ts", "package-lock.json"];

/** The folder of the built pages. Throws SideTwinError with what the build printed. */
export async function buildPages(tell: (line: string) => void): Promise<string> {
  const home = packageRoot();
  const built = statSync(path.join(home, ".next/BUILD_ID"), { throwIfNoEntry: false })?.mtimeMs ?? 0;
  if (built > Math.max(...SOURCES.map((name) => newest(path.join(home, name))))) return home;
  tell("Building the web pages; this is done once after each change …");
  const record = await runToEnd([process.execPath, path.join(home, "node_modules/next/dist/bin/next"), "build"], {
    cwd: home,
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" },
    limits: { timeMs: 15 * 60_000, outputKb: 16 * 1024 },
  });
  if (record.end.kind === "exited" && record.end.code === 0) return home;
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
