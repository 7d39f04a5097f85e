/**
 * The live drivers of one side, working through a queue of requests, pipelined.
 *
 * A driver answers in order and writes replies together as long as requests are at hand. When one dies, hangs or goes
 * over a limit, the requests it had not answered are sent again to a new process with `alone`: then each reply leaves
 * before the next request is begun, so the first without a reply is the one to blame. It is tried once more (a leftover
 * of an earlier case may have been the cause); dying again makes it broken. Every other request still gets its answer.
 */
import { z } from "zod";
import type { Broken } from "@/core/compare/answer";
import type { Limits } from "@/core/formats/port-file";
import { DriverProcess } from "@/engine/bridge/driver-process";
import { type Lines, type Read, readLine } from "@/engine/bridge/replies";
import type { TreeUse } from "@/engine/process/tree";

export type BridgeRequest = { readonly [key: string]: unknown };

export type PoolOptions = {
  readonly command: readonly string[];
  readonly cwd: string;
  /** Copies of `cwd`, one a job, in which the drivers work and may write; without one nothing may be written there. */
  readonly scratch?: readonly string[];
  /** Called when the pool is stopped, once. */
  readonly onStop?: () => void;
  readonly env: NodeJS.ProcessEnv;
  readonly hello: BridgeRequest;
  readonly limits: Limits;
  readonly jobs: number;
  readonly signal?: AbortSignal;
  readonly onVersion?: (version: string) => void;
};

/** What became of a request, with what else its operation tells. */
export type PoolAnswer = Read;

/** One request of the queue. `kept` requests of one `lane` go to one process, in order. */
export type Queued = {
  readonly request: BridgeRequest;
  readonly done: (answer: PoolAnswer) => void;
  /** What the memory seen while it runs is counted for, such as the module. */
  readonly group?: string;
  tries: number;
  /** Its reply leaves the driver before anything else is begun. */
  alone?: boolean;
};

const helloReply = z.object({ version: z.string() });

const WINDOW = 2048;
const LOOK_EVERY_MS = 20;
/** The driver itself, and the sandbox's own. */
const SANDBOX_PROCESSES = 3;

export class Pool {
  /** Group → the most memory in megabytes that a driver was seen to hold while it ran one of the group. */
  readonly peakMb = new Map<string, number>();
  private readonly lanes: Lane[] = [];
  private readonly sources: Iterator<Queued>[] = [];
  private idle: (() => void)[] = [];
  private isStopped = false;

  constructor(readonly options: PoolOptions) {
    for (let job = 0; job < options.jobs; job++) this.lanes.push(new Lane(this, options.scratch?.[job] ?? null));
    options.signal?.addEventListener("abort", () => this.stop(), { once: true });
  }

  /**
   * Adds requests; each `done` is called exactly once unless the pool is stopped first. They are taken one by one as the
   * drivers get to them: a hundred thousand are never held at once.
   */
  add(requests: Iterable<Queued>): void {
    this.sources.push(requests[Symbol.iterator]());
    for (const lane of this.lanes) lane.fill();
    this.settled();
  }

  /** Resolves when everything that was added has been answered. */
  drained(): Promise<void> {
    if (this.isIdle()) return Promise.resolve();
    return new Promise((resolve) => this.idle.push(resolve));
  }

  take(): Queued | undefined {
    for (let source = this.sources[0]; source; source = this.sources[0]) {
      const { value, done } = source.next();
      if (!done) return value;
      this.sources.shift();
    }
    return undefined;
  }

  private isIdle(): boolean {
    return this.sources.length === 0 && this.lanes.every((lane) => lane.isIdle());
  }

  settled(): void {
    if (!this.isIdle()) return;
    for (const resolve of this.idle.splice(0)) resolve();
  }

  stop(): void {
    this.sources.length = 0;
    for (const lane of this.lanes) lane.stop();
    if (!this.isStopped) this.options.onStop?.();
    this.isStopped = true;
    for (const resolve of this.idle.splice(0)) resolve();
  }
}

class Lane {
  private driver: DriverProcess | null = null;
  private readonly outstanding: Queued[] = [];
  private retry: Queued[] = [];
  private headSince = 0;
  private verdict: Broken | null = null;
  private watch: NodeJS.Timeout | null = null;
  private sequence = 0;
  private ready = false;
  private stopped = false;
  /** What the driver's numbers of sets of lines stand for. */
  private paths = new Map<number, Lines>();

  constructor(
    private readonly pool: Pool,
    private readonly scratch: string | null,
  ) {}

  isIdle(): boolean {
    return this.outstanding.length === 0 && this.retry.length === 0;
  }

