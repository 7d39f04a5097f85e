/**
 * The live drivers of one side, working through a queue of requests, pipelined.
 *
 * A driver answers in order and writes replies together as long as requests are at hand. When one dies, hangs or goes
 * over a limit, the requests it had not answered are sent again to a new process with `alone`: then each reply leaves
 * before the next request is begun, so the first without a reply is the one to blame. It is tried once more (a leftover
 * of an earlier case may have been the cause); dying again makes it broken. Every other request still gets its answer.
 * A line that does not carry the seal of the reply that is due was written by ported code: that driver is ended as well.
 */
import { z } from "zod";
import type { Broken } from "@/core/compare/answer";
import type { Limits } from "@/core/formats/port-file";
import { DriverProcess } from "@/engine/bridge/driver-process";
import { parseRecord, type Read, readLine } from "@/engine/bridge/replies";
import { Seal } from "@/engine/bridge/seal";
import type { Lines } from "@/engine/drivers/driver";
import { afterPause } from "@/engine/pace";
import type { TreeUse } from "@/engine/process/tree";

/** A request as the protocol has it, without its id. */
export type BridgeRequest = { readonly [key: string]: unknown };

/** How the drivers of a side are started, and their limits. */
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

/** The result of a request, with the facts of its operation. */
export type PoolAnswer = Read;

/** One request of the queue. `kept` requests of one `lane` run in one process, in order. */
export type Queued = {
  readonly request: BridgeRequest;
  readonly done: (answer: PoolAnswer) => void;
  /** The owner that peak memory is attributed to, such as the module. */
  readonly group?: string;
  tries: number;
  /** Its reply leaves the driver before anything else is begun. */
  alone?: boolean;
  /** How often a driver asked to be replaced instead of answering. */
  restarts?: number;
};

const helloReply = z.object({ version: z.string() });

const WINDOW = 2048;
const GREETING = -1;
const MAX_RESTARTS = 5;
const MAX_SHOWN_LINE = 200;
const LOOK_EVERY_MS = 20;
/** The driver itself, and the sandbox's own. */
const SANDBOX_PROCESSES = 3;

/** The drivers of one side, fed from one bounded queue. */
export class Pool {
  /** Group → the most memory in megabytes that a driver was seen to hold while it ran one of the group. */
  readonly peakMb = new Map<string, number>();
  private readonly lanes: Lane[] = [];
  private readonly sources: Iterator<Queued | null>[] = [];
  private idle: (() => void)[] = [];
  private isStopped = false;
  /** Goes with the greeting of each process that is started from now on. */
  private greeting: BridgeRequest = {};

  constructor(readonly options: PoolOptions) {
    for (let job = 0; job < options.jobs; job++) this.lanes.push(new Lane(this, options.scratch?.[job] ?? null));
    options.signal?.addEventListener("abort", () => this.stop(), { once: true });
  }

  /**
   * Adds requests; each `done` is called exactly once unless the pool is stopped first. They are taken one by one as the
   * drivers get to them: a hundred thousand are never held at once. A null among them is a place to give way.
   */
  add(requests: Iterable<Queued | null>): void {
    this.sources.push(requests[Symbol.iterator]());
    for (const lane of this.lanes) lane.fill();
    this.settled();
  }

  /** Loads texts in place of files of the side, also in processes that are started later. */
  replaceTexts(texts: { readonly [file: string]: string }): void {
    this.greeting = { texts };
    this.add([{ request: { op: "reset", files: [], texts }, tries: 0, done: () => undefined }]);
  }

  get hello(): BridgeRequest {
    return { ...this.options.hello, ...this.greeting };
  }

  /** Resolves when everything that was added has been answered. */
  drained(): Promise<void> {
    if (this.isIdle()) return Promise.resolve();
    return new Promise((resolve) => this.idle.push(resolve));
  }

  take(): Queued | undefined {
    for (let source = this.sources[0]; source; source = this.sources[0]) {
      const { value, done } = source.next();
      if (!done && value === null) {
        afterPause(() => this.refill());
        return undefined;
      }
      if (!done && value) return value;
      this.sources.shift();
    }
    return undefined;
  }

