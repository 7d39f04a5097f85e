/** Runs a command to its end under limits. However it ends, the record has the same fields; the first cause is kept. */
import type { ChildProcess } from "node:child_process";
import { constants } from "node:os";
import { killGroup, measureGroup, startGroup } from "@/engine/process/group";
import { findSandbox, isSandboxFailure } from "@/engine/sandbox/sandbox";

/** Limits of a run. */
export type RunLimits = {
  readonly timeMs: number;
  readonly memoryMb?: number;
  readonly outputKb: number;
  readonly processes?: number;
};

/** How a run ended; the first cause. */
export type RunEnd =
  | { readonly kind: "exited"; readonly code: number }
  | { readonly kind: "signalled"; readonly signal: string }
  | { readonly kind: "timed-out" }
  | { readonly kind: "over-limit"; readonly what: string }
  | { readonly kind: "failed-to-start"; readonly what: string }
  | { readonly kind: "stopped" };

/** The record of a run, with the same fields for every end. */
export type RunRecord = {
  readonly end: RunEnd;
  readonly stdout: Buffer;
  readonly stderr: Buffer;
  /** How many bytes of stdout there were at which moment, in milliseconds from the start; one entry a piece that came. */
  readonly arrivals: readonly { readonly bytes: number; readonly ms: number }[];
  readonly ms: number;
  /** The most memory that was seen, in megabytes; 0 when it ended before the first look. */
  readonly peakMb: number;
};

/** Folder, environment, input and limits of a run. */
export type RunOptions = {
  readonly cwd: string;
  readonly env: NodeJS.ProcessEnv;
  readonly stdin?: string;
  readonly limits: RunLimits;
  readonly signal?: AbortSignal;
  /** Folders that it may write to; when given, it is ported code and runs in the sandbox if there is one. */
  readonly writable?: readonly string[];
  /** Whether the sandbox leaves it the network. */
  readonly network?: boolean;
  /** One of the port's own commands, such as `prepare`. */
  readonly isOwn?: boolean;
  /** Identifies processes that it leaves behind (`killStrays`). */
  readonly mark?: string;
};

const LOOK_EVERY_MS = 25;
/** The sandbox's own. */
const SANDBOX_PROCESSES = 2;

const SANDBOX_TRIES = 3;

/** Never rejects: a command that cannot be started is a `failed-to-start` record. */
export async function runToEnd(command: readonly string[], options: RunOptions): Promise<RunRecord> {
  for (let tries = 1; ; tries++) {
    const record = await runOnce(command, options);
    if (tries === SANDBOX_TRIES || !options.writable || !isSandboxFailure(record)) return record;
  }
}

function runOnce(command: readonly string[], options: RunOptions): Promise<RunRecord> {
  return new Promise((resolve) => {
    const started = performance.now();
    const output = { stdout: [] as Buffer[], stderr: [] as Buffer[], bytes: 0 };
    const arrivals: { bytes: number; ms: number }[] = [];
    let cause: RunEnd | null = null;
    let peakMb = 0;
    let child: ChildProcess;
    const end = (why: RunEnd) => {
      cause ??= why;
      killGroup(child);
    };
    const finish = (last: RunEnd) => {
      clearTimeout(timer);
      clearInterval(watch);
      options.signal?.removeEventListener("abort", stop);
      // Programs left running in its group must not outlive it.
      killGroup(child);
      const { stdout, stderr } = output;
      const ms = performance.now() - started;
      const texts = { stdout: Buffer.concat(stdout), stderr: Buffer.concat(stderr) };
      resolve({ end: cause ?? last, ...texts, arrivals, ms, peakMb });
    };
    const stop = () => end({ kind: "stopped" });
    child = startGroup(command, {
      cwd: options.cwd,
      env: options.env,
      stdio: ["pipe", "pipe", "pipe"],
      ...(options.writable ? { writable: options.writable } : {}),
      ...(options.network ? { network: true } : {}),
      ...(options.isOwn ? { isOwn: true } : {}),
      ...(options.mark ? { mark: options.mark } : {}),
    });
    const timer = setTimeout(() => end({ kind: "timed-out" }), options.limits.timeMs);
    const watch = setInterval(() => {
      const { memoryMb = Number.POSITIVE_INFINITY, processes = Number.POSITIVE_INFINITY } = options.limits;
      const use = measureGroup(child, options.mark);
      peakMb = Math.max(peakMb, use.memoryMb);
      if (peakMb > memoryMb) end({ kind: "over-limit", what: `more than ${memoryMb} MB of memory` });
      if (use.processes > processes + SANDBOX_PROCESSES)
        end({ kind: "over-limit", what: `more than ${processes} processes` });
    }, LOOK_EVERY_MS);
    options.signal?.addEventListener("abort", stop, { once: true });
    for (const name of ["stdout", "stderr"] as const) {
      child[name]?.on("data", (chunk: Buffer) => {
        output.bytes += chunk.length;
        if (output.bytes > options.limits.outputKb * 1024) {
          end({ kind: "over-limit", what: `more than ${options.limits.outputKb} KB of output` });
          return;
        }
        output[name].push(chunk);
        if (name === "stdout") {
          const before = arrivals.at(-1)?.bytes ?? 0;
          arrivals.push({ bytes: before + chunk.length, ms: performance.now() - started });
        }
      });
    }
    // A program that ends without reading its input closes the pipe; that is its right.
    child.stdin?.on("error", () => undefined);
    child.stdin?.end(options.stdin ?? "");
    child.once("error", (error) => finish({ kind: "failed-to-start", what: error.message }));
    child.once("exit", () => {
      // Children that inherited the pipes would hold "close" back for ever.
      setTimeout(() => {
        child.stdout?.destroy();
        child.stderr?.destroy();
      }, 500).unref();
      killGroup(child);
    });
    child.once("close", (code, signal) => finish(endOf(code, signal, options.writable !== undefined)));
    if (options.signal?.aborted) stop();
  });
}

/** A program that a signal ended within the sandbox comes out of it as a status above 128, as from a shell. */
function endOf(code: number | null, signal: string | null, isPorted: boolean): RunEnd {
  if (code === null) return { kind: "signalled", signal: signal ?? "unknown" };
  const within = isPorted && findSandbox() !== null ? FATAL.get(code - 128) : undefined;
  return within ? { kind: "signalled", signal: within } : { kind: "exited", code };
}

const FATAL = new Map(
  (["SIGILL", "SIGABRT", "SIGBUS", "SIGFPE", "SIGKILL", "SIGSEGV"] as const).map((name) => [
    constants.signals[name],
    name,
  ]),
);

/** The same words for a driver's end. */
export const describeExit = (code: number | null, signal: string | null): string =>
  describeEnd(endOf(code, signal, true));

/** How a run ended, in words. */
export function describeEnd(end: RunEnd): string {
  switch (end.kind) {
    case "exited":
      return `it ended with status ${end.code}`;
    case "signalled":
      return `it was ended by ${end.signal}`;
    case "timed-out":
      return "it took longer than its time limit";
    case "over-limit":
      return `it went over a limit: ${end.what}`;
    case "failed-to-start":
      return `it could not be started: ${end.what}`;
    case "stopped":
      return "it was stopped";
  }
}