  fill(): void {
    if (this.stopped) return;
    for (;;) {
      // After a death the suspect runs alone, so that its guilt is certain.
      const suspect = this.outstanding[0]?.tries || (this.retry[0]?.tries && this.outstanding.length > 0);
      if (suspect || this.outstanding.length >= WINDOW) return;
      const item = this.retry.shift() ?? this.pool.take();
      if (!item) return;
      if (this.outstanding.length === 0) this.headSince = performance.now();
      this.outstanding.push(item);
      const terms = item.alone ? `{"id":${this.sequence++},"alone":true,` : `{"id":${this.sequence++},`;
      this.started().send(terms + JSON.stringify(item.request).slice(1));
    }
  }

  private started(): DriverProcess {
    if (this.driver) return this.driver;
    const { command, cwd, env, hello } = this.pool.options;
    this.ready = false;
    this.paths = new Map();
    const driver: DriverProcess = new DriverProcess(
      command,
      { cwd: this.scratch ?? cwd, env, scratch: this.scratch },
      {
        onReply: (line) => this.read(line),
        onEnd: (how) => this.ended(driver, how),
      },
    );
    this.driver = driver;
    driver.send(JSON.stringify({ id: -1, op: "hello", scratch: this.scratch, ...hello }));
    this.watch ??= setInterval(() => this.look(), LOOK_EVERY_MS);
    return driver;
  }

  private read(line: string): void {
    if (!this.ready) return this.greet(line);
    const { read } = readLine(line, this.paths);
    const item = this.outstanding.shift();
    this.headSince = performance.now();
    // However short its cases are, each group is looked at once.
    if (item?.group !== undefined && !this.pool.peakMb.has(item.group)) this.notePeak(item.group);
    item?.done(read);
    if (this.outstanding.length < WINDOW / 2) this.fill();
    this.pause();
    if (this.isIdle()) this.pool.settled();
  }

  /** The driver's first line: it is there. */
  private greet(line: string): void {
    const { version } = helloReply.parse(JSON.parse(line));
    this.ready = true;
    this.headSince = performance.now();
    this.pool.options.onVersion?.(version);
  }

  /** Ends the watch when nothing runs, so that an idle driver costs nothing and keeps no process alive. */
  private pause(): void {
    if (this.outstanding.length > 0 || !this.watch) return;
    clearInterval(this.watch);
    this.watch = null;
  }

  private look(): void {
    const { driver } = this;
    if (!driver || this.outstanding.length === 0) return;
    const { timeMs, memoryMb, outputKb, processes } = this.pool.options.limits;
    const use = this.notePeak(this.outstanding[0]?.group ?? "");
    // Starting an interpreter is not the case's time, but a driver that never starts must end too.
    if (performance.now() - this.headSince > (this.ready ? timeMs : timeMs + 20_000)) {
      this.condemn("timed-out", `it took longer than ${timeMs} ms`);
    } else if (driver.printedBytes() > outputKb * 1024) {
      this.condemn("over-limit", `it printed more than ${outputKb} KB`);
    } else if (use.memoryMb > memoryMb) {
      this.condemn("over-limit", `it used more than ${memoryMb} MB of memory`);
    } else if (use.processes > processes + SANDBOX_PROCESSES) {
      this.condemn("over-limit", `it started more than ${processes} processes`);
    }
  }

  private notePeak(group: string): TreeUse {
    const now = this.driver?.use() ?? { processes: 0, memoryMb: 0 };
    this.pool.peakMb.set(group, Math.max(now.memoryMb, this.pool.peakMb.get(group) ?? 0));
    return now;
  }

  private condemn(why: Broken["why"], what: string): void {
    if (this.verdict || !this.driver) return;
    // Which of those without a reply it was is only certain when they run alone.
    if (!this.outstanding[0]?.alone) return this.driver.kill();
    this.verdict = { kind: "broken", why, what, lastOutput: this.driver.lastOutput() };
    this.driver.kill();
  }

  private ended(driver: DriverProcess, how: string): void {
    if (this.driver !== driver) return;
    const lastOutput = driver.lastOutput();
    this.driver = null;
    this.pause();
    const certain = this.outstanding[0]?.alone ?? false;
    const head = certain ? this.outstanding.shift() : undefined;
    for (const item of this.outstanding) item.alone = true;
    this.retry = [...this.outstanding.splice(0), ...this.retry];
    if (head) this.judge(head, { how, lastOutput });
    this.verdict = null;
    this.fill();
    if (this.isIdle()) this.pool.settled();
  }

  private judge(head: Queued, death: { how: string; lastOutput: string }): void {
    const heap = /heap out of memory|MemoryError/.test(death.lastOutput);
    if (this.verdict) head.done({ result: this.verdict, ms: null });
    else if (head.tries > 0 || heap) {
      const why = heap ? "over-limit" : "crashed";
      head.done({
        result: { kind: "broken", why, what: heap ? "it ran out of memory" : death.how, lastOutput: death.lastOutput },
        ms: null,
      });
    } else {
      head.tries++;
      this.retry.unshift(head);
    }
  }

  stop(): void {
    this.stopped = true;
    this.outstanding.length = 0;
    this.retry = [];
    this.pause();
    this.driver?.stop();
    this.driver = null;
  }
}
