/**
 * Answers of one side: from the cache if nothing that determines them has changed, otherwise from the side's drivers,
 * which start on demand.
 */
import { createHash } from "node:crypto";
import path from "node:path";
import { hasCallback, type Order } from "@/core/cases/hand-over";
import { isRunCase, type SharedCase } from "@/core/formats/case-line";
import type { PortModule } from "@/core/pairing/modules";
import { KeptAnswers } from "@/engine/answers/kept-answers";
import type { BridgeRequest, Pool, PoolAnswer, Queued } from "@/engine/bridge/pool";
import { DRIVERS } from "@/engine/drivers/index";
import { giveWay } from "@/engine/pace";
import { findRuntime } from "@/engine/toolchains/toolchains";
import { CodeStamps } from "@/service/check/code-stamps";
import { SideShapes } from "@/service/check/side-shapes";
import { startPool } from "@/service/check/sides";
import type { OpenPort, OpenSide } from "@/service/port/open-port";

/** Cases with cached answers compared per turn of the event loop. */
const PIECE = 500;

/** How the answers of a side are obtained. */
export type SideTerms = {
  readonly open: OpenPort;
  readonly side: OpenSide;
  /** `original`, or the twin's name. */
  readonly name: string;
  readonly jobs: number;
  readonly signal?: AbortSignal;
  /** The answer cache; null disables it. */
  readonly answersFolder: string | null;
  /** Names a check that may be resumed: its answers are stored regardless of side effects. */
  readonly resume: string | null;
  /** True: ignores cached answers and replaces them. */
  readonly fresh: boolean;
  /** Whether each answer reports the lines it ran. */
  readonly lines: boolean;
  /** Milliseconds after which a driver that can stops a case by itself, without ending its process. */
  readonly limitMs?: number;
  /** Settings for the drivers on the files whose calls they observe. */
  readonly observe?: unknown;
  readonly onVersion: (version: string, program: string) => void;
};

/** Cases to answer, with their order. */
export type Feed = {
  readonly order: (item: SharedCase) => Order | null;
  readonly files: (module: PortModule) => readonly string[];
  /** `index` is the case's place among those that were fed. */
  readonly arrived: (index: number, answer: PoolAnswer, reused: boolean) => void;
};

/** The answers of one side during a check. */
export class SideAnswers {
  private pool: Pool | null = null;
  private starting: Promise<Pool> | null = null;
  private isClosed = false;
  private counting: SideAnswers | null = null;
  private stamps: CodeStamps | null = null;
  private readonly kept = new Map<string, Promise<KeptAnswers | null>>();
  private readonly opened: KeptAnswers[] = [];
  private readonly modules: ReadonlyMap<string, PortModule>;
  private shapes: SideShapes | null = null;

  constructor(readonly terms: SideTerms) {
    this.modules = new Map(terms.open.modules.map((module) => [module.name, module]));
  }

  /** Puts the cases' orders to the side; resolves when all are answered or the check was stopped. */
  async feed(cases: readonly SharedCase[], feed: Feed): Promise<void> {
    await this.readShapes(feed);
    const keptOf = await this.openForModules(cases, feed);
    const toAsk = this.requests(cases, feed, keptOf);
    // The first uncached case starts the drivers.
    let first = toAsk.next();
    while (!first.done && first.value === null && !this.terms.signal?.aborted) {
      await giveWay();
      first = toAsk.next();
    }
    if (first.done || this.terms.signal?.aborted) return;
    const pool = await this.drivers();
    pool.add(
      (function* () {
        yield first.value;
        yield* toAsk;
      })(),
    );
    await pool.drained();
  }

  private async readShapes(feed: Feed): Promise<void> {
    this.shapes ??= await SideShapes.read(this.terms.open, this.terms.side, feed.files);
  }

  /** As `feed`, each answer with the lines that it ran, however the driver reports lines; nothing is cached. */
  async feedWithLines(cases: readonly SharedCase[], feed: Feed): Promise<void> {
    const driver = DRIVERS[this.terms.side.language];
    if (driver?.lines !== "counted" || (driver.marksLines && this.terms.lines)) return this.feed(cases, feed);
    const { side, pool } = await this.alone();
    await side.readShapes(feed);
    pool.add(side.withCounts(side.requests(cases, feed, new Map())));
    await pool.drained();
  }

  /** Behind each request, one for the lines that ran since. */
  private *withCounts(requests: Iterable<Queued | null>): Generator<Queued | null, void> {
    const count = (done: Queued["done"]): Queued => ({ request: { op: "coverage", action: "since" }, tries: 0, done });
    // Lines run before the first case belong to none.
    yield count(() => undefined);
    for (const queued of requests) {
      if (!queued) {
        yield null;
        continue;
      }
      let answer: PoolAnswer = { result: { kind: "skipped", why: "stopped" }, ms: null };
      yield {
        ...queued,
        done: (given) => {
          answer = given;
        },
      };
      yield count(({ lines }) => queued.done({ result: answer.result, ms: answer.ms, ...(lines ? { lines } : {}) }));
    }
  }

