/** Keeps tools running between two runs of a check, each in the sandbox, and asks them instead of starting them again. */
import { z } from "zod";
import { DriverProcess } from "@/engine/bridge/driver-process";
import { mypy } from "@/engine/warm/mypy";
import { typescript } from "@/engine/warm/typescript";
import type { WarmTool } from "@/engine/warm/warm-tool";

/** All tools that can be kept. */
export const WARM_TOOLS: readonly WarmTool[] = [typescript, mypy];

const MAX_KEPT = 4;
const MAX_IDLE_MS = 10 * 60_000;
const MAX_MEMORY_MB = 2500;

const reply = z.union([
  z.object({ text: z.string(), exit: z.number() }),
  z.object({ unfit: z.string() }).transform(() => null),
]);

/** Output, exit status and duration in milliseconds. */
export type WarmAnswer = { readonly text: string; readonly exit: number; readonly ms: number };

type Question = { readonly folder: string; readonly env: NodeJS.ProcessEnv; readonly signal?: AbortSignal | undefined };

class KeptTool {
  private readonly process: DriverProcess;
  private waiting: ((line: string | null) => void) | null = null;
  private turn: Promise<unknown> = Promise.resolve();
  isOver = false;
  usedAt = Date.now();

  constructor(server: readonly string[], { folder, env }: Question) {
    this.process = new DriverProcess(
      server,
      { cwd: folder, env, scratch: null },
      {
        onReply: (line) => this.reply(line),
        onEnd: () => {
          this.isOver = true;
          this.reply(null);
        },
      },
    );
  }

  /** One question after another; null where the tool ended, or was stopped. */
  ask(args: readonly string[], signal: AbortSignal | undefined): Promise<string | null> {
    const answer = this.turn.then(() => this.askNow(args, signal));
    this.turn = answer;
    return answer;
  }

  private askNow(args: readonly string[], signal: AbortSignal | undefined): Promise<string | null> {
    if (this.isOver || signal?.aborted) return Promise.resolve(null);
    return new Promise((resolve) => {
      const stop = () => this.process.kill();
      signal?.addEventListener("abort", stop, { once: true });
      this.waiting = (line) => {
        signal?.removeEventListener("abort", stop);
        this.usedAt = Date.now();
        resolve(line);
      };
      this.process.send(JSON.stringify({ args }));
    });
  }

  private reply(line: string | null): void {
    const waiting = this.waiting;
    this.waiting = null;
    waiting?.(line);
  }

  get isTooLarge(): boolean {
    return !this.isOver && this.process.use().memoryMb > MAX_MEMORY_MB;
  }

  stop(): void {
    this.process.stop();
  }
}

/** The tools of one server; `close` ends them. */
export class WarmTools {
  /** The least recently used first. */
  private readonly kept = new Map<string, KeptTool>();
  private readonly timer = setInterval(() => this.endIdle(), 30_000).unref();

  /**
   * Returns what a command would print, or null where no kept tool can tell: the command has to be run. `command` is as
   * it would be started, its program an absolute path.
   */
  async ask(command: readonly string[], question: Question): Promise<WarmAnswer | null> {
    for (const tool of WARM_TOOLS) {
      const start = tool.start(command);
      if (!start) continue;
      const from = performance.now();
      const key = JSON.stringify([start.server, question.folder]);
      const kept = this.take(key, start.server, question);
      const { data } = reply.safeParse(toJson(await kept.ask(start.args, question.signal)));
      if (kept.isOver || kept.isTooLarge) this.end(key, kept);
      return data ? { ...data, ms: performance.now() - from } : null;
    }
    return null;
  }

  private take(key: string, server: readonly string[], question: Question): KeptTool {
    const known = this.kept.get(key);
    this.kept.delete(key);
    const kept = known && !known.isOver ? known : new KeptTool(server, question);
    this.kept.set(key, kept);
    const [oldest] = this.kept;
    if (this.kept.size > MAX_KEPT && oldest) this.end(...oldest);
    return kept;
  }

  private end(key: string, kept: KeptTool): void {
    if (this.kept.get(key) === kept) this.kept.delete(key);
    kept.stop();
  }

  private endIdle(): void {
    for (const [key, kept] of this.kept) if (Date.now() - kept.usedAt > MAX_IDLE_MS) this.end(key, kept);
  }

  close(): void {
    clearInterval(this.timer);
    for (const kept of this.kept.values()) kept.stop();
    this.kept.clear();
  }
}

function toJson(line: string | null): unknown {
  try {
    return line === null ? null : JSON.parse(line);
  } catch {
    return null;
  }
}