  private refill(): void {
    if (this.isStopped) return;
    for (const lane of this.lanes) lane.fill();
    this.settled();
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
  private seal = new Seal();
  /** Why nothing more of what the driver writes is read, until it has ended. */
  private discarded: { readonly kind: "restart" } | { readonly kind: "forged"; readonly what: string } | null = null;
  private watch: NodeJS.Timeout | null = null;
  private sequence = 0;
  private ready = false;
  private stopped = false;
  /** Line sets by the numbers that the driver uses for them. */
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
      const id = this.sequence++;
      const terms = item.alone ? `{"id":${id},"alone":true,` : `{"id":${id},`;
      this.started().send(terms + JSON.stringify(item.request).slice(1));
    }
  }

  private started(): DriverProcess {
    this.watch ??= setInterval(() => this.look(), LOOK_EVERY_MS);
    if (this.driver) return this.driver;
    const { options, hello } = this.pool;
    const { command, cwd, env } = options;
    this.ready = false;
    this.paths = new Map();
    this.seal = new Seal();
    const driver: DriverProcess = new DriverProcess(
      command,
      { cwd: this.scratch ?? cwd, env, scratch: this.scratch },
      {
        onReply: (line) => {
          if (this.driver === driver && !this.discarded) this.read(line);
        },
        onEnd: (how) => this.ended(driver, how),
      },
    );
    this.driver = driver;
    driver.send(
      JSON.stringify({ id: GREETING, op: "hello", secret: this.seal.secret, scratch: this.scratch, ...hello }),
    );
    return driver;
  }

  private read(line: string): void {
    if (!this.ready) return this.greet(line);
    // The requests without a reply are the last that were sent.
    const end = this.outstanding.length === 0 ? -1 : this.seal.endIn(line, this.sequence - this.outstanding.length);
    const found = end === -1 ? null : readLine(line, end, this.paths);
    if (!found) return this.discard({ kind: "forged", what: describeForged(line) });
    if (found.kind === "restart") return this.restart();
    const { read } = found;
    const item = this.outstanding.shift();
    if (found.isLast) this.discard({ kind: "restart" });
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
    const end = this.seal.endIn(line, GREETING);
    const greeting = helloReply.safeParse(end === -1 ? null : parseRecord(`{${line.slice(end + 1)}`));
    if (!greeting.success) return this.discard({ kind: "forged", what: describeForged(line) });
    this.ready = true;
    this.headSince = performance.now();
    this.pool.options.onVersion?.(greeting.data.version);
  }

  /** Reads nothing more of this driver, and ends it. */
  private discard(why: NonNullable<Lane["discarded"]>): void {
    this.discarded = why;
    this.driver?.kill();
  }

  /** The head was not run: it and all after it go to a new process, each by itself, so that it is known which one changes what. */
  private restart(): void {
    const [head] = this.outstanding;
    if (head) {
      head.restarts = (head.restarts ?? 0) + 1;
      if (head.restarts > MAX_RESTARTS) {
        this.outstanding.shift();
        const what = "it changes the language's built-ins again and again, so that no process can answer it";
        head.done({ result: { kind: "broken", why: "crashed", what, lastOutput: "" }, ms: null });
      }
    }
    for (const item of this.outstanding) item.alone = true;
    this.discard({ kind: "restart" });
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
    const now = this.driver?.use() ?? { processes: 0, memoryMb: 0, pids: [] };
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
    const { discarded } = this;
    this.driver = null;
    this.discarded = null;
    this.pause();
    const certain = discarded?.kind !== "restart" && (this.outstanding[0]?.alone ?? false);
    const head = certain ? this.outstanding.shift() : undefined;
    if (discarded?.kind !== "restart") for (const item of this.outstanding) item.alone = true;
    this.retry = [...this.outstanding.splice(0), ...this.retry];
    if (head) this.judge(head, { how: discarded?.kind === "forged" ? discarded.what : how, lastOutput });
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

const describeForged = (line: string): string =>
  `something other than the driver wrote to its pipe of replies: ${JSON.stringify(line.slice(0, MAX_SHOWN_LINE))}`;