  /** Cached answers for the files of each module of the cases. */
  private async openForModules(
    cases: readonly SharedCase[],
    feed: Feed,
  ): Promise<ReadonlyMap<readonly string[], KeptAnswers | null>> {
    const keptOf = new Map<readonly string[], KeptAnswers | null>();
    if (this.terms.answersFolder === null) return keptOf;
    for (const [index, item] of cases.entries()) {
      if (index % (PIECE * 10) === PIECE) await giveWay();
      const files = this.filesOf(feed.order(item)?.module, feed);
      if (files.length > 0 && !keptOf.has(files)) keptOf.set(files, await this.keptFor(files));
    }
    return keptOf;
  }

  private readonly filesOfModule = new Map<string, readonly string[]>();

  /** The same list for the same module each time. */
  private filesOf(module: string | undefined, feed: Pick<Feed, "files">): readonly string[] {
    if (module === undefined) return [];
    const known = this.filesOfModule.get(module);
    if (known) return known;
    const found = this.modules.get(module);
    const files = found ? feed.files(found) : [];
    this.filesOfModule.set(module, files);
    return files;
  }

  private *requests(
    cases: readonly SharedCase[],
    feed: Feed,
    keptOf: ReadonlyMap<readonly string[], KeptAnswers | null>,
  ): Generator<Queued | null, void> {
    let since = 0;
    for (const [index, item] of cases.entries()) {
      const order = feed.order(item);
      if (!order) continue;
      const files = this.filesOf(order.module, feed);
      if (files.length === 0) {
        const why = this.terms.name === "original" ? `the module ${order.module} has no files` : "no twin module";
        feed.arrived(index, { result: { kind: "skipped", why }, ms: null }, false);
        continue;
      }
      const filled = this.shapes?.fill(order) ?? order;
      const request = toRequest(filled, files, this.caseTerms(item), this.terms.name);
      const arrived = (answer: PoolAnswer, isReused: boolean) =>
        feed.arrived(index, this.shapes?.readBack(answer, order) ?? answer, isReused);
      const kept = request.state === "kept" ? null : (keptOf.get(files) ?? null);
      const text = kept ? JSON.stringify(request) : "";
      const known = this.terms.fresh ? undefined : kept?.get(text);
      if (kept && known && isComplete(known, this.terms.lines)) {
        this.tellVersion(kept);
        arrived(known, true);
        // Cached answers are ready at once: without a pause a hundred thousand of them would block every page.
        if (++since % PIECE === 0) yield null;
        continue;
      }
      yield {
        request,
        group: order.module,
        tries: 0,
        done: (answer) => {
          kept?.keep(text, answer);
          arrived(answer, false);
        },
      };
    }
  }

  /**
   * Sends the drivers a request that is not a case, such as the lines of a file; cached under the fingerprint of
   * `files`.
   */
  async ask(files: readonly string[], request: BridgeRequest): Promise<PoolAnswer> {
    const kept = await this.keptFor(files);
    const text = JSON.stringify(request);
    const known = kept?.get(text);
    if (known) return known;
    const pool = await this.drivers();
    const answer = await new Promise<PoolAnswer>((resolve) => {
      pool.add([{ request, tries: 0, done: resolve }]);
      pool.drained().then(() => resolve({ result: { kind: "skipped", why: "stopped" }, ms: null }));
    });
    if (!this.terms.signal?.aborted) kept?.keep(text, answer);
    return answer;
  }

  /** An answer turned out not to be the only one: it is not used again. */
  async forget(item: SharedCase, feed: Pick<Feed, "order" | "files">): Promise<void> {
    const order = isRunCase(item) ? null : feed.order(item);
    const module = order && this.modules.get(order.module);
    if (!order || !module) return;
    const files = this.filesOf(module.name, feed);
    const filled = this.shapes?.fill(order) ?? order;
    const request = toRequest(filled, files, this.caseTerms(item), this.terms.name);
    (await this.keptFor(files))?.forget(JSON.stringify(request));
  }

  /** Returns the cache of a module's files, or null if its answers may depend on more than its code. */
  keptFor(files: readonly string[]): Promise<KeptAnswers | null> {
    return this.openKept(files.join("\0"), async () => {
      this.stamps ??= new CodeStamps(this.terms.side, this.terms.open.port, await this.runtime());
      const stamp = await this.stamps.ofModule(files);
      const { resume } = this.terms;
      return stamp ?? (resume === null ? null : this.stamps.ofModuleIn(resume, files));
    });
  }

  /** The same for programs, which may read all of the side. */
  keptForRuns(command: readonly string[]): Promise<KeptAnswers | null> {
    return this.openKept("\0runs", () => new CodeStamps(this.terms.side, this.terms.open.port, command).ofSide());
  }

  private openKept(key: string, stamp: () => Promise<string | null>): Promise<KeptAnswers | null> {
    const { answersFolder, open, name } = this.terms;
    if (answersFolder === null) return Promise.resolve(null);
    const known = this.kept.get(key);
    if (known) return known;
    const opening = (async () => {
      const found = await stamp();
      if (found === null) return null;
      const place = createHash("sha256").update(`${open.file}\0${name}\0${key}`).digest("hex").slice(0, 24);
      const kept = await openWhereAllowed(path.join(answersFolder, place), found);
      if (kept) this.opened.push(kept);
      return kept;
    })();
    this.kept.set(key, opening);
    return opening;
  }

  private runtime(): Promise<readonly string[]> {
    return findRuntime(this.terms.side.language, this.terms.side.call?.runtime);
  }

  private tellVersion(kept: KeptAnswers): void {
    if (kept.version === null) return;
    const [version = "", program = ""] = kept.version.split("\0");
    this.terms.onVersion(version, program);
  }

  /** The live drivers, started at the first call. */
  drivers(): Promise<Pool> {
    this.starting ??= this.start();
    return this.starting;
  }

  private async start(): Promise<Pool> {
    const { open, side, jobs, signal, lines, observe } = this.terms;
    const pool = await startPool(open, side, {
      jobs,
      lines,
      ...(observe === undefined ? {} : { observe }),
      ...(signal ? { signal } : {}),
      onVersion: (version, program) => {
        for (const kept of this.opened) kept.setVersion(`${version}\0${program}`);
        this.terms.onVersion(version, program);
      },
    });
    this.pool = pool;
    // The check may have ended while the drivers were being made ready.
    if (this.isClosed) pool.stop();
    return pool;
  }

  /** A separate side with one process and no cache, for passes that count lines. */
  async alone(): Promise<{ readonly side: SideAnswers; readonly pool: Pool }> {
    this.counting ??= new SideAnswers({ ...this.terms, jobs: 1, answersFolder: null, lines: false });
    return { side: this.counting, pool: await this.counting.drivers() };
  }

  /** Module → the most memory, in megabytes, that a driver was seen to hold while it ran the module's cases. */
  get peakMb(): ReadonlyMap<string, number> {
    return this.pool?.peakMb ?? new Map();
  }

  private caseTerms(item: SharedCase): BridgeRequest {
    const { open, limitMs } = this.terms;
    const { port } = open;
    const [now, seed] = [item.now ?? port.now, item.seed ?? port.seed];
    const observe = isRunCase(item) ? [] : [...port.observe, ...(item.observe ?? [])];
    const allocations = !isRunCase(item) && (item.allocations ?? port.allocations);
    return {
      ...(allocations ? { allocations } : {}),
      ...(observe.length > 0 ? { observe } : {}),
      ...((item.state ?? port.state) === "kept" ? { state: "kept" } : {}),
      ...(now === undefined ? {} : { now }),
      ...(seed === undefined ? {} : { seed }),
      ...(limitMs === undefined ? {} : { limitMs }),
    };
  }

  /** Answers stored by this check are not reused by it. */
  forgetKept(): void {
    for (const kept of this.opened) kept.forgetAdded();
  }

  close(): void {
    this.isClosed = true;
    this.pool?.stop();
    this.counting?.close();
    for (const kept of this.opened) kept.flush();
  }
}

/** Keeping answers saves time and nothing else: where the folder cannot be written, a check does without. */
async function openWhereAllowed(folder: string, stamp: string): Promise<KeptAnswers | null> {
  try {
    return await KeptAnswers.open(folder, stamp);
  } catch (error) {
    if (error instanceof Error && "code" in error && typeof error.code === "string") return null;
    throw error;
  }
}

/** A cached answer without lines cannot replace one that needs them. */
const isComplete = (known: PoolAnswer, lines: boolean): boolean =>
  !lines || known.lines !== undefined || known.result.kind === "skipped";

/** On a twin callbacks are `loose`: they are left out where its functions answer by themselves. */
function toRequest(order: Order, files: readonly string[], terms: BridgeRequest, side: string): BridgeRequest {
  const style = side === "original" ? "strict" : "loose";
  if (order.kind === "steps") {
    const steps = order.steps.map((step) =>
      hasCallback({ args: step.args ?? [], kwargs: step.kwargs ?? {} }) ? { ...step, callbacks: style } : step,
    );
    return { op: "steps", files, steps, ...terms };
  }
  const { names, args, kwargs, gaps, hookup } = order;
  const named = Object.keys(kwargs).length > 0 ? { kwargs } : {};
  const where = files.length === 1 ? { file: files[0] } : { files };
  const what = names.length === 1 ? { name: names[0] } : { names };
  const callbacks = hasCallback(order) ? { callbacks: style } : {};
  return { op: "call", ...where, ...what, args, ...named, ...callbacks, ...(gaps ? { gaps, hookup } : {}), ...terms };
}
